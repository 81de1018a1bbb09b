"""The wall clock of the system beside ours: steps are shown, and adopted only when they may be (rulings 5.3)."""

from dataclasses import dataclass

import structlog

from lauschen.road.clock import Clock
from lauschen.road.road import Road
from lauschen.road.trouble import WallTrouble

STEP_S = 2.0
STEP_HELD_S = 60.0

logger = structlog.get_logger()


@dataclass(slots=True)
class WallWatch:
    """Looks once a second, and tells the road what Now should say."""

    clock: Clock
    road: Road
    _left_at: float | None = None
    """Since when the wall clock is elsewhere (monotonic)."""

    def begin(self, newest_record: float | None) -> None:
        """A clock that is earlier than the newest record would give everybody more time than is left to them.

        Ours goes on from that record, so that remaining durations decide, until the wall clock has caught up.
        """
        behind = 0.0 if newest_record is None else newest_record - self.clock.now()
        if behind >= STEP_S:
            logger.warning("clock_is_behind", seconds=round(behind, 1))
            self.clock.adopt_wall(behind)
            self.road.wall_trouble = WallTrouble(-behind, is_behind_records=True)

    def look(self) -> None:
        """A wall clock that was set is adopted once it has stayed there for a minute."""
        step, trouble = self.clock.wall_step(), self.road.wall_trouble
        if abs(step) < STEP_S:
            self._left_at = self.road.wall_trouble = None
            return
        if trouble is not None and trouble.is_behind_records and step < 0:
            self.road.wall_trouble = WallTrouble(step, is_behind_records=True)
            return
        self.road.wall_trouble = WallTrouble(step, is_behind_records=False)
        if self._left_at is None:
            self._left_at = self.clock.monotonic()
        elif self.clock.monotonic() - self._left_at >= STEP_HELD_S:
            logger.warning("wall_clock_adopted", step_s=round(step, 1))
            self.clock.adopt_wall(step)
            self._left_at = self.road.wall_trouble = None
