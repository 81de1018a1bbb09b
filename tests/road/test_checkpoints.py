"""The write-ahead log does not grow for ever, however busy the road is."""

from collections.abc import Iterator
from pathlib import Path

import pytest

from lauschen import checkpoints
from lauschen.checkpoints import Checkpoints
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store.db import DATABASE_NAME, checkpoint, log_state, open_reader
from tests.place import CountedChance, Place
from tests.still_clock import StillClock


@pytest.fixture
def road(place: Place) -> Iterator[Road]:
    made = Road(place.conn, place.keys, place.house, StillClock(), CountedChance(), fsync_s=0.0)
    yield made
    made.close()


@pytest.fixture
def database(data: Path) -> Path:
    return data / DATABASE_NAME


def note(tx: Tx) -> None:
    tx.hear("note", facts={"text": "x" * 500})


async def write(road: Road, groups: int) -> None:
    for _ in range(groups):
        await road.act(note)


async def test_the_state_of_the_log_is_read_from_its_index(road: Road, database: Path) -> None:
    assert log_state(database.with_name("nothing")).octets == 0
    await write(road, 20)
    log = log_state(database)
    pages = int(road._conn.execute("PRAGMA page_size").fetchone()[0]) + 24
    assert log.waiting * pages == log.octets > 20 * 500
    checkpoint(database)
    assert (log_state(database).octets, log_state(database).waiting) == (log.octets, 0)
    await write(road, 1)
    assert log_state(database).octets < log.octets  # begun anew


async def test_what_was_committed_beside_a_checkpoint_is_copied_between_groups(
    road: Road, database: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(checkpoints, "BUSY_OCTETS", 50_000)
    monkeypatch.setattr(checkpoints, "IDLE_OCTETS", 50_000)
    monkeypatch.setattr(checkpoints, "checkpoint", lambda _: None)  # as if all came while it ran
    keeper = Checkpoints(database, road)
    await write(road, 10)
    await keeper.look()
    assert log_state(database).waiting > 0  # still short enough
    await write(road, 60)
    await keeper.look()
    assert log_state(database).waiting == 0
    await write(road, 1)
    assert log_state(database).octets < 50_000


async def test_a_reader_only_puts_it_off(road: Road, database: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(checkpoints, "BUSY_OCTETS", 0)
    monkeypatch.setattr(checkpoints, "IDLE_OCTETS", 0)
    keeper = Checkpoints(database, road)
    reader = open_reader(database)
    reader.execute("BEGIN")
    reader.execute("SELECT count(*) FROM heard").fetchone()
    await write(road, 10)
    await keeper.look()
    assert log_state(database).waiting > 0
    reader.close()
    await keeper.look()
    assert log_state(database).waiting == 0


async def test_nothing_is_copied_inside_a_transaction(road: Road) -> None:
    seen: list[bool] = []

    def act(tx: Tx) -> None:
        road.between_groups(lambda: seen.append(tx.conn.in_transaction))
        assert seen == []

    await road.act(act)
    assert seen == [False]
    road.between_groups(lambda: seen.append(True))  # nothing is under way: at once
    assert seen == [False, True]
