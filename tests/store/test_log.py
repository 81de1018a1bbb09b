"""The log forgets, and never gives an id again."""

import asyncio

from lauschen.core.actor import GUEST, Actor, ActorKind, person
from lauschen.core.ids import StaffId
from lauschen.road.road import Road
from lauschen.store import log
from lauschen.store.upkeep.keeping import KEPT, forget
from tests.place import PHONE, CountedChance, Place
from tests.still_clock import StillClock

ALL = log.Kept(1e12, 1e12, 1e12)


def make_road(place: Place) -> Road:
    return Road(place.conn, place.keys, place.config, StillClock(), CountedChance(), fsync_s=0.0)


async def hear(road: Road) -> None:
    await road.act(lambda tx: tx.log("note", mac=PHONE))


async def test_ids_go_on_after_an_empty_month_and_a_restart(place: Place) -> None:
    road = make_road(place)
    await asyncio.gather(*(hear(road) for _ in range(5)))
    assert log.last_log_id(place.conn) == 5
    assert log.forget_events(place.conn, ALL, 0, 3) == (3, 3)  # in slices
    assert log.forget_events(place.conn, ALL, 3, 3) == (2, 0)
    assert log.forget_events(place.conn, ALL, 0, 3) == (0, 0)
    assert log.log_before(place.conn, None, 10) == []
    again = make_road(place)
    await hear(again)
    assert [row.id for row in log.log_before(place.conn, None, 10)] == [6]


def test_nothing_new_is_forgotten(place: Place) -> None:
    place.ask()
    assert forget(place.conn, KEPT[0], place.now, 0, 100) == (0, 0)
    assert log.forget_events(place.conn, log.Kept(*[place.now] * 3), 0, 100)[0] == 0
    assert log.last_log_id(place.conn) == 1


async def test_acts_of_the_house_outlast_the_log_and_hold_nobody_up(place: Place) -> None:
    road = make_road(place)
    for by, mac in (
        (person(StaffId(1)), None),
        (person(StaffId(1)), PHONE),
        (GUEST, PHONE),
        (None, None),
        (Actor(ActorKind.COMMAND_LINE), None),
    ):
        await road.act(lambda tx, mac=mac: tx.log("note", mac=mac), by=by)
    assert log.forget_events(place.conn, log.Kept(1e12, 0, 0), 0, 3) == (1, 3)
    assert log.forget_events(place.conn, log.Kept(1e12, 0, 0), 3, 3) == (1, 0)
    assert [row.id for row in log.log_before(place.conn, None, 10)] == [5, 2, 1]
    assert log.forget_events(place.conn, log.Kept(1e12, 1e12, 0), 0, 10) == (1, 0)
    assert [row.id for row in log.log_before(place.conn, None, 10)] == [5, 1]
    assert log.forget_events(place.conn, ALL, 0, 10) == (2, 0)
    assert log.last_log_id(place.conn) == 5
