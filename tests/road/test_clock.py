"""Timers fire in order, each at its own time; a moved clock is moved for everybody."""

import asyncio

from lauschen.road.clock import Clock, MovableClock
from tests.still_clock import StillClock


async def test_advancing_fires_timers_in_order_at_their_own_times() -> None:
    clock, fired = StillClock(), []
    start = clock.now()

    def note(name: str) -> None:
        fired.append((name, round(clock.now() - start)))

    clock.call_later(20, lambda: note("late"))
    clock.call_later(10, lambda: (note("early"), clock.call_later(5, lambda: note("made on the way")))[0])
    clock.call_later(11, lambda: note("never")).cancel()
    clock.advance(30)
    assert fired == [("early", 10), ("made on the way", 15), ("late", 20)]
    assert round(clock.now() - start) == 30


async def test_sleep_ends_when_the_clock_is_moved() -> None:
    clock = StillClock()
    sleeper = asyncio.create_task(clock.sleep(3600))
    await asyncio.sleep(0)
    assert not sleeper.done()
    clock.advance(3600)
    await asyncio.wait_for(sleeper, 30)


async def test_a_running_clock_fires_by_itself_and_keeps_wall_and_monotonic_together() -> None:
    clock = Clock()
    before = clock.now() - clock.monotonic()
    await asyncio.wait_for(clock.sleep(0.001), 30)
    assert abs(clock.now() - clock.monotonic() - before) < 0.1
    assert abs(clock.wall_step()) < 1
    clock.adopt_wall(100.0)
    assert clock.wall_step() < -99


async def test_a_movable_clock_runs_too() -> None:
    clock = MovableClock()
    sleeper = asyncio.create_task(clock.sleep(0.001))
    await asyncio.wait_for(sleeper, 30)
    far = asyncio.create_task(clock.sleep(100))
    await asyncio.sleep(0)
    clock.advance(101)
    await asyncio.wait_for(far, 30)
    clock.close()
