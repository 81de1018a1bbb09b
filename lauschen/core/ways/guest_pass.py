"""Guest pass: for a named person, until a moment, on so many devices; its code was proposed or chosen."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.decide.reason import Reason
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import AtDoor, Finder, Lead
from lauschen.core.ways.offering import Offering
from lauschen.core.ways.offers.code import Code

CHOSEN = "chosen"


@dataclass(frozen=True, slots=True)
class GuestPass(Offering):
    """Its settings on a network: none so far."""

    way: ClassVar[WayIn] = WayIn.GUEST_PASS
    plan: ClassVar[None] = None
    takes_words: ClassVar[bool] = True
    """A chosen code may be anything."""

    def leads(self, offer: object, at: AtDoor) -> Iterable[Lead | Reason]:
        """By the code that was proposed, or by the words that were chosen."""
        if not isinstance(offer, Code):
            return
        if offer.signs is not None:
            yield Lead(Finder("code", offer.signs))
        if offer.words:
            yield Lead(Finder(CHOSEN, offer.words))
