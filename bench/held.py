"""What holds the loop in a house after a busy year: slices of mass work, statements, memory, a clock that was set."""

import asyncio
import itertools
import time
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from lauschen.acts.mass.slices import do_slice
from lauschen.acts.staying.restarting import close_all
from lauschen.acts.staying.sweep import Sweeper
from lauschen.core.decide.picture import Picture
from lauschen.core.ids import AccessDeviceId, Mac, NetworkId
from lauschen.demo import large, site
from lauschen.road.chance import SystemChance
from lauschen.road.clock import MovableClock
from lauschen.road.memory import MOST_PICTURES, Memory
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.serve.first_run import open_data
from lauschen.store.config.settings import load_config
from lauschen.store.db import gather_statistics
from lauschen.store.upkeep.clock import adopt_step

T = TypeVar("T")
POINT, NETWORK = AccessDeviceId(1), NetworkId(1)
TURNS, NEW = 20, 2_000


def hold_the_loop(folder: Path) -> None:
    """Prints milliseconds of the thread's processor time, so the disk does not count."""
    site.make_site(folder, {})
    large.fill(folder, time.time())
    asyncio.run(_measure(folder))


async def _measure(folder: Path) -> None:
    conn, keys = open_data(folder)
    print(f"statistics of a large house: {_ms(lambda: gather_statistics(conn)):.0f} ms, once at a start")
    road = Road(conn, keys, load_config(conn, keys), MovableClock(), SystemChance(), fsync_s=0.0)
    await _restart(road)
    sweeper, turns = Sweeper(), list[float]()
    for _ in range(TURNS):
        took, _ = await _act(road, sweeper.sweep)
        turns.append(took)
    print(f"one turn of the sweep with {large.SUMMER.inside} inside: {_spread(turns)}")
    took, _ = await _act(road, lambda tx: adopt_step(tx.conn, tx.now, -3600.0))
    print(f"a clock that was set, all that runs moved along: {took:.0f} ms, in one transaction")
    _fill_memory(road)
    road.close()


async def _restart(road: Road) -> None:
    """An access device restarts: its stays are listed with the packet, and closed in slices."""
    said: dict[str, str | int | float | bool | None] = {
        "bssid": "",
        "nas_identifier": "place-1",
        "nas_address": "",
    }
    listed, _ = await _act(road, lambda tx: close_all(tx, POINT, "on", tx.now, said))
    slices, has_more = list[float](), True
    while has_more:
        took, has_more = await _act(road, do_slice)
        slices.append(took)
    print(f"an access device with thousands of stays restarts: listed in {listed:.0f} ms, {_spread(slices)}")


def _fill_memory(road: Road) -> None:
    """One picture more than memory holds lets the oldest go."""
    memory, numbers = Memory(), itertools.count()

    def keep(count: int) -> None:
        for number in itertools.islice(numbers, count):
            memory.keep(Mac(number), NETWORK, Picture(road.config))
        memory.commit()

    keep(MOST_PICTURES)
    each = _ms(lambda: keep(NEW)) / NEW * 1000
    print(f"memory with {MOST_PICTURES} devices: one more in {each:.1f} us, the oldest is let go")


async def _act(road: Road, job: Callable[[Tx], T]) -> tuple[float, T]:
    """Milliseconds that one job and its COMMIT took of the loop's thread."""
    began = time.thread_time()
    answer = await road.act(job)
    return (time.thread_time() - began) * 1000, answer


def _ms(work: Callable[[], object]) -> float:
    began = time.thread_time()
    work()
    return (time.thread_time() - began) * 1000


def _spread(took: list[float]) -> str:
    longest, half = max(took), sorted(took)[len(took) // 2]
    return f"{len(took)} slices, half of them under {half:.1f} ms, the longest {longest:.1f} ms"
