"""Whatever raises is caught at its own job, effect, timer or wish; the road goes on, and somebody is told."""

import asyncio
import re
import sqlite3
from collections.abc import AsyncIterator, Callable
from pathlib import Path
from types import SimpleNamespace

import pytest

import lauschen
from lauschen.acts.desk.helping import end_device_stay
from lauschen.acts.moving import errands, sender
from lauschen.acts.moving.errands import Errand, Saw
from lauschen.acts.moving.sender import Sender
from lauschen.api.now import attention as now_attention
from lauschen.api.now.attention import attention
from lauschen.api.words.speaker import Speaker
from lauschen.core.decide.standing import State
from lauschen.core.decide.wanted import Place as At
from lauschen.radius.listen.registry import Registry
from lauschen.road import patient
from lauschen.road import road as road_itself
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store.moving import places
from tests.place import GARDEN, OTHER, PHONE, CountedChance, Place
from tests.road.test_road import Note
from tests.still_clock import StillClock


def broken(*_: object) -> None:
    raise KeyError("bug")


@pytest.fixture(params=[0.0, 1.0], ids=["commit on the loop", "commit in a thread"])
async def road(place: Place, request: pytest.FixtureRequest) -> AsyncIterator[Road]:
    made = Road(place.conn, place.keys, place.config, StillClock(), CountedChance(), fsync_s=request.param)
    yield made
    made.close()


class Unsayable(Note):
    """A job whose answer cannot be sent."""

    def done(self) -> None:
        super().done()
        raise OSError("the socket is gone")

    def failed(self, error: Exception) -> bool:
        super().failed(error)
        raise OSError("the socket is gone")


async def test_an_answer_that_cannot_be_sent_takes_nobody_along(road: Road) -> None:
    order: list[str] = []
    jobs = [Unsayable(order, "a"), Note(order, "b")]
    for job in jobs:
        road.put(job)
    assert await asyncio.gather(*(job.over for job in jobs)) == ["done", "done"]
    assert await road.act(lambda tx: 7) == 7
    assert road.faults.kinds["answer"].reason == "OSError: the socket is gone"


async def test_nor_does_one_that_failed_and_cannot_say_so(road: Road) -> None:
    job = Unsayable([], "bad", KeyError("bug"))
    road.put(job)
    assert await job.over == "failed"
    assert await road.act(lambda tx: 7) == 7
    assert {kind: fault.count for kind, fault in road.faults.kinds.items()} == {"answer": 1, "request": 1}


async def test_nor_does_a_log_that_is_on_the_full_disk(road: Road, monkeypatch: pytest.MonkeyPatch) -> None:
    full = sqlite3.OperationalError("database or disk is full")
    full.sqlite_errorname = "SQLITE_FULL"
    with monkeypatch.context() as patched:
        patched.setattr(road_itself, "logger", SimpleNamespace(error=broken, info=broken))
        job = Note([], "a", full)
        road.put(job)
        assert await job.over == "failed"
    assert await road.act(lambda tx: 7) == 7


async def test_an_effect_that_raises_leaves_the_others_and_the_road(road: Road) -> None:
    seen: list[str] = []

    def act(tx: Tx) -> None:
        tx.effects += [broken, lambda: seen.append("other")]

    await road.act(act)
    assert seen == ["other"]
    assert await road.act(lambda tx: 7) == 7
    assert road.faults.kinds["effect"].count == 1


async def test_so_does_a_reader_of_sockets_and_what_runs_between_groups(road: Road) -> None:
    road.when_room(broken)
    with pytest.raises(KeyError):
        await road.between_groups(broken)
    assert await road.act(lambda tx: 7) == 7
    assert road.faults.kinds["reading"].count >= 2


async def test_a_timer_that_raises_leaves_the_others(road: Road) -> None:
    fired: list[str] = []
    road.clock.call_later(1, broken)
    road.clock.call_later(1, lambda: fired.append("same time"))
    road.clock.call_later(2, lambda: fired.append("later"))
    road.clock.advance(3)  # type: ignore[attr-defined]
    assert fired == ["same time", "later"]
    assert road.faults.kinds["timer"].reason == "KeyError: 'bug'"


async def test_a_request_that_raises_is_counted_and_shown_on_now_for_an_hour(
    road: Road, place: Place
) -> None:
    job = Note([], "bad", ZeroDivisionError("a \u202e bug"))
    road.put(job)
    await job.over

    def shown() -> list[str]:
        speaker = Speaker(place.config, {}, road.clock.now())
        found = attention(place.conn, road, Registry(place.config, b"k"), speaker)
        return [one.text for one in found if one.kind == "fault"]

    (text,) = shown()
    assert "Answering a request of an access device failed once" in text
    assert "ZeroDivisionError: a [202E] bug" in text
    road.clock.advance(3700)  # type: ignore[attr-defined]
    assert shown() == []


class Deaf:
    """A mover that remembers whom it moved, and cannot reach one of them."""

    def __init__(self) -> None:
        self.moved: list[int] = []
        self.raises_for: int | None = None
        self.news = asyncio.Event()

    def takes(self, errand: Errand) -> bool:
        return True

    async def bring_about(self, errand: Errand) -> Saw:
        self.moved.append(errand.standing.mac)
        self.news.set()
        if errand.standing.mac == self.raises_for:
            raise KeyError("bug")
        return Saw("accepted")


@pytest.fixture
async def two_ends(place: Place) -> AsyncIterator[tuple[Sender, Deaf, Road]]:
    """Two guests inside, whose stays are about to be ended."""
    place.let_in(place.issue()[0])
    place.let_in(place.issue()[0], OTHER, "T1", "visit-2")
    clock, mover = StillClock(place.now), Deaf()
    road = Road(place.conn, place.keys, place.config, clock, CountedChance(), fsync_s=0.0)
    sending = Sender(road, [mover])
    yield sending, mover, road
    await sending.close()


async def end_both(road: Road) -> None:
    def act(tx: Tx) -> None:
        for mac in (PHONE, OTHER):
            end_device_stay(tx, mac, GARDEN)

    await road.act(act)


async def until(road: Road, condition: Callable[[], bool]) -> None:
    """Something that follows from a committed group, a turn or two of the loop after it."""
    async with asyncio.timeout(30):
        while not condition():
            await road.act(lambda tx: None)


async def test_one_wish_that_raises_blocks_no_other(
    place: Place, two_ends: tuple[Sender, Deaf, Road], monkeypatch: pytest.MonkeyPatch
) -> None:
    _, mover, road = two_ends

    def make(tx: Tx, at: At) -> Errand | None:
        if at.mac == PHONE:
            raise KeyError("bug")
        return errands.make_errand(tx, at)

    monkeypatch.setattr(sender, "make_errand", make)
    await end_both(road)
    await asyncio.wait_for(mover.news.wait(), 30)
    assert mover.moved == [OTHER]
    assert road.faults.kinds["wish"].count == 1
    wish = place.wish(PHONE)
    assert wish is not None
    assert (wish.last_answer, wish.tries) == ("failed", 1)
    assert wish.next_at > road.clock.now()
    assert place.standing(PHONE).going is State.AT_DOOR


async def test_one_that_cannot_be_carried_is_kept_for_later(
    place: Place, two_ends: tuple[Sender, Deaf, Road]
) -> None:
    _, mover, road = two_ends
    mover.raises_for = PHONE
    await end_both(road)

    def is_noted() -> bool:
        wish = place.wish(PHONE)
        return wish is not None and wish.last_answer == "failed"

    await until(road, is_noted)
    assert sorted(mover.moved) == [PHONE, OTHER]
    assert road.faults.kinds["wish"].count == 1


async def test_a_look_that_raises_is_made_again(
    two_ends: tuple[Sender, Deaf, Road], monkeypatch: pytest.MonkeyPatch
) -> None:
    _, mover, road = two_ends
    with monkeypatch.context() as patched:
        patched.setattr(places, "due", broken)
        await end_both(road)
        await until(road, lambda: "sender" in road.faults.kinds)
    assert mover.moved == []
    road.clock.advance(patient.TROUBLE_S + 1)  # type: ignore[attr-defined]
    await asyncio.wait_for(mover.news.wait(), 30)


async def test_what_came_of_it_and_cannot_be_stored_is_done_again(
    two_ends: tuple[Sender, Deaf, Road], monkeypatch: pytest.MonkeyPatch
) -> None:
    sending, mover, road = two_ends
    with monkeypatch.context() as patched:
        patched.setattr(type(sending), "note", broken)
        await end_both(road)
        await until(road, lambda: len(mover.moved) == 2 and "sender" in road.faults.kinds)
    mover.news.clear()
    road.clock.advance(sender.IN_FLIGHT_S + 1)  # type: ignore[attr-defined]
    await asyncio.wait_for(mover.news.wait(), 30)


async def test_what_now_cannot_look_at_leaves_the_rest_to_be_seen(
    road: Road, place: Place, monkeypatch: pytest.MonkeyPatch
) -> None:
    registry = Registry(place.config, b"k")
    registry.note_unknown("192.0.2.9", b"", "authentication", road.clock.now())
    monkeypatch.setattr(now_attention, "_secrets", broken)
    found = attention(place.conn, road, registry, Speaker(place.config, {}, road.clock.now()))
    assert [one.kind for one in found] == ["fault", "unknown_access_device"]


def test_each_kind_of_fault_has_words() -> None:
    noted = re.compile(r"faults\.(?:note|run)\(([^,]+),")
    tree = Path(lauschen.__file__).parent
    calls = [call for file in tree.rglob("*.py") for call in noted.findall(file.read_text())]
    kinds = {kind for call in calls for kind in re.findall(r'"(\w+)"', call)}
    assert {"request", "act", "feed", "background"} <= kinds
    assert kinds | {Sender.fault} <= set(now_attention.FAULTS)
