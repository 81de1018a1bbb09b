"""Keeps the write-ahead log short: a thread copies it into the database, and the road copies the rest.

A checkpoint beside a busy road never ends: what is committed meanwhile is left over, and SQLite begins the log anew
only when nothing is. So the thread does the long part, and the short rest is done between two groups.
"""

import asyncio
from dataclasses import dataclass
from pathlib import Path

from lauschen.road.road import Road
from lauschen.store.db import checkpoint, log_state

IDLE_OCTETS = 4 << 20
BUSY_OCTETS = 16 << 20
"""A checkpoint competes with commits for the disk, so a busy road puts it off, up to here."""
IDLE_GROUPS = 50
SHORT_REST = 2000
"""Pages that may be copied between two groups."""


@dataclass(slots=True)
class Checkpoints:
    """`look` is called about once a second."""

    database: Path
    road: Road
    is_idle: bool = True
    """Few groups were committed since the last look."""
    _revision: int = 0

    async def look(self) -> None:
        revision = self.road.feed.revision
        self.is_idle = revision - self._revision < IDLE_GROUPS
        self._revision = revision
        log = log_state(self.database)
        if not log.waiting or log.octets <= (IDLE_OCTETS if self.is_idle else BUSY_OCTETS):
            return
        await asyncio.to_thread(checkpoint, self.database)
        if 0 < log_state(self.database).waiting <= SHORT_REST:
            self.road.between_groups(self.road.copy_log)
