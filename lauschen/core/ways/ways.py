"""All ways in together: what a network may offer, and what a guest may."""

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from lauschen.core.ways.click_through import Agreement, ClickThrough
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.person import NameAndPassword
from lauschen.core.ways.voucher import Code, Voucher

Way = Voucher | ClickThrough
"""One that a network offers, with its settings there."""
Offer = Code | Agreement
"""What may lead to a credential."""
Asked = Offer | NameAndPassword
"""What an arrival brings along."""

_KINDS: Mapping[WayIn, type[Way]] = {kind.way: kind for kind in (Voucher, ClickThrough)}


def way_of(asked: Asked | None) -> WayIn | None:
    """By which way somebody asks, if that is known yet."""
    return None if asked is None or isinstance(asked, NameAndPassword) else asked.way


def read_way(kind: str, settings: Mapping[str, Any]) -> Way:
    """A way from its stored settings."""
    return _KINDS[WayIn(kind)](**settings)


def write_way(way: Way) -> dict[str, Any]:
    """Its settings, to be stored."""
    return asdict(way)
