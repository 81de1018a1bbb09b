"""The write-ahead log does not grow for ever, however busy the road is."""

import asyncio
from collections.abc import Iterator
from pathlib import Path
from sqlite3 import Connection

import pytest

from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.serve import checkpoints
from lauschen.serve.checkpoints import Checkpoints
from lauschen.store.db import DATABASE_NAME, checkpoint, open_reader
from tests.place import CountedChance, Place
from tests.still_clock import StillClock


@pytest.fixture
def road(place: Place) -> Iterator[Road]:
    made = Road(place.conn, place.keys, place.config, StillClock(), CountedChance(), fsync_s=0.0)
    yield made
    made.close()


@pytest.fixture
def database(data: Path) -> Path:
    return data / DATABASE_NAME


def note(tx: Tx) -> None:
    tx.log("note", facts={"text": "x" * 500})


async def write(road: Road, groups: int) -> None:
    for _ in range(groups):
        await road.act(note)


def pages_in_log(road: Road) -> int:
    """Since it was begun anew; asking copies them, so it is asked last."""
    return int(road._conn.execute("PRAGMA wal_checkpoint(PASSIVE)").fetchone()[1])


async def test_what_was_committed_beside_a_checkpoint_is_copied_between_groups(
    road: Road, database: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(checkpoints, "BUSY_ROWS", 50)
    monkeypatch.setattr(checkpoints, "IDLE_ROWS", 50)
    monkeypatch.setattr(checkpoints, "checkpoint", lambda _: None)  # as if all came while it ran
    keeper = Checkpoints(database, road)
    await write(road, 10)
    await keeper.look()
    assert keeper._copied_rows == 0  # still short enough
    await write(road, 60)
    await keeper.look()
    assert keeper._copied_rows == road.rows_written == 70
    await write(road, 1)
    assert pages_in_log(road) < 10  # begun anew


async def test_a_long_rest_is_left_to_the_thread(
    road: Road, database: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(checkpoints, "IDLE_ROWS", 0)
    monkeypatch.setattr(checkpoints, "SHORT_REST", 0)
    ran: list[Path] = []

    def busily(path: Path) -> None:
        ran.append(path)
        checkpoint(path)
        if len(ran) < 3:
            road._conn.execute(
                "INSERT INTO event (id, at, kind, facts) VALUES (?, 1, 'note', '{}')", (900 + len(ran),)
            )
            road.rows_written += 1

    monkeypatch.setattr(checkpoints, "checkpoint", busily)
    keeper = Checkpoints(database, road)
    await write(road, 10)
    await keeper.look()
    assert (len(ran), keeper._copied_rows) == (3, 12)


async def test_a_reader_only_puts_it_off(road: Road, database: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(checkpoints, "IDLE_ROWS", 0)
    keeper = Checkpoints(database, road)
    reader = open_reader(database)
    reader.execute("BEGIN")
    reader.execute("SELECT count(*) FROM event").fetchone()
    await write(road, 10)
    await keeper.look()
    assert keeper._copied_rows == 0
    reader.close()
    await keeper.look()
    assert keeper._copied_rows == 10


@pytest.mark.usefixtures("groups_run_once")  # the act begins what goes on after it
async def test_nothing_is_copied_inside_a_transaction(road: Road) -> None:
    seen: list[bool] = []

    def look(conn: Connection) -> None:
        seen.append(conn.in_transaction)

    def act(tx: Tx) -> "asyncio.Task[None]":
        looking = asyncio.ensure_future(road.between_groups(look))
        assert seen == []
        return looking

    await (await road.act(act))
    assert seen == [False]
    await road.between_groups(look)  # nothing is under way: at once
    assert seen == [False, False]
