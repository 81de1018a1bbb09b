"""The log forgets, and never gives an id again."""

import asyncio

from lauschen.road.road import Road
from lauschen.store import log
from tests.place import PHONE, CountedChance, Place
from tests.still_clock import StillClock


def make_road(place: Place) -> Road:
    return Road(place.conn, place.keys, place.house, StillClock(), CountedChance(), fsync_s=0.0)


async def hear(road: Road) -> None:
    await road.act(lambda tx: tx.log("note", mac=PHONE))


async def test_ids_go_on_after_an_empty_month_and_a_restart(place: Place) -> None:
    road = make_road(place)
    await asyncio.gather(*(hear(road) for _ in range(5)))
    assert log.last_log_id(place.conn) == 5
    assert log.forget_log(place.conn, 1e12, 3) == 3  # in slices
    assert log.forget_log(place.conn, 1e12, 3) == 2
    assert log.forget_log(place.conn, 1e12, 3) == 0
    assert log.log_before(place.conn, None, 10) == []
    again = make_road(place)
    await hear(again)
    assert [row.id for row in log.log_before(place.conn, None, 10)] == [6]


def test_nothing_new_is_forgotten(place: Place) -> None:
    place.ask()
    assert log.forget_log(place.conn, place.now, 100) == 0
    assert log.last_log_id(place.conn) == 1
