"""A disk that becomes slow holds nobody up but those who wait for their own commit."""

import asyncio
import sqlite3
import threading
from collections.abc import AsyncIterator
from pathlib import Path

import pytest

from lauschen.core.errors import Unavailable
from lauschen.road import commits
from lauschen.road.road import Road
from lauschen.store.db import DATABASE_NAME
from tests.place import CountedChance, Place
from tests.road.test_road import Note, kinds
from tests.slow_disk import SlowConnection, open_slowly
from tests.still_clock import StillClock

HERE = threading.get_ident()

pytestmark = pytest.mark.usefixtures("groups_run_once")


@pytest.fixture(autouse=True)
def on_a_busy_machine(monkeypatch: pytest.MonkeyPatch) -> None:
    """What is slow here is so by far: a busy machine alone makes no commit slow, and splits no group."""
    monkeypatch.setattr("lauschen.road.road.GROUP_S", 60.0)
    monkeypatch.setattr(commits, "SLOW_S", 0.25)
    monkeypatch.setattr(commits, "QUICK_S", 0.2)


@pytest.fixture
async def conn(data: Path) -> AsyncIterator[SlowConnection]:
    made = open_slowly(data / DATABASE_NAME)
    yield made
    made.close()


@pytest.fixture
async def road(place: Place, conn: SlowConnection) -> AsyncIterator[Road]:
    made = Road(conn, place.keys, place.config, StillClock(), CountedChance(), fsync_s=0.0)
    yield made
    made.close()


async def note(road: Road) -> None:
    await road.act(lambda tx: tx.log("note"))


async def test_a_slow_commit_moves_the_next_ones_to_their_thread(road: Road, conn: SlowConnection) -> None:
    await note(road)
    assert conn.committed_by == [HERE]
    conn.delay_s = commits.SLOW_S
    await note(road)
    assert conn.committed_by == [HERE, HERE]  # it was found out by this one
    await note(road)
    assert conn.committed_by[2] != HERE


async def test_the_loop_goes_on_while_a_commit_takes_long(road: Road, conn: SlowConnection) -> None:
    conn.delay_s = commits.SLOW_S
    await note(road)
    conn.delay_s = 0.2
    turns, slow = 0, asyncio.ensure_future(note(road))
    while not slow.done():
        await asyncio.sleep(0.001)
        turns += 1
    assert turns > 5
    await slow


async def test_quiet_minutes_move_it_back(
    road: Road, conn: SlowConnection, monkeypatch: pytest.MonkeyPatch
) -> None:
    conn.delay_s = commits.SLOW_S
    await note(road)
    conn.delay_s = 0.0
    await note(road)
    assert road.commits_in_thread
    monkeypatch.setattr(commits, "QUIET_S", 0.0)
    await note(road)  # quick again for as long as it takes now
    assert not road.commits_in_thread
    await note(road)
    assert conn.committed_by[-1] == HERE


async def test_one_slow_commit_in_the_thread_begins_the_wait_anew(
    road: Road, conn: SlowConnection, monkeypatch: pytest.MonkeyPatch
) -> None:
    conn.delay_s = commits.SLOW_S
    await note(road)
    monkeypatch.setattr(commits, "QUIET_S", 0.0)
    await note(road)
    assert road.commits_in_thread


@pytest.mark.parametrize("fsync_s", [0.0, 1.0], ids=["on the loop", "in its thread"])
async def test_a_commit_that_fails_is_tried_again_one_by_one(
    place: Place, conn: SlowConnection, fsync_s: float
) -> None:
    road = Road(conn, place.keys, place.config, StillClock(), CountedChance(), fsync_s=fsync_s)
    conn.error = sqlite3.IntegrityError("a deferred constraint")
    order: list[str] = []
    jobs = [Note(order, "a"), Note(order, "b")]
    for job in jobs:
        road.put(job)
    assert await asyncio.gather(*(job.over for job in jobs)) == ["done", "done"]
    assert order == ["run a", "run b", "run a", "done a", "run b", "done b"]
    assert kinds(place) == ["a", "b"]
    await note(road)
    road.close()


@pytest.mark.parametrize("fsync_s", [0.0, 1.0], ids=["on the loop", "in its thread"])
async def test_a_commit_that_finds_the_disk_full_answers_nothing(
    place: Place, conn: SlowConnection, fsync_s: float
) -> None:
    road = Road(conn, place.keys, place.config, StillClock(), CountedChance(), fsync_s=fsync_s)
    full = sqlite3.OperationalError("database or disk is full")
    full.sqlite_errorname = "SQLITE_FULL"
    conn.error = full
    job = Note([], "a")
    road.put(job)
    assert await job.over == "failed"
    assert (kinds(place), road.trouble is not None) == ([], True)
    conn.error = full
    with pytest.raises(Unavailable):
        await note(road)
    await note(road)
    assert kinds(place) == ["note"]
    road.close()


async def test_what_looks_at_the_connection_waits_for_the_commit(road: Road, conn: SlowConnection) -> None:
    conn.delay_s = commits.SLOW_S
    await note(road)
    conn.delay_s = 0.1
    order: list[str] = []

    async def commit() -> None:
        await note(road)
        order.append("committed")

    async def look() -> None:
        order.append(
            str(await road.between_groups(lambda c: (c.in_transaction, threading.get_ident() == HERE)))
        )
        assert await road.copy_log()
        order.append("copied")

    committing = asyncio.ensure_future(commit())
    await asyncio.sleep(0.02)  # the commit is under way
    await asyncio.gather(committing, look())
    assert order == ["committed", "(False, False)", "copied"]
