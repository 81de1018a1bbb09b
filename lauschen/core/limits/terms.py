"""What one that is issued has besides its plan."""

from dataclasses import dataclass, replace
from functools import lru_cache

from lauschen.core.ids import NetworkId, RoleId
from lauschen.core.limits.plan import Plan
from lauschen.core.limits.seats import Seats


@dataclass(frozen=True, slots=True)
class Own:
    """Limits in place of the plan's, for one that is issued; None is as the plan says."""

    seconds: int | None = None
    """From first use."""
    octets: int | None = None
    down_bps: int | None = None
    up_bps: int | None = None


@dataclass(frozen=True, slots=True)
class Terms:
    """None is as the plan says."""

    devices: int | None = None
    seats: Seats = Seats.AT_ONCE
    """How they are counted."""
    valid_from: float | None = None
    valid_until: float | None = None
    own: Own | None = None
    network: NetworkId | None = None
    """Where alone it is good; None: on each network that offers its way in."""
    role: RoleId | None = None
    """Where it places, whatever the rules say; None: where they say."""


AS_PLAN = Terms()


@lru_cache(maxsize=512)
def plan_with(plan: Plan, own: Own) -> Plan:
    """A plan with some of its limits set for one that is issued."""
    return replace(
        plan,
        seconds=own.seconds or plan.seconds,
        octets=own.octets or plan.octets,
        down_bps=own.down_bps or plan.down_bps,
        up_bps=own.up_bps or plan.up_bps,
    )
