"""A clock that stands still."""

from lauschen.road.clock import MovableClock


class StillClock(MovableClock):
    """A clock that moves only when told to; starts at a given wall time."""

    def __init__(self, wall: float = 1_780_000_000.0) -> None:
        super().__init__()
        self._ahead = 1000.0
        self._offset = wall - self._ahead

    def monotonic(self) -> float:
        return self._ahead

    def _arm(self) -> None:
        """Nothing fires by itself."""
