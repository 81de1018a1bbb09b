"""The queue and its group commit (rulings 1): many jobs, one transaction, effects only after COMMIT."""

import asyncio
import sqlite3
import time
from collections import deque
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass
from sqlite3 import Connection
from typing import Generic, Protocol, TypeVar

import structlog

from lauschen.core.errors import LauschenError, Unavailable
from lauschen.core.house import House
from lauschen.road.clock import Clock
from lauschen.road.feed import Feed
from lauschen.road.memory import Memory
from lauschen.road.tx import Chance, Tx
from lauschen.store import log, settings
from lauschen.store.db import atomic, copy_log
from lauschen.store.keys import KeyRing

GROUP_JOBS = 64
GROUP_S = 0.002
COMMIT_ON_LOOP_BELOW_S = 0.001
BEGIN_AGAIN_S = 0.005
BEGIN_TRIES = 200

T = TypeVar("T")
logger = structlog.get_logger()


class Job(Protocol):
    """One arrival or act. `run` loads, decides and applies in one step inside the open transaction."""

    is_packet: bool
    """Heard from an access device, and counted as such."""

    def run(self, tx: Tx) -> None: ...

    def done(self) -> None:
        """After COMMIT: now the answer may leave."""

    def failed(self) -> None:
        """Nothing of it was stored; no answer leaves."""


@dataclass(slots=True)
class Trouble:
    """Since when nothing can be committed, and what the database says."""

    since: float
    what: str


@dataclass(frozen=True, slots=True)
class WallTrouble:
    """The system's clock is elsewhere than ours."""

    step_s: float
    """By how much it is ahead."""
    is_behind_records: bool
    """At start it was earlier than the newest record, and has not caught up."""


class Road:
    """Owns the write connection. All of it runs on the event loop but, on slow disks, COMMIT alone."""

    def __init__(
        self, conn: Connection, keys: KeyRing, house: House, clock: Clock, chance: Chance, *, fsync_s: float
    ) -> None:
        self.house = house
        self.keys = keys
        self.clock = clock
        self.feed = Feed(clock.monotonic)
        self.trouble: Trouble | None = None
        self.wall_trouble: WallTrouble | None = None
        self.not_stored = 0
        self.longest_hold_s = 0.0
        """The longest time that one group held the loop."""
        self._conn = conn
        self._chance = chance
        self._memory = Memory()
        self._queue: deque[Job] = deque()
        self._scheduled = False
        self._begin_tries = 0
        self._rows_before = 0
        """How many rows had been written when this group began."""
        self._when_room: list[Callable[[], None]] = []
        self._between: list[Callable[[], None]] = []
        self._next_log_id = log.last_log_id(conn) + 1
        self._committer = None if fsync_s < COMMIT_ON_LOOP_BELOW_S else ThreadPoolExecutor(1, "commit")

    def put(self, job: Job) -> None:
        """Queues a job; it runs with others in the next group."""
        self._queue.append(job)
        if not self._scheduled:
            self._scheduled = True
            asyncio.get_running_loop().call_soon(self._run_group)

    async def act(self, act: Callable[[Tx], T]) -> T:
        """Runs `act` on the road and returns what it returned once that is committed.

        What it raises of our own errors is raised here, and nothing it wrote is kept.
        """
        job = _Act(act)
        self.put(job)
        return await job.result

    async def try_to_commit(self) -> None:
        """While nothing can be stored: whether it can be again, though nobody asks (rulings 1.5)."""
        with suppress(Unavailable):
            await self.act(lambda tx: settings.touch(tx.conn))
            self._commits_again()

    def _commits_again(self) -> None:
        if self.trouble is not None:
            logger.info("commits_again", after_s=round(self.clock.now() - self.trouble.since, 1))
            self.trouble = None

    @property
    def has_room(self) -> bool:
        """False while a whole group waits already; whoever reads sockets then lets its packets wait."""
        return len(self._queue) < GROUP_JOBS

    @property
    def is_idle(self) -> bool:
        """True when no group is under way or waits: then nobody will be told of room."""
        return not self._scheduled

    def when_room(self, call: Callable[[], None]) -> None:
        """`call` is told after each group that there may be room again."""
        self._when_room.append(call)

    def between_groups(self, call: Callable[[], None]) -> None:
        """`call` runs as soon as no transaction is open."""
        if self.is_idle:
            call()
        else:
            self._between.append(call)

    @property
    def rows_written(self) -> int:
        """Since the start."""
        return self._conn.total_changes

    def copy_log(self) -> bool:
        """Copies what is left of the write-ahead log into the database; False when some must wait."""
        started = time.perf_counter()
        try:
            return copy_log(self._conn)
        except sqlite3.OperationalError as exc:  # tried again a second later
            logger.warning("checkpoint_failed", error=str(exc))
            return False
        finally:
            self.longest_hold_s = max(self.longest_hold_s, time.perf_counter() - started)

    def close(self) -> None:
        if self._committer:
            self._committer.shutdown()
        self._conn.close()

    def _run_group(self) -> None:
        started = time.perf_counter()
        jobs: list[Job] = []
        if not self._begin():
            return
        tx = self._new_tx()
        try:
            while self._queue and len(jobs) < GROUP_JOBS:
                jobs.append(self._queue.popleft())
                jobs[-1].run(tx)
                if time.perf_counter() - started > GROUP_S:
                    break
            tx.flush()
            if self._committer is None:
                self._conn.execute("COMMIT")
        except Exception as exc:
            self._rescue(jobs, exc)
            return
        finally:
            self.longest_hold_s = max(self.longest_hold_s, time.perf_counter() - started)
        if self._committer is None:
            self._finish(jobs, tx)
        else:
            self._commit_elsewhere(self._committer, jobs, tx)

    def _begin(self) -> bool:
        """False when the database did not let us in; the jobs then wait a little or are given up."""
        try:
            self._conn.execute("BEGIN IMMEDIATE")
        except sqlite3.OperationalError as exc:
            self._begin_tries += 1
            if exc.sqlite_errorname == "SQLITE_BUSY" and self._begin_tries < BEGIN_TRIES:
                # The command line is writing: that takes a moment, and the loop must not wait inside SQLite.
                asyncio.get_running_loop().call_later(BEGIN_AGAIN_S, self._run_group)
                return False
            jobs = list(self._queue)
            self._queue.clear()
            self._give_up(jobs, exc)
            self._go_on()
            return False
        self._begin_tries = 0
        self._rows_before = self.rows_written
        return True

    def _commit_elsewhere(self, committer: ThreadPoolExecutor, jobs: list[Job], tx: Tx) -> None:
        future = asyncio.get_running_loop().run_in_executor(committer, self._conn.commit)

        def committed(done: asyncio.Future[None]) -> None:
            error = done.exception()
            if error is None:
                self._finish(jobs, tx)
            elif isinstance(error, Exception):
                self._rescue(jobs, error)

        future.add_done_callback(committed)

    def _finish(self, jobs: list[Job], tx: Tx) -> None:
        packets = sum(job.is_packet for job in jobs)
        # A group that wrote nothing, or next to nothing, says nothing of the disk.
        if self.trouble is not None and packets and self.rows_written != self._rows_before:
            self._commits_again()
        self._next_log_id = tx.next_log_id
        for job in jobs:
            job.done()
        for effect in tx.effects:
            effect()
        self.feed.publish(tx.rows(), packets)
        self._go_on()

    def _rescue(self, jobs: list[Job], error: Exception) -> None:
        """One bad record never takes its group along: the jobs are tried again one by one."""
        self._roll_back()
        if _is_trouble(error):
            self._give_up(jobs, error)
        elif len(jobs) == 1:
            self._fail(jobs[0], error)
        else:
            for job in jobs:
                self._run_alone(job)
        self._go_on()

    def _run_alone(self, job: Job) -> None:
        tx = self._new_tx()
        try:
            with atomic(self._conn):
                job.run(tx)
                tx.flush()
        except Exception as exc:
            self._memory.roll_back()
            if _is_trouble(exc):
                self._give_up([job], exc)
            else:
                self._fail(job, exc)
            return
        self._next_log_id = tx.next_log_id
        job.done()
        for effect in tx.effects:
            effect()
        self.feed.publish(tx.rows(), int(job.is_packet))

    def _fail(self, job: Job, error: Exception) -> None:
        logger.error("job_failed", job=type(job).__name__, exc_info=error)
        self.not_stored += 1
        if isinstance(job, _Act):
            job.error = error
        job.failed()

    def _give_up(self, jobs: list[Job], error: Exception) -> None:
        if self.trouble is None:
            self.trouble = Trouble(self.clock.now(), str(error))
            logger.error("cannot_commit", error=str(error))
        self.not_stored += len(jobs)
        for job in jobs:
            job.failed()

    def _roll_back(self) -> None:
        self._memory.roll_back()
        if self._conn.in_transaction:
            self._conn.execute("ROLLBACK")

    def _go_on(self) -> None:
        self._memory.tidy()
        while self._between:
            self._between.pop()()
        for call in self._when_room:
            call()
        if self._queue:
            asyncio.get_running_loop().call_soon(self._run_group)
        else:
            self._scheduled = False

    def _new_tx(self) -> Tx:
        now = self.clock.now()
        return Tx(self._conn, self.house, self.keys, now, self._chance, self._next_log_id, self._memory)


class _Act(Generic[T]):
    """A job for somebody who waits for its result."""

    is_packet = False

    def __init__(self, act: Callable[[Tx], T]) -> None:
        self._act = act
        self.result: asyncio.Future[T] = asyncio.get_running_loop().create_future()
        self._value: T
        self.error: Exception | None = None

    def run(self, tx: Tx) -> None:
        self.error = None
        try:
            with tx.inner():
                self._value = self._act(tx)
        except LauschenError as exc:
            self.error = exc

    def done(self) -> None:
        if self.result.done():  # whoever asked has gone
            return
        if self.error is not None:
            self.result.set_exception(self.error)
        else:
            self.result.set_result(self._value)

    def failed(self) -> None:
        if not self.result.done():
            self.result.set_exception(
                self.error or Unavailable("database", meanwhile="Nothing was changed. Try again in a moment.")
            )


def _is_trouble(error: Exception) -> bool:
    """The disk or the file, not the record."""
    return isinstance(error, sqlite3.OperationalError) and error.sqlite_errorname.split("_")[1] in (
        "FULL",
        "IOERR",
        "BUSY",
        "LOCKED",
        "CANTOPEN",
        "READONLY",
    )
