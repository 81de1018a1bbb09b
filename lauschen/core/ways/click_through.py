"""Click-through: the guest agrees to the house rules and is in. Each device has an allowance of its own."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.decide.reason import Reason
from lauschen.core.ids import Mac, NetworkId, PlanId
from lauschen.core.limits.use import Use
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import AtDoor, Finder, Lead
from lauschen.core.ways.offering import Offering

HOUR_S = 3600
LONGEST_MAIL = 254
_ATOM = r"[^\s@.,;:<>()\[\]\\\"\x00-\x20]+"
_MAIL = re.compile(rf"{_ATOM}(\.{_ATOM})*@{_ATOM}(\.{_ATOM})+")


@dataclass(frozen=True, slots=True)
class ClickThrough(Offering):
    """Its settings on a network."""

    plan: PlanId
    again_after_hours: int | None = None
    """From the first use: a device may then agree again and begins anew. None: what is used up stays so."""
    asks_when_changed: bool = True
    """A device that comes back is asked again once the house rules were written anew."""
    asks_name: bool = False
    asks_mail: bool = False
    """What guests say of themselves is kept, confirmed by nobody, and marked so."""
    shows_whole: bool = False
    """The button stands below the whole text, so that whoever agrees came past its end."""
    way: ClassVar[WayIn] = WayIn.CLICK_THROUGH
    counts_per_device: ClassVar[bool] = True

    def leads(self, offer: object, at: AtDoor) -> Iterable[Lead | Reason]:
        """Only by the text that is in force; each device has its own."""
        if isinstance(offer, Agreement):
            if (self.asks_name and not offer.name) or (self.asks_mail and not offer.mail):
                yield Reason.DETAILS_MISSING
                return
            is_in_force = offer.rules == at.rules
            yield Lead(agreed(at.network, at.mac), self.plan) if is_in_force else Reason.RULES_CHANGED

    def is_forgotten(self, begun: float, rules: int | None, at: AtDoor) -> bool:
        is_changed = self.asks_when_changed and rules is not None and rules != at.rules
        return is_changed or Offering.is_forgotten(self, begun, rules, at)

    def begins_anew(self, use: Use, now: float) -> bool:
        """Whether a device that agreed before gets a new allowance now."""
        if self.again_after_hours is None or use.first_used is None:
            return False
        return now >= use.first_used + self.again_after_hours * HOUR_S


@dataclass(frozen=True, slots=True)
class Agreement:
    """What a guest offers: that the house rules were agreed to, in this version and language."""

    rules: int
    lang: str
    name: str = ""
    mail: str = ""
    """As the guest said; whether it is theirs nobody knows."""
    kind: ClassVar[str] = "agreement"
    missing: ClassVar[Reason] = Reason.NOT_OFFERED
    says_who: ClassVar[bool] = False
    is_typed: ClassVar[bool] = True
    """Anybody can agree: it gives nobody the rights of who agreed before."""

    def record(self) -> dict[str, str | int]:
        """What an admission by it keeps."""
        kept: dict[str, str | int] = {"rules": self.rules, "lang": self.lang}
        for what, text in (("name", self.name), ("mail", self.mail)):
            if text:
                kept[what] = text
        return kept


def read_mail(text: str) -> str:
    """An address as it was typed, if it has the form of one (RFC 5321 section 4.1.2, dot-strings); else empty."""
    return text if len(text) <= LONGEST_MAIL and _MAIL.fullmatch(text) else ""


def agreed(network: NetworkId, mac: Mac) -> Finder:
    """By what a device is found that agreed on this network."""
    return Finder("agreed", f"{network} {mac}")
