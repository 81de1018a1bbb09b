"""What was heard just now: for the listening line, live views, and whoever waits for an event."""

import asyncio
from collections import deque
from collections.abc import Callable, Sequence

from lauschen.store.log import LogRow

_KEPT = 200
_BARS = 24
_BAR_S = 2.5


class Feed:
    """In memory and lossy on purpose; the log in the database is the record."""

    def __init__(self, monotonic: Callable[[], float]) -> None:
        self._monotonic = monotonic
        self._latest: deque[LogRow] = deque(maxlen=_KEPT)
        self._bars: deque[tuple[int, int]] = deque(maxlen=_BARS)
        self.changed = asyncio.Event()
        self.revision = 0
        """Grows with each committed group."""

    def publish(self, rows: Sequence[LogRow], packets: int) -> None:
        """Called once per committed group."""
        self._latest.extend(rows[-_KEPT:])
        slot = int(self._monotonic() / _BAR_S)
        if self._bars and self._bars[-1][0] == slot:
            self._bars[-1] = (slot, self._bars[-1][1] + packets)
        else:
            self._bars.append((slot, packets))
        self.revision += 1
        self.changed.set()
        self.changed.clear()

    def latest(self) -> LogRow | None:
        return self._latest[-1] if self._latest else None

    def bars(self) -> list[int]:
        """Things heard per 2.5 s over the last minute, oldest first."""
        newest = int(self._monotonic() / _BAR_S)
        counts = dict(self._bars)
        return [counts.get(slot, 0) for slot in range(newest - _BARS + 1, newest + 1)]
