"""The wall clock of the system beside ours: steps are shown, and adopted only when they may be (rulings 5.3)."""

from dataclasses import dataclass
from sqlite3 import Connection

import structlog

from lauschen.core.errors import Unavailable
from lauschen.road.clock import Clock
from lauschen.road.road import Road
from lauschen.road.trouble import WallTrouble
from lauschen.road.tx import Tx
from lauschen.store.log import newest_record
from lauschen.store.upkeep import clock as stored

STEP_S = 2.0
STEP_HELD_S = 60.0
MARK_S = 60.0

logger = structlog.get_logger()


@dataclass(slots=True)
class WallWatch:
    """Looks once a second, and tells the road what Now should say."""

    clock: Clock
    road: Road
    _left_at: float | None = None
    """Since when the wall clock is elsewhere (monotonic)."""
    _marked_at: float | None = None

    def begin(self, conn: Connection) -> None:
        """Goes on from where our clock stood, whatever the wall clock says by now.

        If the machine was not booted since, it knows how long we were away. Otherwise the wall clock is believed,
        unless it is earlier than the newest record. A difference is adopted a minute later, as a step.
        """
        mark, newest = stored.find_mark(conn), newest_record(conn)
        ours = self.clock.now()
        since_boot = self.clock.since_boot()
        if mark is not None and mark.boot == self.clock.boot and since_boot >= mark.since_boot:
            ours = mark.at + since_boot - mark.since_boot
        if newest is not None:
            ours = max(ours, newest)
        if abs(ours - self.clock.now()) >= STEP_S:
            logger.warning("clock_was_set", seconds=round(self.clock.now() - ours, 1))
            self.clock.adopt_wall(ours - self.clock.now())

    async def look(self) -> None:
        """A wall clock that was set is adopted once it has stayed there for a minute."""
        step, now = self.clock.wall_step(), self.clock.monotonic()
        if abs(step) < STEP_S:
            self._left_at = self.road.wall_trouble = None
        else:
            self.road.wall_trouble = WallTrouble(step)
            if self._left_at is None:
                self._left_at = now
            elif now - self._left_at >= STEP_HELD_S:
                await self._adopt(step)
        if self._marked_at is None or now - self._marked_at >= MARK_S:
            self._marked_at = now
            await self.mark()

    async def mark(self) -> None:
        """So that a restart knows where our clock stood."""
        await self.road.act(self._put_mark)

    async def _adopt(self, step: float) -> None:
        logger.warning("wall_clock_adopted", step_s=round(step, 1))

        def adopt(tx: Tx) -> None:
            stored.adopt_step(tx.conn, tx.now, step)
            tx.memory.forget_all()
            tx.memory.forget_hints()
            tx.now += step  # what comes after it in this group is written by the new clock
            tx.log("clock_set", facts={"seconds": round(step, 1)})
            self._put_mark(tx)
            tx.after_commit(lambda: self._adopted(step))

        try:
            await self.road.act(adopt)
        except Unavailable:
            return  # tried again in a second

    def _adopted(self, step: float) -> None:
        self.clock.adopt_wall(step)
        self._left_at = self.road.wall_trouble = None

    def _put_mark(self, tx: Tx) -> None:
        stored.put_mark(tx.conn, stored.Mark(self.clock.boot, self.clock.since_boot(), tx.now))
