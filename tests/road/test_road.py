"""Groups are committed together, a bad job goes alone, and nothing answers that was not stored."""

import asyncio
import sqlite3
from collections.abc import AsyncIterator

import pytest

from lauschen.core.errors import Invalid, Unavailable
from lauschen.road.road import Road
from lauschen.road.trouble import Trouble
from lauschen.road.tx import Tx
from tests.place import CountedChance, Place
from tests.still_clock import StillClock

pytestmark = pytest.mark.usefixtures("groups_run_once")


@pytest.fixture(params=[0.0, 1.0], ids=["commit on the loop", "commit in a thread"])
async def road(
    place: Place, request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch
) -> AsyncIterator[Road]:
    # What is queued together is one group, however slow the machine is.
    monkeypatch.setattr("lauschen.road.road.GROUP_S", 60.0)
    made = Road(place.conn, place.keys, place.config, StillClock(), CountedChance(), fsync_s=request.param)
    yield made
    made.close()


class Note:
    """A job that writes one row, or raises."""

    is_packet = True

    def __init__(self, order: list[str], name: str, error: Exception | None = None) -> None:
        self.order, self.name, self.error = order, name, error
        self.runs = 0
        self.over = asyncio.get_running_loop().create_future()

    def run(self, tx: Tx) -> None:
        self.runs += 1
        self.order.append(f"run {self.name}")
        tx.log(self.name)
        if self.error:
            raise self.error

    def done(self) -> None:
        self.order.append(f"done {self.name}")
        self.over.set_result("done")

    def failed(self, error: Exception) -> bool:
        self.order.append(f"failed {self.name}")
        self.over.set_result("failed")
        return False


def kinds(place: Place) -> list[str]:
    return [k for (k,) in place.conn.execute("SELECT kind FROM event ORDER BY id")]


async def test_answers_leave_after_the_commit_that_holds_all_of_the_group(road: Road, place: Place) -> None:
    order: list[str] = []
    jobs = [Note(order, name) for name in "abc"]
    for job in jobs:
        road.put(job)
    await asyncio.gather(*(job.over for job in jobs))
    assert order == ["run a", "run b", "run c", "done a", "done b", "done c"]
    assert kinds(place) == ["a", "b", "c"]
    assert road.feed.revision == 1


async def test_a_group_that_takes_long_leaves_the_rest_to_the_next(
    road: Road, place: Place, monkeypatch: pytest.MonkeyPatch
) -> None:
    """But for a slow COMMIT, which all that wait share."""
    monkeypatch.setattr("lauschen.road.road.GROUP_S", 0.0)
    order: list[str] = []
    jobs = [Note(order, name) for name in "ab"]
    for job in jobs:
        road.put(job)
    await asyncio.gather(*(job.over for job in jobs))
    if road.commits_in_thread:
        assert (order, road.feed.revision) == (["run a", "run b", "done a", "done b"], 1)
    else:
        assert (order, road.feed.revision) == (["run a", "done a", "run b", "done b"], 2)


async def test_a_group_grows_with_the_time_that_a_commit_takes(
    road: Road, monkeypatch: pytest.MonkeyPatch
) -> None:
    """At 200 ms for each, groups of 64 would be 320 a second, however many come."""
    monkeypatch.setattr(road._commits, "last_s", 0.2)
    order: list[str] = []
    jobs = [Note(order, "a") for _ in range(300)]
    for job in jobs:
        road.put(job)
    await asyncio.gather(*(job.over for job in jobs))
    assert road.feed.revision == (1 if road.commits_in_thread else 5)


async def test_a_bad_job_does_not_take_its_group_along(road: Road, place: Place) -> None:
    order: list[str] = []
    jobs = [Note(order, "a"), Note(order, "bad", KeyError("bug")), Note(order, "c")]
    for job in jobs:
        road.put(job)
    assert await asyncio.gather(*(job.over for job in jobs)) == ["done", "failed", "done"]
    assert kinds(place) == ["a", "c"]
    assert road.not_stored == 1


async def test_a_full_disk_answers_nothing_and_clears_by_itself(road: Road, place: Place) -> None:
    error = sqlite3.OperationalError("database or disk is full")
    error.sqlite_errorname = "SQLITE_FULL"
    order: list[str] = []
    jobs = [Note(order, "a"), Note(order, "b", error)]
    for job in jobs:
        road.put(job)
    assert await asyncio.gather(*(job.over for job in jobs)) == ["failed", "failed"]
    assert road.trouble is not None
    assert kinds(place) == []
    await road.act(lambda tx: tx.log("small"))  # a row may fit where a group of answers does not
    assert road.trouble is not None
    again = Note(order, "again")
    road.put(again)
    assert await again.over == "done"
    assert road.trouble is None


async def test_it_is_tried_by_itself_whether_something_can_be_stored_again(road: Road, place: Place) -> None:
    road.trouble = Trouble(1.0, "database or disk is full")
    place.conn.execute("PRAGMA query_only = ON")
    await road.try_to_commit()
    assert road.trouble is not None
    place.conn.execute("PRAGMA query_only = OFF")
    await road.try_to_commit()
    assert road.trouble is None


async def test_an_act_that_is_refused_keeps_nothing_and_says_why(road: Road, place: Place) -> None:
    def act(tx: Tx) -> None:
        tx.log("half")
        tx.conn.execute("INSERT INTO wrong_try (at, mac, network, source) VALUES (1, 1, 1, 'x')")
        raise Invalid("no", field="plan", mend="Choose another.")

    order: list[str] = []
    beside = Note(order, "beside")
    road.put(beside)
    with pytest.raises(Invalid):
        await road.act(act)
    assert await beside.over == "done"
    assert kinds(place) == ["beside"]
    assert place.conn.execute("SELECT count(*) FROM wrong_try").fetchone() == (0,)


async def test_an_act_with_a_bug_surfaces_and_the_road_goes_on(road: Road) -> None:
    with pytest.raises(ZeroDivisionError):
        await road.act(lambda tx: 1 // 0)
    assert await road.act(lambda tx: 7) == 7


async def test_a_writer_beside_us_is_waited_for_without_holding_the_loop(road: Road, place: Place) -> None:
    path = place.conn.execute("PRAGMA database_list").fetchone()[2]
    other = sqlite3.connect(path, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    asked = asyncio.ensure_future(road.act(lambda tx: 7))
    turns = 0
    while turns < 50:
        await asyncio.sleep(0)
        turns += 1
    assert not asked.done()
    other.execute("ROLLBACK")
    other.close()
    assert await asyncio.wait_for(asked, 30) == 7
    assert road.longest_hold_s < 1


async def test_a_database_that_stays_locked_is_said(
    road: Road, place: Place, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("lauschen.road.road.BEGIN_TRIES", 2)
    path = place.conn.execute("PRAGMA database_list").fetchone()[2]
    other = sqlite3.connect(path, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    with pytest.raises(Unavailable):
        await road.act(lambda tx: 7)
    assert road.trouble is not None
    other.execute("ROLLBACK")
    other.close()


async def test_a_changed_configuration_is_in_force_for_the_next_job_of_its_group(
    road: Road, place: Place
) -> None:
    told: list[str] = []
    road.when_config(lambda house: told.append(house.site_name))
    seen: list[str] = []

    def rename(tx: Tx) -> None:
        tx.conn.execute("UPDATE house SET site_name = 'New name'")
        tx.reconfigure()

    changing = asyncio.ensure_future(road.act(rename))
    looking = asyncio.ensure_future(road.act(lambda tx: seen.append(tx.config.site_name)))
    await asyncio.gather(changing, looking)
    assert (seen, told, road.config.site_name) == (["New name"], ["New name"], "New name")
    assert road.feed.revision == 1  # one group


async def test_one_that_is_not_stored_is_in_force_for_nobody(road: Road, place: Place) -> None:
    told: list[str] = []
    road.when_config(lambda house: told.append(house.site_name))
    before = road.config.site_name
    seen: list[str] = []

    def rename(tx: Tx) -> None:
        tx.conn.execute("UPDATE house SET site_name = 'New name'")
        tx.reconfigure()
        raise Invalid("no", field="x", mend="y")

    changing = asyncio.ensure_future(road.act(rename))
    await road.act(lambda tx: seen.append(tx.config.site_name))
    with pytest.raises(Invalid):
        await changing
    assert (seen, told, road.config.site_name) == ([before], ["New name", before], before)

    def rename_well(tx: Tx) -> None:
        tx.conn.execute("UPDATE house SET site_name = 'New name'")
        tx.reconfigure()

    full = sqlite3.OperationalError("database or disk is full")
    full.sqlite_errorname = "SQLITE_FULL"
    told.clear()
    changing = asyncio.ensure_future(road.act(rename_well))
    await asyncio.sleep(0)  # it is queued first, and its group is undone by the next job
    road.put(Note([], "bad", full))
    with pytest.raises(Unavailable):
        await changing
    assert (told, road.config.site_name) == (["New name", before], before)


async def test_it_is_pressed_while_jobs_wait_for_each_other(road: Road) -> None:
    assert not road.is_pressed
    await asyncio.gather(*(road.act(lambda _: None) for _ in range(12)))
    assert road.is_pressed
    await road.act(lambda _: None)
    assert road.is_pressed, "one small group is no rest yet"
    assert isinstance(road.clock, StillClock)
    road.clock.advance(3.0)
    await road.act(lambda _: None)
    assert not road.is_pressed
