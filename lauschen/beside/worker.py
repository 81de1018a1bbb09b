"""The worker process: long computations leave the serving process, which has one event loop (rulings 1.1)."""

import asyncio
import multiprocessing
import os
import signal
import threading
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from functools import partial
from typing import ParamSpec, TypeVar

from lauschen.core.errors import Unavailable

P = ParamSpec("P")
R = TypeVar("R")
NICENESS, LAST = 10, 19
"""Beside packets; and of what has all the time in the world."""


class Worker:
    """One spawned process, started at its first task; niced, so that it never competes with packets."""

    def __init__(self, niceness: int = NICENESS) -> None:
        self._niceness = niceness
        self._pool: ProcessPoolExecutor | None = None
        self._starting = asyncio.Lock()

    async def run(self, task: Callable[P, R], *args: P.args, **kwargs: P.kwargs) -> R:
        """`task` must be importable by name; it opens its own read-only connection."""
        loop = asyncio.get_running_loop()
        try:
            return await loop.run_in_executor(await self._started(), partial(task, *args, **kwargs))
        except BrokenProcessPool as exc:
            self._pool = None
            raise Unavailable("worker", meanwhile="It is started again. Please ask once more.") from exc

    def close(self) -> None:
        if self._pool is not None:
            self._pool.shutdown(wait=True, cancel_futures=True)
            self._pool = None

    async def _started(self) -> ProcessPoolExecutor:
        async with self._starting:
            if self._pool is None:
                self._pool = await asyncio.to_thread(_start, self._niceness)
            return self._pool


def _start(niceness: int) -> ProcessPoolExecutor:
    """Beside the loop: a process is begun by the first task, which takes a tenth of a second."""
    pool = ProcessPoolExecutor(1, multiprocessing.get_context("spawn"), _begin, (niceness,))
    pool.submit(os.getpid)
    return pool


def _begin(niceness: int) -> None:
    """In the process: whoever serves ends it, not the key that ends them both."""
    os.nice(niceness)
    if hasattr(os, "SCHED_IDLE"):
        # Niceness alone still takes turns with packets; this runs when nothing else wants the processor.
        os.sched_setscheduler(0, os.SCHED_IDLE, os.sched_param(0))
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    threading.Thread(target=_end_with_parent, daemon=True).start()


def _end_with_parent() -> None:
    """A server that was killed ends nobody: its end shows by the pipe that both hold."""
    parent = multiprocessing.parent_process()
    if parent is not None:
        parent.join()
        os._exit(1)
