"""Where COMMIT runs: on the loop while the disk is quick, in a thread of its own while it is slow (rulings 1.3).

One measurement at start says little: another program that writes makes single commits take a second. So each commit
is measured, a slow one moves COMMIT to the thread, and quiet minutes move it back.
"""

import asyncio
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from sqlite3 import Connection
from typing import TypeVar

T = TypeVar("T")
ON_LOOP_BELOW_S = 0.001
"""A disk whose fsync takes longer than this at start is a slow one until it has been quick for a while."""
SLOW_S = 0.010
"""A commit on the loop that takes longer held everything up."""
QUICK_S = 0.005
QUIET_S = 60.0
"""So long every commit must have been quick before COMMIT comes back to the loop."""
GROUP_JOBS = 64
JOBS_PER_S, MOST_JOBS = 3000, 800
"""While each COMMIT takes long, a group takes as many as come in that time: else they would wait for ever longer."""


class Commits:
    """Belongs to the road, whose connection it is: nothing else may touch that while something runs in the thread."""

    def __init__(self, conn: Connection, fsync_s: float) -> None:
        self._conn = conn
        self._thread: ThreadPoolExecutor | None = None
        self._slow_at = time.monotonic()
        self.is_slow = fsync_s >= ON_LOOP_BELOW_S
        self.last_s = fsync_s
        """How long the last one took."""

    @property
    def most_jobs(self) -> int:
        """Of one group."""
        if not self.is_slow:
            return GROUP_JOBS
        return max(GROUP_JOBS, min(MOST_JOBS, int(self.last_s * JOBS_PER_S)))

    def on_loop(self) -> None:
        started = time.perf_counter()
        self._conn.execute("COMMIT")
        self.last_s = time.perf_counter() - started
        if self.last_s >= SLOW_S:
            self.is_slow, self._slow_at = True, time.monotonic()

    def in_thread(self) -> "asyncio.Future[None]":
        return self.elsewhere(self._commit)

    def elsewhere(self, work: Callable[[], T]) -> "asyncio.Future[T]":
        """Runs what touches the connection in the thread; the caller sees to it that nothing else does."""
        if self._thread is None:
            self._thread = ThreadPoolExecutor(1, "commit")
        return asyncio.get_running_loop().run_in_executor(self._thread, work)

    def close(self) -> None:
        """Waits for what still runs."""
        if self._thread is not None:
            self._thread.shutdown()

    def _commit(self) -> None:
        started = time.perf_counter()
        self._conn.execute("COMMIT")
        ended, self.last_s = time.monotonic(), time.perf_counter() - started
        if self.last_s >= QUICK_S:
            self._slow_at = ended
        elif ended - self._slow_at >= QUIET_S:
            self.is_slow = False
