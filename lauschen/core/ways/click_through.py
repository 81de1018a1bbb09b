"""Click-through: the guest agrees to the house rules and is in. Each device has an allowance of its own."""

from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.decide.reason import Reason
from lauschen.core.ids import Mac, NetworkId, PlanId
from lauschen.core.limits.use import Use
from lauschen.core.ways.finder import Finder
from lauschen.core.ways.kinds import WayIn

HOUR_S = 3600


@dataclass(frozen=True, slots=True)
class ClickThrough:
    """Its settings on a network."""

    plan: PlanId
    again_after_hours: int | None = None
    """From the first use: a device may then agree again and begins anew. None: what is used up stays so."""
    way: ClassVar[WayIn] = WayIn.CLICK_THROUGH
    counts_per_device: ClassVar[bool] = True

    def begins_anew(self, use: Use, now: float) -> bool:
        """Whether a device that agreed before gets a new allowance now."""
        if self.again_after_hours is None or use.first_used is None:
            return False
        return now >= use.first_used + self.again_after_hours * HOUR_S


@dataclass(frozen=True, slots=True)
class Agreement:
    """What a guest offers: that the house rules were agreed to, in this version and language."""

    network: NetworkId
    rules: int
    lang: str
    way: ClassVar[WayIn] = WayIn.CLICK_THROUGH
    missing: ClassVar[Reason] = Reason.NOT_OFFERED
    says_who: ClassVar[bool] = False
    """Anybody can agree: it gives nobody the rights of who agreed before."""

    def finder(self, mac: Mac) -> Finder:
        return Finder("agreed", f"{self.network} {mac}")

    def fault(self, rules: int) -> Reason | None:
        """Only the text that is in force can be agreed to."""
        return None if self.rules == rules else Reason.RULES_CHANGED

    def record(self) -> dict[str, str | int]:
        """What an admission by it keeps."""
        return {"rules": self.rules, "lang": self.lang}
