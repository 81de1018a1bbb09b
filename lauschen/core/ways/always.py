"""Always: trusted devices, wired ports and access devices of the house, which are never asked for anything."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.decide.reason import Reason
from lauschen.core.ids import AccessDeviceId, Mac, PlanId, RoleId, TrustedId
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import AtDoor, Finder, Lead
from lauschen.core.ways.offering import Offering


@dataclass(frozen=True, slots=True)
class Trusted:
    """One of them: a device by its MAC address; else a port of one access device, or all of it."""

    id: TrustedId
    name: str
    role: RoleId | None
    """None: as the rules say."""
    mac: Mac | None = None
    access_device: AccessDeviceId | None = None
    port: str | None = None
    """NAS-Port-Id, whole."""


@dataclass(frozen=True, slots=True)
class Always(Offering):
    """Its settings on a network."""

    plan: PlanId
    way: ClassVar[WayIn] = WayIn.ALWAYS
    counts_per_device: ClassVar[bool] = True

    def leads(self, offer: object, at: AtDoor) -> Iterable[Lead | Reason]:
        """By being trusted; each device has an allowance of its own."""
        if isinstance(offer, Known):
            finder = Finder("always", f"{at.network} {at.mac} {offer.trusted.id}")
            yield Lead(finder, self.plan, role=offer.trusted.role, trusted=offer.trusted.id)

    def is_forgotten(self, begun: float, rules: int | None, at: AtDoor) -> bool:
        """Never: it would only offer itself again."""
        return False


@dataclass(frozen=True, slots=True)
class Known:
    """What a trusted device offers without doing anything: that it is known."""

    trusted: Trusted
    kind: ClassVar[str] = "known"
    missing: ClassVar[Reason] = Reason.NOT_OFFERED
    says_who: ClassVar[bool] = False
    is_typed: ClassVar[bool] = False

    def record(self) -> dict[str, str | int]:
        """What an admission by it keeps: nothing more than its credential."""
        return {}
