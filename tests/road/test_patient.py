"""Of two entries with the same key one waits for the other, in one look and over several."""

import asyncio
from collections.abc import Hashable, Sequence

from lauschen.road.patient import Due, PatientQueue
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from tests.place import CountedChance, Place
from tests.still_clock import StillClock


class Queue(PatientQueue[tuple[str, int], tuple[str, int], str]):
    """Entries are a key and a number, kept in a list."""

    fault = "wish"

    def __init__(self, road: Road, entries: Sequence[tuple[str, int]]) -> None:
        super().__init__(road)
        self.left = list(entries)
        self.carried: list[tuple[str, int]] = []
        self.answered = asyncio.Event()

    def due(self, tx: Tx) -> Due[tuple[str, int]]:
        return Due(tuple(self.left))

    def next_due(self, tx: Tx) -> float | None:
        return None

    def key(self, entry: tuple[str, int]) -> Hashable:
        return entry[0]

    def name(self, entry: tuple[str, int]) -> str:
        return entry[0]

    def take(self, tx: Tx, entry: tuple[str, int]) -> tuple[str, int]:
        return entry

    def put_off(self, tx: Tx, entry: tuple[str, int]) -> None:
        raise AssertionError("nothing raises")

    async def carry(self, errand: tuple[str, int]) -> tuple[tuple[str, int], str]:
        self.carried.append(errand)
        await self.answered.wait()
        return errand, "done"

    def failed(self, errand: tuple[str, int]) -> str:
        return "failed"

    def note(self, tx: Tx, errand: tuple[str, int], answer: str) -> None:
        tx.after_commit(lambda: self.left.remove(errand))


async def test_one_of_each_key_is_on_its_way_at_a_time(place: Place, groups_run_once: None) -> None:
    road = Road(place.conn, place.keys, place.config, StillClock(place.now), CountedChance(), fsync_s=0.0)
    queue = Queue(road, [("west", 1), ("west", 2), ("barn", 3)])
    for _ in range(4):
        queue.wake()
        await road.act(lambda tx: None)
        await asyncio.sleep(0)
    assert sorted(queue.carried) == [("barn", 3), ("west", 1)]
    queue.answered.set()
    async with asyncio.timeout(30):
        while queue.left:
            await road.act(lambda tx: None)
    assert sorted(queue.carried) == [("barn", 3), ("west", 1), ("west", 2)]
    await queue.close()
