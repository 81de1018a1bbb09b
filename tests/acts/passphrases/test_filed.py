"""The file of passphrases: what stands in it, and who is inside by having joined with it."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest

from lauschen.acts.config.pauses import end_pause, pause_network
from lauschen.acts.config.ways import offer_ways
from lauschen.acts.passphrases import changing
from lauschen.acts.passphrases.filed import file_text, joined_by_file, left_the_file
from lauschen.core.decide.standing import State
from lauschen.core.ids import KeyId, Mac, NetworkId
from lauschen.core.limits.terms import Own, Terms
from lauschen.road.tx import Tx
from lauschen.serve.first_run import DATABASE_NAME, KEY_NAME
from lauschen.store.config.settings import load_config
from lauschen.store.passphrases import bound, keys
from tests.cloister import ATTIC, CLOISTER, EAST, Cloister
from tests.place import OTHER, PHONE, Place

TEXT = "vase-trumpet-elbow-9"


@pytest.fixture
def cloister(place: Place) -> Cloister:
    return Cloister(place)


@pytest.fixture
def is_in_file(cloister: Cloister, data: Path) -> Callable[[], bool]:
    def look() -> bool:
        return TEXT in file_text(data / DATABASE_NAME, data / KEY_NAME, CLOISTER, cloister.place.now)

    return look


def join(cloister: Cloister, key: KeyId | None, mac: Mac = PHONE) -> bool:
    with cloister.place.tx(is_act=False) as tx:
        return joined_by_file(tx, mac, CLOISTER, ATTIC, key)


def configure(cloister: Cloister, act: Callable[[Tx], None]) -> None:
    place = cloister.place
    with place.tx() as tx:
        act(tx)
    place.config = load_config(place.conn, place.keys)


def test_nobody_stands_in_it_while_the_network_is_paused_or_the_way_is_off(
    cloister: Cloister, is_in_file: Callable[[], bool]
) -> None:
    cloister.issue(text=TEXT)
    assert is_in_file()
    configure(cloister, lambda tx: pause_network(tx, CLOISTER, until=None, why="", ends_stays=False))
    assert not is_in_file()
    configure(cloister, lambda tx: end_pause(tx, CLOISTER))
    assert is_in_file()
    off = [replace(way, is_off=True) for way in cloister.place.config.networks[CLOISTER].ways]
    configure(cloister, lambda tx: offer_ways(tx, CLOISTER, off))
    assert not is_in_file()


def test_who_joins_is_inside_until_their_key_ends_and_by_no_key_of_elsewhere(cloister: Cloister) -> None:
    key = cloister.key(cloister.issue(text=TEXT))
    elsewhere = cloister.key(cloister.issue("Jonas Quist", "maple-lantern-drift-2", network=NetworkId(1)))
    assert not join(cloister, None)
    assert not join(cloister, elsewhere.id)
    assert join(cloister, key.id)
    assert cloister.standing().state is State.INSIDE
    with cloister.place.tx() as tx:
        keys.end_key(tx.conn, key.id, tx.now + 60)
    assert join(cloister, key.id)
    cloister.place.now += 60
    assert not join(cloister, key.id)


def test_who_was_taken_off_is_thrown_off_whenever_it_joins(cloister: Cloister) -> None:
    ines = cloister.issue(text=TEXT)
    key = cloister.key(ines)
    assert join(cloister, key.id)
    with cloister.place.tx() as tx:
        changing.take_off(tx, ines, PHONE)
    assert not join(cloister, key.id)
    assert join(cloister, key.id, OTHER)
    with cloister.place.tx() as tx:
        changing.take_on_again(tx, ines, PHONE)
    assert join(cloister, key.id)


def test_who_joins_by_a_newer_key_has_that_one(cloister: Cloister) -> None:
    ines = cloister.issue(text=TEXT)
    assert join(cloister, cloister.key(ines).id)
    with cloister.place.tx() as tx:
        changing.renew(tx, ines, keys.NewKey("drift-lantern-8", bytes(32), b""), 600)
    newer = cloister.key(ines)
    assert join(cloister, newer.id)
    known = bound.find_bound(cloister.place.conn, PHONE, CLOISTER)
    assert known is not None
    assert known.key == newer.id


def test_who_is_not_associated_any_more_left_unless_accounting_says_when(cloister: Cloister) -> None:
    key = cloister.key(cloister.issue(text=TEXT))
    assert join(cloister, key.id)
    cloister.ask(OTHER, EAST, key.id, "S2")
    cloister.report(mac=OTHER, session="S2", at=EAST)
    with cloister.place.tx(is_act=False) as tx:
        left_the_file(tx, CLOISTER, ATTIC, frozenset({PHONE}))
    assert cloister.standing().state is State.INSIDE
    for place in (ATTIC, EAST):
        with cloister.place.tx(is_act=False) as tx:
            left_the_file(tx, CLOISTER, place, frozenset())
    assert cloister.standing().state is State.LEFT
    assert cloister.standing(OTHER).state is State.INSIDE


def test_who_comes_from_another_access_point_is_inside_here(cloister: Cloister) -> None:
    key = cloister.key(cloister.issue(text=TEXT))
    cloister.ask(at=EAST, signed=key.id)
    assert cloister.standing().access_device == EAST
    assert join(cloister, key.id)
    assert (cloister.standing().access_device, cloister.standing().state) == (ATTIC, State.INSIDE)


def test_whose_time_is_over_is_thrown_off_before_anything_else_looks(cloister: Cloister) -> None:
    key = cloister.key(cloister.issue(text=TEXT, terms=Terms(own=Own(seconds=600))))
    assert join(cloister, key.id)
    cloister.place.now += 599
    assert join(cloister, key.id)
    cloister.place.now += 2
    assert not join(cloister, key.id)
    assert cloister.standing().state is not State.INSIDE


def test_who_is_seen_again_is_no_news_and_by_the_key_of_another_it_is(cloister: Cloister) -> None:
    def kept() -> tuple[int, ...]:
        tables = ("admission", "decision", "event", "placement")
        return tuple(
            int(cloister.place.conn.execute(f"SELECT count(*) FROM {one}").fetchone()[0]) for one in tables
        )

    ines = cloister.key(cloister.issue(text=TEXT))
    jonas = cloister.key(cloister.issue("Jonas Quist", "maple-lantern-drift-2"))
    assert join(cloister, ines.id)
    once = kept()
    assert join(cloister, ines.id)
    assert kept() == once
    assert join(cloister, jonas.id)
    assert kept()[0] == 2
    known = bound.find_bound(cloister.place.conn, PHONE, CLOISTER)
    assert known is not None
    assert known.credential == jonas.credential
