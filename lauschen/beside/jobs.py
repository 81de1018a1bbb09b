"""Long jobs that somebody watches: how far they are, and a way to stop them. In memory; a restart ends them."""

import asyncio
import itertools
from collections.abc import Awaitable, Callable
from dataclasses import dataclass
from enum import StrEnum

from lauschen.core.actor import Actor
from lauschen.core.errors import LauschenError, Unavailable
from lauschen.road.faults import Faults

KEPT_FILES = 3
MOST_RUNNING, MOST_OF_ONE = 12, 3
"""At once, in all and of one person or program: they share one loop and one worker."""
KEPT = 50
"""Jobs that are over are remembered for who asks what became of them."""


class JobState(StrEnum):
    """Where a job is."""

    RUNNING = "running"
    DONE = "done"
    CANCELLED = "cancelled"
    FAILED = "failed"


@dataclass(slots=True)
class LongJob:
    """One job. Its work raises `done` as it goes."""

    id: int
    what: str
    of: int
    by: Actor
    done: int = 0
    state: JobState = JobState.RUNNING
    result: int | None = None
    """What came of it: the id of what it made."""
    file: bytes | None = None
    """What it made, if that is a file; of the last few jobs alone."""
    error: str | None = None
    """Why it failed, for whoever began it."""


class Jobs:
    """Each runs on the loop in small steps; what computes goes to the worker process."""

    def __init__(self, faults: Faults) -> None:
        self._faults = faults
        self._ids = itertools.count(1)
        self._known: dict[int, LongJob] = {}
        self._tasks: dict[int, asyncio.Task[None]] = {}

    def begin(
        self, what: str, of: int, work: Callable[[LongJob], Awaitable[int]], *, by: Actor
    ) -> tuple[LongJob, "asyncio.Task[None]"]:
        """`work` returns the id of what it made; when it is cancelled it takes back what it did.

        Unavailable while too many are under way.
        """
        running = [job for job in self._known.values() if job.state is JobState.RUNNING]
        if len(running) >= MOST_RUNNING or sum(job.by.staff == by.staff for job in running) >= MOST_OF_ONE:
            raise Unavailable("jobs", meanwhile="Others are being made. Try again when they are done.")
        job = LongJob(next(self._ids), what, of, by)
        self._known[job.id] = job
        over = [old for old in self._known.values() if old.state is not JobState.RUNNING]
        for old in over[:-KEPT_FILES]:
            old.file = None
        for old in over[:-KEPT]:
            del self._known[old.id]
        task = asyncio.get_running_loop().create_task(self._run(job, work))
        self._tasks[job.id] = task
        task.add_done_callback(lambda _: self._tasks.pop(job.id, None))
        return job, task

    def find(self, job: int) -> LongJob | None:
        return self._known.get(job)

    async def cancel(self, job: int) -> None:
        """Returns when it is over; one that is over already stays as it is."""
        task = self._tasks.get(job)
        if task is not None:
            task.cancel()
            await asyncio.wait([task])
            if task.cancelled():  # before it began
                self._known[job].state = JobState.CANCELLED

    async def close(self) -> None:
        for job in list(self._tasks):
            await self.cancel(job)

    async def _run(self, job: LongJob, work: Callable[[LongJob], Awaitable[int]]) -> None:
        try:
            job.result = await work(job)
            job.state = JobState.DONE
        except asyncio.CancelledError:
            job.state = JobState.CANCELLED
        except LauschenError as exc:
            job.state, job.error = JobState.FAILED, str(exc)
        except Exception as exc:
            self._faults.note("job", exc)
            job.state, job.error = JobState.FAILED, "Something of ours failed; Now says what."
