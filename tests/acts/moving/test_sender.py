"""What is wanted is sent until it is seen to hold, and dropped when it is about a stay that is over."""

import asyncio
from collections.abc import AsyncIterator

import pytest

from lauschen.acts.arriving.arrivals import answer_arrival
from lauschen.acts.desk.helping import end_device_stay, give_time
from lauschen.acts.moving.errands import LATER_S, Errand, Saw, Seen
from lauschen.acts.moving.sender import Sender
from lauschen.acts.staying.reports import Event, Report, take_report
from lauschen.core.config.dialect import Move
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.standing import State
from lauschen.demo.site import SSID
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store import devices
from tests.place import GARDEN, OTHER, PHONE, WEST, CountedChance, Place, Wish
from tests.still_clock import StillClock


class Mover:
    """Plays the access device: answers from a list, and lets tests wait for the next request."""

    def __init__(self) -> None:
        self.answers: list[str] = []
        self.heard: list[tuple[str | None, Move]] = []
        self._news = asyncio.Event()

    def takes(self, errand: Errand) -> bool:
        return True

    async def bring_about(self, errand: Errand) -> Saw:
        self.heard.append((errand.standing.session_id, errand.how))
        self._news.set()
        answer = self.answers.pop(0) if self.answers else "accepted"
        return Saw(answer, Seen.GONE if answer == "nak:503" else Seen.NOTHING)

    async def until_heard(self, count: int) -> None:
        while len(self.heard) < count:
            self._news.clear()
            await asyncio.wait_for(self._news.wait(), 30)


class Line:
    """A road with a sender at its end."""

    def __init__(self, place: Place) -> None:
        self.place, self.clock, self.mover = place, StillClock(), Mover()
        self.clock.advance(place.now - self.clock.now())
        self.road = Road(place.conn, place.keys, place.config, self.clock, CountedChance(), fsync_s=0.0)
        self.sender = Sender(self.road, [self.mover])

    async def end_stay(self) -> None:
        await self.road.act(lambda tx: end_device_stay(tx, PHONE, GARDEN))

    async def noted(self) -> Wish:
        """The wish once the last answer was stored."""
        while True:
            wish = self.place.wish()
            assert wish is not None
            if wish.tries:
                return wish
            await asyncio.wait_for(self.road.feed.changed.wait(), 30)


@pytest.fixture
async def line(place: Place) -> AsyncIterator[Line]:
    place.let_in(place.issue()[0])
    made = Line(place)
    yield made
    await made.sender.close()


async def test_an_end_is_a_disconnect_that_names_the_session(line: Line) -> None:
    await line.end_stay()
    await line.mover.until_heard(1)
    assert line.mover.heard == [("S1", Move.DISCONNECT)]
    assert (await line.noted()).last_answer is None  # accepted, but not yet seen to hold


@pytest.mark.parametrize("answer", ["nak:504", "silent"])
async def test_a_nak_or_silence_is_kept_and_tried_again_later(line: Line, answer: str) -> None:
    line.mover.answers = [answer] * 6
    await line.end_stay()
    for tries, wait in enumerate((*LATER_S, LATER_S[-1]), start=1):
        await line.mover.until_heard(tries)
        while (wish := line.place.wish()) is None or wish.tries < tries:
            await asyncio.wait_for(line.road.feed.changed.wait(), 30)
        assert (wish.last_answer, round(wish.next_at - line.clock.now())) == (answer, wait)
        await asyncio.sleep(0)
        line.clock.advance(wait + 0.1)
    await line.mover.until_heard(6)


async def test_a_late_request_never_ends_the_next_stay(line: Line) -> None:
    line.mover.answers = ["silent"]
    await line.end_stay()
    await line.noted()
    again = Arrival(Medium.ASKED, PHONE, WEST, ssid=SSID.encode(), spelled="x", session_id="S2")
    await line.road.act(lambda tx: answer_arrival(tx, again))
    line.clock.advance(61)
    await line.mover.until_heard(2)
    while line.place.wish() is not None:
        await asyncio.wait_for(line.road.feed.changed.wait(), 30)
    assert [session for session, _ in line.mover.heard] == ["S1", "S1"]  # which has an open stay yet
    assert [at.session_id for at in line.place.places()] == ["S2"]
    assert line.place.standing().state is State.AT_DOOR


async def test_what_was_wanted_of_another_session_is_dropped(line: Line) -> None:
    line.mover.answers = ["silent"]
    await line.end_stay()
    await line.noted()
    line.place.conn.execute("UPDATE standing SET session_id = NULL")  # nothing tells the two apart any more
    line.clock.advance(61)
    while line.place.wish() is not None:
        await asyncio.wait_for(line.road.feed.changed.wait(), 30)
    assert len(line.mover.heard) == 1


async def test_after_a_start_everything_unconfirmed_goes_again(line: Line) -> None:
    line.mover.answers = ["silent"]
    await line.end_stay()
    await line.noted()
    await line.sender.start()
    await line.mover.until_heard(2)


async def test_a_device_that_is_gone_needs_no_moving(line: Line) -> None:
    standing = devices.find_standing(line.place.conn, PHONE, GARDEN)
    assert standing is not None
    line.mover.answers = ["silent"]
    await line.end_stay()
    await line.noted()
    line.place.conn.execute("DELETE FROM standing")
    line.clock.advance(61)
    while line.place.wish() is not None:
        await asyncio.wait_for(line.road.feed.changed.wait(), 30)
    assert len(line.mover.heard) == 1


async def test_a_silent_access_device_does_not_keep_others_waiting(
    place: Place, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("lauschen.acts.moving.sender.AT_ONCE", 1)
    place.let_in(place.issue()[0])
    place.let_in(place.issue()[0], OTHER, "T1", "visit-2")
    line = Line(place)
    held: asyncio.Event = asyncio.Event()

    async def never(errand: Errand) -> Saw:
        line.mover.heard.append((errand.standing.session_id, errand.how))
        line.mover._news.set()
        if errand.standing.mac == PHONE:
            await held.wait()
        return Saw("accepted")

    monkeypatch.setattr(line.mover, "bring_about", never)
    await line.end_stay()
    await line.mover.until_heard(1)
    await line.road.act(lambda tx: end_device_stay(tx, OTHER, GARDEN))
    await line.mover.until_heard(2)
    assert line.mover.heard[1][0] == "T1"
    held.set()
    await line.sender.close()


@pytest.mark.parametrize("has_stay", [True, False])
async def test_a_session_that_is_gone_already_is_an_end_confirmed(line: Line, has_stay: bool) -> None:
    """NAK 503 (rulings 8.4): it is not sent again, and nobody is told of a change that was not carried out."""
    if not has_stay:
        line.place.conn.execute("DELETE FROM stay")
    line.mover.answers = ["nak:503"]
    await line.end_stay()
    while line.place.wish() is not None:
        await asyncio.wait_for(line.road.feed.changed.wait(), 30)
    standing = line.place.standing()
    assert (standing.state, standing.going, standing.session_id) == (State.LEFT, None, None)
    if has_stay:
        assert line.place.conn.execute("SELECT end_cause FROM stay").fetchone() == ("gone",)
    assert line.place.conn.execute("SELECT ended IS NOT NULL FROM placement").fetchone() == (1,)
    line.clock.advance(3600)
    await line.road.act(lambda tx: None)
    assert len(line.mover.heard) == 1


async def test_to_a_change_it_means_the_same_and_no_disconnect_follows(line: Line) -> None:
    def give(tx: Tx) -> None:
        (credential,) = tx.conn.execute("SELECT id FROM credential").fetchone()
        give_time(tx, credential, 3600)

    line.mover.answers = ["nak:503"]
    await line.road.act(give)
    while line.place.wish() is not None:
        await asyncio.wait_for(line.road.feed.changed.wait(), 30)
    assert [how for _, how in line.mover.heard] == [Move.REAUTHORISE]
    standing = line.place.standing()
    assert (standing.state, standing.admission is not None) == (
        State.LEFT,
        True,
    )  # it may come back as it was


async def test_a_report_of_a_session_that_was_said_to_be_gone_brings_it_back(line: Line) -> None:
    line.mover.answers = ["nak:503"]
    await line.end_stay()
    while line.place.wish() is not None:
        await asyncio.wait_for(line.road.feed.changed.wait(), 30)
    heard = Report(Event.INTERIM, WEST, "west", 0, PHONE, SSID.encode(), "S1", session_time=60)
    await line.road.act(lambda tx: take_report(tx, heard))
    standing = line.place.standing()
    assert (standing.state, standing.going) == (State.INSIDE, State.AT_DOOR)
    assert line.place.wish() is not None
