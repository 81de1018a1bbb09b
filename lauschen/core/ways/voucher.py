"""Voucher: a code that the desk hands out. Its plan, and how many devices may use it, are the voucher's own."""

from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.decide.reason import Reason
from lauschen.core.ids import Mac
from lauschen.core.limits.use import Use
from lauschen.core.ways.finder import Finder
from lauschen.core.ways.kinds import WayIn


@dataclass(frozen=True, slots=True)
class Voucher:
    """Its settings on a network: none so far."""

    way: ClassVar[WayIn] = WayIn.VOUCHER
    counts_per_device: ClassVar[bool] = False
    """All devices of one voucher share what it gives."""
    plan: ClassVar[None] = None
    """Nothing is issued at the door."""

    def begins_anew(self, use: Use, now: float) -> bool:
        """Never: what is used up stays so."""
        return False


@dataclass(frozen=True, slots=True)
class Code:
    """What a guest offers: a code whose check holds."""

    signs: str
    way: ClassVar[WayIn] = WayIn.VOUCHER
    missing: ClassVar[Reason] = Reason.CODE_UNKNOWN
    says_who: ClassVar[bool] = True
    """Only somebody who was given the code can offer it."""

    def finder(self, mac: Mac) -> Finder:
        return Finder("code", self.signs)

    def fault(self, rules: int) -> Reason | None:
        """The house rules have no part in it."""
        return None

    def record(self) -> dict[str, str | int]:
        """What an admission by it keeps: nothing more than its credential."""
        return {}
