"""Keeps the write-ahead log short: a thread copies it into the database, and the road copies the rest.

A checkpoint beside a busy road never ends: what is committed meanwhile is left over, and SQLite begins the log anew
only when nothing is. So the thread does the long part, and the short rest is done between two groups.
"""

import asyncio
from dataclasses import dataclass
from pathlib import Path

from lauschen.road.road import Road
from lauschen.store.db import checkpoint

IDLE_ROWS = 4_000
BUSY_ROWS = 16_000
"""A checkpoint competes with commits for the disk, so a busy road puts it off, up to here. A row is about a page of
1 KiB in the log."""
IDLE_GROUPS = 50
SHORT_REST = 2_000
"""Rows that may be copied between two groups."""
TRIES = 3


@dataclass(slots=True)
class Checkpoints:
    """`look` is called about once a second."""

    database: Path
    road: Road
    is_idle: bool = True
    """Few groups were committed since the last look."""
    _revision: int = 0
    _copied_rows: int = 0
    """How many rows had been written when the log was copied whole."""

    async def look(self) -> None:
        revision = self.road.feed.revision
        self.is_idle = revision - self._revision < IDLE_GROUPS
        self._revision = revision
        if self.road.rows_written - self._copied_rows <= (IDLE_ROWS if self.is_idle else BUSY_ROWS):
            return
        for _ in range(TRIES):  # each leaves less to the next
            before = self.road.rows_written
            await asyncio.to_thread(checkpoint, self.database)
            if self.road.rows_written - before <= SHORT_REST:
                if await self.road.copy_log():
                    self._copied_rows = self.road.rows_written
                return
