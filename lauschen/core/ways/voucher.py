"""Voucher: a code that the desk hands out. Its plan, and how many devices may use it, are the voucher's own."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.decide.reason import Reason
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import AtDoor, Finder, Lead
from lauschen.core.ways.offering import Offering
from lauschen.core.ways.offers.code import Code


@dataclass(frozen=True, slots=True)
class Voucher(Offering):
    """Its settings on a network: none so far."""

    way: ClassVar[WayIn] = WayIn.VOUCHER
    plan: ClassVar[None] = None
    """Nothing is issued at the door."""

    def leads(self, offer: object, at: AtDoor) -> Iterable[Lead | Reason]:
        """By the code that was issued."""
        if isinstance(offer, Code) and offer.signs is not None:
            yield Lead(Finder("code", offer.signs))
