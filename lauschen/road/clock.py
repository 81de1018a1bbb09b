"""One clock (rulings 5.3): wall time read at start and carried by the monotonic clock; timers that can be moved."""

import asyncio
import heapq
import itertools
import time
from collections.abc import Callable
from pathlib import Path


def _boot() -> str:
    try:
        return Path("/proc/sys/kernel/random/boot_id").read_text("ascii").strip()
    except OSError:
        return ""


class Timer:
    """A call that was asked for; `cancel` may come at any time."""

    __slots__ = ("call", "due")

    def __init__(self, due: float, call: Callable[[], None]) -> None:
        self.due = due
        self.call: Callable[[], None] | None = call

    def cancel(self) -> None:
        self.call = None


class Clock:
    """Wall seconds (UTC epoch), monotonic seconds, and timers by the latter. Belongs to one event loop."""

    def __init__(self) -> None:
        self._offset = time.time() - time.monotonic()
        self._timers: list[tuple[float, int, Timer]] = []
        self._number = itertools.count()
        self._handle: asyncio.TimerHandle | None = None
        self.on_fault: Callable[[Exception], None] | None = None
        """Told of a timer that raised; the others fire all the same."""

    def monotonic(self) -> float:
        return time.monotonic()

    def now(self) -> float:
        return self.monotonic() + self._offset

    def adopt_wall(self, step: float) -> None:
        """Follows a wall clock that was set and stayed there."""
        self._offset += step

    def wall_step(self) -> float:
        """Seconds by which the system's wall clock has left ours."""
        return time.time() - (time.monotonic() + self._offset)

    boot = _boot()
    """Tells one boot of this machine from another; empty where the system has no name for it."""

    def since_boot(self) -> float:
        """Seconds since this machine was booted, also while it slept; goes on over restarts of this program."""
        return time.clock_gettime(time.CLOCK_BOOTTIME)

    def call_later(self, seconds: float, call: Callable[[], None]) -> Timer:
        timer = Timer(self.monotonic() + max(0.0, seconds), call)
        heapq.heappush(self._timers, (timer.due, next(self._number), timer))
        if self._timers[0][2] is timer:
            self._arm()
        return timer

    async def sleep(self, seconds: float) -> None:
        done: asyncio.Future[None] = asyncio.get_running_loop().create_future()

        def over() -> None:
            if not done.done():
                done.set_result(None)

        timer = self.call_later(seconds, over)
        try:
            await done
        finally:
            timer.cancel()

    def close(self) -> None:
        """Drops all timers."""
        self._timers.clear()
        if self._handle:
            self._handle.cancel()

    def _arm(self) -> None:
        if self._handle:
            self._handle.cancel()
            self._handle = None
        if self._timers:
            delay = max(0.0, self._timers[0][0] - self.monotonic())
            self._handle = asyncio.get_running_loop().call_later(delay, self._fire)

    def _fire(self) -> None:
        while self._timers and self._timers[0][0] <= self.monotonic():
            _, _, timer = heapq.heappop(self._timers)
            call, timer.call = timer.call, None
            try:
                if call:
                    call()
            except Exception as exc:
                if self.on_fault is None:
                    raise
                self.on_fault(exc)
        self._arm()


class MovableClock(Clock):
    """A clock that runs and can be put forward: for the demo and for tests against a running server."""

    def __init__(self, at: float | None = None) -> None:
        """Begins at the wall second `at`, or at the system's."""
        super().__init__()
        self._ahead = 0.0
        if at is not None:
            self._offset += at - self.now()

    def monotonic(self) -> float:
        return time.monotonic() + self._ahead

    def wall_step(self) -> float:
        return 0.0

    def advance(self, seconds: float) -> None:
        """Puts the clock forward; timers that become due fire in their order, each at its own time."""
        target = self.monotonic() + seconds
        while self._timers and self._timers[0][0] <= target:
            self._ahead += max(0.0, self._timers[0][0] - self.monotonic())
            self._fire()
        self._ahead += max(0.0, target - self.monotonic())
        self._arm()
