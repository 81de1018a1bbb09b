"""Which part of the page belongs to which way in."""

from collections.abc import Mapping
from typing import Protocol

from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.ways import Offer, Way
from lauschen.core.words.codes import Slip
from lauschen.portal.facts import Facts
from lauschen.portal.page import Part
from lauschen.portal.ways.click_through import ClickThroughOnPage
from lauschen.portal.ways.voucher import VoucherOnPage


class OnPage(Protocol):
    """What a way in does at the page."""

    def show(self, facts: Facts, way: Way, lang: str) -> Part | None:
        """Its part; None when it could not work now."""

    def read(self, unverified_form: Mapping[str, str], facts: Facts, lang: str) -> Offer | Slip:
        """What its form offers; a slip of the finger is no offer."""


WAYS: Mapping[WayIn, OnPage] = {
    WayIn.VOUCHER: VoucherOnPage(),
    WayIn.CLICK_THROUGH: ClickThroughOnPage(),
}


def parts_of(facts: Facts, lang: str) -> list[Part]:
    """The parts of all ways that the network offers and that can work now, in its order."""
    shown = [WAYS[way.way].show(facts, way, lang) for way in facts.network.ways]
    return [part for part in shown if part is not None]
