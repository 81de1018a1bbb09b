"""The limits of what is issued."""

from dataclasses import dataclass

from lauschen.core.ids import PlanId
from lauschen.core.limits.hours import Hours


@dataclass(frozen=True, slots=True)
class Plan:
    """The limits of what is issued. None means: no such limit."""

    id: PlanId
    name: str
    seconds: int | None
    """From first use, by the clock on the wall; logging out does not stop it."""
    idle_seconds: int | None
    octets: int | None
    """Down and up together."""
    devices: int
    """At once."""
    use_within_days: int | None
    """How long an unused credential can still be used for the first time."""
    down_bps: int | None = None
    """Bits per second to the guest, and from the guest; a role's own rate may be lower, and then holds."""
    up_bps: int | None = None
    hours: Hours | None = None
    """When it may be used; None: always."""
    is_removed: bool = False
    """Not to be chosen any more; what was issued with it goes on."""
