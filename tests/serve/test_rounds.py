"""What is done again and again: one that raises holds up no other, is tried again, and is told of."""

import asyncio
from collections.abc import AsyncIterator, Callable
from pathlib import Path

import pytest

from lauschen.acts.passphrases.issuing import KeyMakers
from lauschen.acts.staying.sweep import Sweeper, Swept
from lauschen.beside.worker import Worker
from lauschen.core.ids import AccessDeviceId, NetworkId
from lauschen.proofs.handshakes import Handshakes
from lauschen.radius.listen.registry import Registry
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.serve.checkpoints import Checkpoints
from lauschen.serve.keyfiles import KeyFiles
from lauschen.serve.keymaking import KeyMaking
from lauschen.serve.rounds import KEEP_S, SWEEP_S, WATCH_S, Rounds
from lauschen.serve.wall import WallWatch
from lauschen.store.db import DATABASE_NAME, changed_by_others
from lauschen.store.keys import KEY_NAME
from lauschen.store.passphrases.strangers import Limit, Reached, reached_since
from tests.garden import Garden
from tests.place import CountedChance, Place
from tests.still_clock import StillClock

WATCHED = ["_try_to_commit", "_take_in", "_look_at_certificate", "_note_heard", "_collect", "_look_at_wall"]


class Counted(Rounds):
    """Counts what was done, and raises where it is told to."""

    def __init__(self, place: Place, data: Path) -> None:
        road = Road(place.conn, place.keys, place.config, StillClock(place.now), CountedChance(), fsync_s=0.0)
        super().__init__(
            road,
            Registry(place.config, b"k"),
            data,
            Checkpoints(data / DATABASE_NAME, road),
            WallWatch(road.clock, road),
            None,
            KeyFiles(road, Worker(), data / DATABASE_NAME, data / KEY_NAME, None, None),
            KeyMaking(road, KeyMakers()),
            Handshakes(lambda: place.config, data, data, road.clock.monotonic, lambda *_: None),
            changed_by_others(place.conn),
        )
        self.done: list[str] = []
        self.raises: str | None = None
        for name in [*WATCHED, "_sweep", "_keep"]:
            setattr(self, name, self._counted(name))

    def _counted(self, name: str) -> object:
        async def work() -> None:
            self.done.append(name)
            if name == self.raises:
                raise KeyError("bug")

        work.__name__ = name
        return work

    async def after(self, seconds: float) -> list[str]:
        self.done.clear()
        self.road.clock.advance(seconds)  # type: ignore[attr-defined]
        for _ in range(50):
            await asyncio.sleep(0)
        return self.done


@pytest.fixture
async def rounds(place: Place, data: Path) -> AsyncIterator[Counted]:
    made = Counted(place, data)
    made.begin()
    await asyncio.sleep(0)
    yield made
    await made.close()


@pytest.mark.parametrize("name", WATCHED)
async def test_one_that_raises_leaves_the_others_and_is_tried_again(rounds: Counted, name: str) -> None:
    rounds.raises = name
    assert await rounds.after(1.0) == WATCHED
    assert rounds.road.faults.kinds["background"].count == 1
    assert [one for one in await rounds.after(1.0) if one in WATCHED] == WATCHED
    assert rounds.road.faults.kinds["background"].count == 2


@pytest.mark.parametrize(("name", "each"), [("_sweep", SWEEP_S), ("_keep", KEEP_S)])
async def test_sweep_and_keeping_go_on_after_they_raised(rounds: Counted, name: str, each: float) -> None:
    rounds.raises = name
    assert name in await rounds.after(each)
    assert name in await rounds.after(each)
    assert rounds.road.faults.kinds["background"].reason == "KeyError: 'bug'"


async def test_a_running_house_sweeps_again_after_a_sweep_that_raised(
    garden: Garden, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(sweeper: Sweeper, tx: Tx) -> Swept:
        raise KeyError("bug")

    async def until(condition: Callable[[], bool]) -> None:
        async with asyncio.timeout(30):
            while not condition():
                garden.clock.advance(SWEEP_S)
                await asyncio.sleep(0.01)

    whole, seen = Sweeper.sweep, list[Tx]()

    def watched(sweeper: Sweeper, tx: Tx) -> Swept:
        seen.append(tx)
        return whole(sweeper, tx)

    with monkeypatch.context() as patched:
        patched.setattr(Sweeper, "sweep", broken)
        await until(lambda: {"act", "background"} <= set(garden.road.faults.kinds))
    monkeypatch.setattr(Sweeper, "sweep", watched)
    await until(lambda: bool(seen))


async def test_what_escapes_into_the_loop_is_told_of(garden: Garden) -> None:
    def broken() -> None:
        raise KeyError("nobody waits for this")

    asyncio.get_running_loop().call_soon(broken)
    await asyncio.sleep(0)
    await asyncio.sleep(0)
    assert "nobody waits" in garden.road.faults.kinds["background"].reason


async def test_an_access_device_with_too_many_handshakes_is_noted(rounds: Counted, place: Place) -> None:
    rounds.handshakes.refused.add((AccessDeviceId(1), NetworkId(1)))
    await rounds.after(WATCH_S)
    reached = Reached(AccessDeviceId(1), NetworkId(1), Limit.HANDSHAKES, place.now + WATCH_S)
    assert reached_since(place.conn, 0.0, 9) == [reached]
    assert rounds.handshakes.refused == set()
