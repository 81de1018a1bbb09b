"""The queue and its group commit (rulings 1): many jobs, one transaction, effects only after COMMIT."""

import asyncio
import sqlite3
import time
from collections import deque
from collections.abc import Callable
from contextlib import suppress
from sqlite3 import Connection
from typing import TypeVar

import structlog

from lauschen.core.actor import Actor
from lauschen.core.config.config import Config
from lauschen.core.errors import Unavailable
from lauschen.road.chance import Chance
from lauschen.road.clock import Clock
from lauschen.road.commits import Commits
from lauschen.road.faults import Faults
from lauschen.road.feed import Feed
from lauschen.road.job import Act, Job, pass_on, settle
from lauschen.road.memory import Memory
from lauschen.road.touched import Touched
from lauschen.road.trouble import Trouble, WallTrouble, is_trouble
from lauschen.road.tx import Tx
from lauschen.store import log
from lauschen.store.config import settings
from lauschen.store.db import changed_by_others, copy_log
from lauschen.store.keys import KeyRing
from lauschen.store.moving import intents

GROUP_S = 0.002
PRESSED_JOBS, CALM_S = 6, 2.0
"""So many jobs in one group mean that they wait for each other; for so long that is remembered."""
BEGIN_AGAIN_S = 0.005
BEGIN_TRIES = 200

T = TypeVar("T")
logger = structlog.get_logger()


class Road:
    """Owns the write connection. All of it runs on the event loop but, while the disk is slow, COMMIT alone."""

    rehearses: Callable[[], bool] = staticmethod(lambda: False)
    """Whether the next group is run, rolled back and run again: tests ask for it, since each job may run twice."""

    def __init__(
        self, conn: Connection, keys: KeyRing, config: Config, clock: Clock, chance: Chance, *, fsync_s: float
    ) -> None:
        self.config = config
        """As committed. A group that changes it works with its own from there on."""
        self._config_in_use = config
        self.keys = keys
        self.clock = clock
        self.feed = Feed(clock.monotonic)
        self.faults = Faults(clock.now)
        clock.on_fault = lambda error: self.faults.note("timer", error)
        self.trouble: Trouble | None = None
        self.wall_trouble: WallTrouble | None = None
        self.not_stored = 0
        self.longest_hold_s = 0.0
        """The longest time that one group held the loop."""
        self.rows_written = 0
        """Since the start, as far as they were committed."""
        self._changes_before = 0
        """What the connection had written when the group began; it counts what is rolled back, too."""
        self._conn = conn
        self._commits = Commits(conn, fsync_s)
        self._chance = chance
        self.memory = Memory()
        self.memory.restarting = intents.restarting(conn)
        self.touched = Touched(conn, self.memory)
        self._queue: deque[Job] = deque()
        self._pressed_at = float("-inf")
        """When jobs waited for each other last."""
        self._alone: deque[Job] = deque()
        """Jobs of a group that failed: each has a group of its own, so that a bad one takes nobody along."""
        self._scheduled = False
        self._begin_tries = 0
        self.wake_sender: Callable[[], None] = lambda: None
        """Tells the sender that something is wanted; it says how."""
        self.wake_outbox: Callable[[], None] = lambda: None
        """Tells the outbox that a message was written."""
        self.wake_mass_work: Callable[[], None] = lambda: None
        """Tells whoever goes on with work on many devices."""
        self._when_room: list[Callable[[], None]] = []
        self._when_config: list[Callable[[Config], None]] = []
        self._between: deque[Callable[[], asyncio.Future[None] | None]] = deque()
        self._next_log_id = log.last_log_id(conn) + 1
        self._known_change = self._change = changed_by_others(conn)
        """What another process wrote is taken in by the group that finds it; known once that is committed."""

    def put(self, job: Job) -> None:
        """Queues a job; it runs with others in the next group."""
        self._queue.append(job)
        if not self._scheduled:
            self._scheduled = True
            asyncio.get_running_loop().call_soon(self._run_group)

    async def act(
        self,
        act: Callable[[Tx], T],
        *,
        by: Actor | None = None,
        holds_wishes: bool = False,
    ) -> T:
        """Runs `act` on the road and returns what it returned once that is committed.

        What it raises of our own errors is raised here, and nothing it wrote is kept. `by`: who acts, if anybody
        does. `holds_wishes`: whoever called tells the sender of what it wants (`wake_sender`), once more is done.
        """
        job = Act(act, by=by, holds_wishes=holds_wishes)
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
        return len(self._queue) < self._commits.most_jobs

    @property
    def is_pressed(self) -> bool:
        """Whether jobs waited for each other a moment ago: what can wait should."""
        return self.clock.monotonic() - self._pressed_at < CALM_S

    @property
    def is_idle(self) -> bool:
        """True when no group is under way or waits: then nobody will be told of room."""
        return not self._scheduled

    @property
    def commits_in_thread(self) -> bool:
        return self._commits.is_slow

    def when_room(self, call: Callable[[], None]) -> None:
        """`call` is told after each group that there may be room again."""
        self._when_room.append(call)

    def when_config(self, call: Callable[[Config], None]) -> None:
        """`call` is told of each change of the configuration, for the next job of its own group."""
        self._when_config.append(call)

    async def between_groups(self, work: Callable[[Connection], T]) -> T:
        """What `work` returns of the write connection, as soon as no transaction is open.

        In the thread of COMMIT while the disk is slow; no group begins before it is over.
        """
        result: asyncio.Future[T] = asyncio.get_running_loop().create_future()

        def begin() -> "asyncio.Future[None] | None":
            if self._commits.is_slow:
                there = self._commits.elsewhere(lambda: work(self._conn))
                return asyncio.ensure_future(pass_on(there, result))
            try:
                started = time.perf_counter()
                answer = work(self._conn)
                self.longest_hold_s = max(self.longest_hold_s, time.perf_counter() - started)
            except Exception as exc:
                settle(result, error=exc)
            else:
                settle(result, answer)
            return None

        self._between.append(begin)
        if not self._scheduled:
            self._scheduled = True
            self._go_on()
        return await result

    async def copy_log(self) -> bool:
        """Copies what is left of the write-ahead log into the database; False when some must wait."""
        try:
            return await self.between_groups(copy_log)
        except sqlite3.OperationalError as exc:  # tried again a second later
            logger.warning("checkpoint_failed", error=str(exc))
            return False

    def close(self) -> None:
        self._commits.close()
        self._conn.close()

    def _run_group(self) -> None:
        if self._begin():
            self._go_on_with(self._new_tx(), [], self._commits.is_slow)

    def _go_on_with(self, tx: Tx, jobs: list[Job], is_slow: bool) -> None:
        """Runs jobs for a moment, and commits; before a slow COMMIT, whatever else waits joins the group."""
        started = time.perf_counter()
        try:
            self._run_jobs(tx, jobs, started)
            if is_slow and self._queue and len(jobs) < self._commits.most_jobs and not self._alone:
                self._hear()
                asyncio.get_running_loop().call_soon(self._go_on_with, tx, jobs, is_slow)
                return
            tx.flush()
            if self.rehearses():
                tx = self._run_again(jobs)
            if not is_slow:
                self._commits.on_loop()
        except Exception as exc:
            self._rescue(jobs, exc)
            return
        finally:
            self.longest_hold_s = max(self.longest_hold_s, time.perf_counter() - started)
        if is_slow:
            self._commit_elsewhere(jobs, tx)
        else:
            self._finish(jobs, tx)

    def _hear(self) -> None:
        """There is room in the queue again."""
        for call in self._when_room:
            self.faults.run("reading", call)

    def _run_jobs(self, tx: Tx, jobs: list[Job], started: float) -> None:
        if self._alone and not jobs:
            jobs.append(self._alone.popleft())
            jobs[0].run(tx)
            return
        most = self._commits.most_jobs
        while self._queue and len(jobs) < most:
            jobs.append(self._queue.popleft())
            jobs[-1].run(tx)
            if time.perf_counter() - started > GROUP_S:
                break
        if len(jobs) >= PRESSED_JOBS:
            self._pressed_at = self.clock.monotonic()

    def _run_again(self, jobs: list[Job]) -> Tx:
        self._roll_back()
        self._conn.execute("BEGIN IMMEDIATE")
        tx = self._new_tx()
        for job in jobs:
            job.run(tx)
        tx.flush()
        return tx

    def _begin(self) -> bool:
        """False when the database did not let us in; the jobs then wait a little or are given up."""
        try:
            self._conn.execute("BEGIN IMMEDIATE")
        except sqlite3.Error as exc:
            self._begin_tries += 1
            if exc.sqlite_errorname == "SQLITE_BUSY" and self._begin_tries < BEGIN_TRIES:
                # The command line is writing: that takes a moment, and the loop must not wait inside SQLite.
                asyncio.get_running_loop().call_later(BEGIN_AGAIN_S, self._run_group)
                return False
            jobs = [*self._alone, *self._queue]
            self._alone.clear()
            self._queue.clear()
            try:
                self._give_up(jobs, exc)
            finally:
                self._go_on()
            return False
        self._begin_tries = 0
        return True

    def _commit_elsewhere(self, jobs: list[Job], tx: Tx) -> None:
        def committed(done: "asyncio.Future[None]") -> None:
            error = done.exception()
            if error is None:
                self._finish(jobs, tx)
            elif isinstance(error, Exception):
                self._rescue(jobs, error)

        self._commits.in_thread().add_done_callback(committed)

    def _finish(self, jobs: list[Job], tx: Tx) -> None:
        packets = sum(job.is_packet for job in jobs)
        written = self._conn.total_changes - self._changes_before
        self.rows_written += written
        self._next_log_id = tx.next_log_id
        self.config = tx.config
        self.memory.commit()
        self.touched.commit()
        self._known_change = self._change
        for job in jobs:
            try:
                job.done()
            except Exception as exc:
                self.faults.note("answer", exc)
        if tx.has_wishes:
            self.faults.run("effect", self.wake_sender)
        if tx.has_messages:
            self.faults.run("effect", self.wake_outbox)
        if tx.has_mass_work:
            self.faults.run("effect", self.wake_mass_work)
        for effect in tx.effects:
            self.faults.run("effect", effect)
        if packets or written:
            self.faults.run("feed", lambda: self.feed.publish(tx.rows(), packets))
        self._go_on()
        # A group that wrote nothing, or next to nothing, says nothing of the disk.
        if self.trouble is not None and packets and written:
            self._commits_again()

    def _rescue(self, jobs: list[Job], error: Exception) -> None:
        """One bad record never takes its group along: the jobs are tried again one by one."""
        self.faults.run("rollback", self._roll_back)
        try:
            if is_trouble(error):
                self._give_up(jobs, error)
            elif len(jobs) == 1:
                self._fail(jobs[0], error)
            else:
                self._alone.extend(jobs)
        finally:
            self._go_on()  # whatever else raises: a road that stands still answers nobody

    def _fail(self, job: Job, error: Exception) -> None:
        self.not_stored += 1
        if isinstance(job, Act):
            job.error = error
        if not self._tell_failed(job, error):
            self.faults.note("request" if job.is_packet else "act", error)

    def _give_up(self, jobs: list[Job], error: Exception) -> None:
        is_new = self.trouble is None
        if is_new:
            self.trouble = Trouble(self.clock.now(), str(error))
        self.not_stored += len(jobs)
        for job in jobs:
            self._tell_failed(job, error)
        if is_new:
            logger.error("cannot_commit", error=str(error))

    def _tell_failed(self, job: Job, error: Exception) -> bool:
        try:
            return job.failed(error)
        except Exception as exc:
            self.faults.note("answer", exc)
            return False

    def _roll_back(self) -> None:
        self.memory.roll_back()
        if self._conn.in_transaction:
            self._conn.execute("ROLLBACK")
        if self._config_in_use is not self.config:
            self._use_config(self.config)

    def _use_config(self, config: Config) -> None:
        self._config_in_use = config
        for call in self._when_config:
            call(config)

    def _go_on(self) -> None:
        """After each group, whatever became of it: what must happen between two, then the next one."""
        self.faults.run("memory", self.memory.tidy)
        while self._between:
            under_way = self._between.popleft()()
            if under_way is not None:
                under_way.add_done_callback(lambda _: self._go_on())
                return
        self._hear()
        if self._queue or self._alone:
            asyncio.get_running_loop().call_soon(self._run_group)
        else:
            self._scheduled = False

    def _new_tx(self) -> Tx:
        self._changes_before = self._conn.total_changes
        tx = Tx(
            self._conn,
            config=self.config,
            keys=self.keys,
            now=self.clock.now(),
            chance=self._chance,
            next_log_id=self._next_log_id,
            memory=self.memory,
            use_config=self._use_config,
            note_fault=self.faults.note,
        )
        self._change = changed_by_others(self._conn)
        if self._change != self._known_change:
            tx.take_in()
            self.touched.lose()
        return tx
