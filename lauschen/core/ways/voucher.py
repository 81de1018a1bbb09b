"""Voucher: a code that the desk hands out. Its plan, and how many devices may use it, are the voucher's own."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.decide.reason import Reason
from lauschen.core.limits.use import Use
from lauschen.core.ways.code import Code
from lauschen.core.ways.finder import Finder
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import AtDoor, Lead
from lauschen.core.ways.offering import Offering


@dataclass(frozen=True, slots=True)
class Voucher(Offering):
    """Its settings on a network: none so far."""

    way: ClassVar[WayIn] = WayIn.VOUCHER
    counts_per_device: ClassVar[bool] = False
    """All devices of one voucher share what it gives."""
    plan: ClassVar[None] = None
    """Nothing is issued at the door."""
    takes_words: ClassVar[bool] = False

    def leads(self, offer: object, at: AtDoor) -> Iterable[Lead | Reason]:
        """By the code that was issued."""
        if isinstance(offer, Code) and offer.signs is not None:
            yield Lead(Finder("code", offer.signs))

    def begins_anew(self, use: Use, now: float) -> bool:
        """Never: what is used up stays so."""
        return False
