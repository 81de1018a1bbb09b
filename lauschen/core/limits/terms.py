"""What one that is issued has besides its plan."""

from dataclasses import dataclass

from lauschen.core.limits.seats import Seats


@dataclass(frozen=True, slots=True)
class Terms:
    """None is as the plan says."""

    devices: int | None = None
    seats: Seats = Seats.AT_ONCE
    """How they are counted."""
    valid_from: float | None = None
    valid_until: float | None = None


AS_PLAN = Terms()
