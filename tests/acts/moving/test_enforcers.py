"""What is wanted is a state that enforcers of any kind bring about, and each place is seen by itself."""

import asyncio

import pytest

from lauschen.acts.arriving.arrivals import answer_arrival
from lauschen.acts.desk.helping import end_device_stay, give_time
from lauschen.acts.desk.undoing import shorten
from lauschen.acts.moving.errands import Errand, Saw, Seen
from lauschen.acts.moving.sender import Sender
from lauschen.acts.staying.reports import Event
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.standing import State
from lauschen.core.decide.wanted import ANSWER, CONFIRMED, REPORT
from lauschen.core.ids import Mac, RoleId
from lauschen.demo.site import SSID
from lauschen.road.road import Road
from lauschen.store import stays
from lauschen.store.moving import wanted
from tests.place import BARN, GARDEN, PHONE, WEST, CountedChance, Place
from tests.still_clock import StillClock


class Gate:
    """A fifth enforcer: it lets MAC addresses through, and knows no session, no address and no packet."""

    def __init__(self) -> None:
        self.through: dict[Mac, RoleId] = {}

    def takes(self, errand: Errand) -> bool:
        return errand.device.id == BARN

    async def bring_about(self, errand: Errand) -> Saw:
        if errand.lets_in and errand.role is not None:
            self.through[errand.place.mac] = errand.role
        else:
            self.through.pop(errand.place.mac, None)
        return Saw("accepted", Seen.HOLDS)


class Radius:
    """The one that is asked for all other places."""

    def __init__(self) -> None:
        self.heard: list[tuple[int, str | None]] = []
        self.news = asyncio.Event()
        self.waits: asyncio.Event | None = None
        self.seen, self.answer = Seen.NOTHING, "accepted"

    def takes(self, errand: Errand) -> bool:
        return True

    async def bring_about(self, errand: Errand) -> Saw:
        self.heard.append((errand.device.id, errand.standing.session_id))
        self.news.set()
        if self.waits is not None:
            await self.waits.wait()
        return Saw(self.answer, self.seen)


class Bench:
    def __init__(self, place: Place) -> None:
        self.place, self.gate, self.radius = place, Gate(), Radius()
        self.road = Road(
            place.conn, place.keys, place.config, StillClock(place.now), CountedChance(), fsync_s=0.0
        )
        self.sender = Sender(self.road, [self.gate, self.radius])

    async def until(self, state: State) -> None:
        async with asyncio.timeout(30):
            while (self.place.standing().state, self.place.standing().going) != (state, None):
                await self.road.act(lambda tx: None)


async def test_an_enforcer_that_knows_no_session_lets_a_guest_in_and_out(place: Place) -> None:
    place.ask(session=None, at=BARN)
    place.run(lambda tx: tx.conn.execute("UPDATE standing SET source = '', spelled = ''"))
    place.open_page()
    code = place.issue()[0]
    place.try_code(code)
    bench = Bench(place)
    bench.sender.wake()
    await bench.until(State.INSIDE)
    (at,) = place.places()
    assert bench.gate.through == {PHONE: at.role}
    assert (at.access_device, at.session_id, at.seen_by, at.next_at) == (BARN, "", CONFIRMED, None)
    await bench.road.act(lambda tx: end_device_stay(tx, PHONE, GARDEN))
    await bench.until(State.AT_DOOR)
    assert (bench.gate.through, bench.radius.heard) == ({}, [])
    await bench.sender.close()


def test_what_is_wanted_has_a_revision_for_each_change_and_a_repeated_answer_writes_nothing(
    place: Place,
) -> None:
    def rows() -> object:
        return (
            place.conn.execute("SELECT * FROM wanted").fetchall(),
            place.conn.execute("SELECT * FROM place").fetchall(),
        )

    place.let_in(place.issue()[0])
    before, seen = wanted.find_wanted(place.conn, PHONE, GARDEN), rows()
    assert before is not None
    assert (before.state, before.until) == (State.INSIDE, place.now + 8 * 3600)
    place.now += 600
    place.ask(medium=Medium.REAUTHORISED)
    place.ask()
    assert rows() == seen
    with place.tx() as tx:
        end_device_stay(tx, PHONE, GARDEN)
    (after,) = wanted.changed_since(place.conn, before.revision, 10)
    assert (after.state, after.admission, after.until) == (State.AT_DOOR, None, None)
    assert place.standing().going is State.AT_DOOR
    place.ask()
    seen = rows()
    place.now += 1801  # past the time-out before login, which is no limit
    place.ask()
    assert rows() == seen


def test_what_is_undone_before_it_was_sent_needs_no_request(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    for act, is_due in ((give_time, True), (shorten, False)):
        with place.tx() as tx:
            act(tx, place.voucher(code), 3600)
        assert (place.wish() is not None) is is_due


async def test_what_is_taken_back_after_it_was_sent_is_asked_for_again(place: Place) -> None:
    """Nobody knows whether the first request was carried out."""
    code = place.issue()[0]
    place.let_in(code)
    bench = Bench(place)
    bench.radius.answer = "silent"
    await bench.road.act(lambda tx: give_time(tx, place.voucher(code), 3600))
    async with asyncio.timeout(30):
        while (wish := place.wish()) is None or not wish.tries:
            await bench.road.act(lambda tx: None)
    await bench.road.act(lambda tx: shorten(tx, place.voucher(code), 3600))
    wish = place.wish()
    assert wish is not None
    await bench.sender.close()
    place.restart()
    place.ask(medium=Medium.REAUTHORISED)  # it is told the same as when it came in, and that settles it
    assert place.wish() is None


def both_places(place: Place) -> None:
    """The MAC address has an open stay at two access devices, which roaming does not explain."""
    place.let_in(place.issue()[0])
    place.report(Event.START, session="B1", access_device=BARN, nas_identifier="barn")
    assert [(at.access_device, at.session_id) for at in place.places()] == [(WEST, "S1"), (BARN, "B1")]


def test_an_end_is_asked_for_at_each_place_and_an_answer_at_one_confirms_nothing_at_another(
    place: Place,
) -> None:
    both_places(place)
    with place.tx() as tx:
        end_device_stay(tx, PHONE, GARDEN)
    assert [at.next_at for at in place.places()] == [place.now, place.now]
    place.ask(session="B1", at=BARN)  # and is told to wait at the door
    west, barn = place.places()
    assert (west.next_at, barn.next_at) == (place.now, None)
    assert place.standing().state is State.AT_DOOR
    place.report(Event.STOP, session="S1", session_time=60)
    assert [at.session_id for at in place.places()] == ["B1"]


async def test_each_place_is_asked_by_its_own_session_and_two_at_once(place: Place) -> None:
    both_places(place)
    place.run(lambda tx: tx.conn.execute("UPDATE place SET access_device = 1"))
    place.run(lambda tx: tx.conn.execute("UPDATE stay SET access_device = 1"))
    place.run(lambda tx: tx.conn.execute("UPDATE standing SET access_device = 1"))
    bench = Bench(place)
    bench.radius.waits = asyncio.Event()
    await bench.road.act(lambda tx: end_device_stay(tx, PHONE, GARDEN))
    async with asyncio.timeout(30):
        while len(bench.radius.heard) < 2:
            await bench.radius.news.wait()
            bench.radius.news.clear()
    # Due again while both are on their way: each waits for its answer.
    await bench.road.act(lambda tx: tx.conn.execute("UPDATE place SET next_at = 0") and None)
    for _ in range(3):
        bench.sender.wake()
        await bench.road.act(lambda tx: None)
    assert sorted(bench.radius.heard) == [(WEST, "B1"), (WEST, "S1")]
    bench.radius.waits.set()
    await bench.sender.close()


async def test_an_answer_about_what_is_wanted_no_more_ends_nothing(place: Place) -> None:
    """A NAK 503 (rulings 8.4) that was on its way while the access device asked, and was answered."""
    place.let_in(place.issue()[0])
    bench = Bench(place)
    bench.radius.waits, bench.radius.seen = asyncio.Event(), Seen.GONE
    await bench.road.act(lambda tx: end_device_stay(tx, PHONE, GARDEN))
    async with asyncio.timeout(30):
        await bench.radius.news.wait()
    asked = Arrival(Medium.ASKED, PHONE, WEST, ssid=SSID.encode(), spelled=f"{PHONE:012X}", session_id="S1")
    await bench.road.act(lambda tx: answer_arrival(tx, asked))
    bench.radius.waits.set()
    async with asyncio.timeout(30):
        while "device_answered" not in place.kinds():
            await bench.road.act(lambda tx: None)
    assert place.standing().state is State.AT_DOOR
    await bench.sender.close()


@pytest.mark.parametrize("session", ["", "S1"])
def test_nothing_is_sent_where_no_session_tells_two_places_apart(place: Place, session: str) -> None:
    both_places(place)
    place.run(lambda tx: tx.conn.execute("UPDATE place SET access_device = 1"))
    place.run(
        lambda tx: tx.conn.execute("UPDATE place SET session_id = ? WHERE session_id = 'S1'", (session,))
    )
    place.run(
        lambda tx: tx.conn.execute(
            "UPDATE standing SET access_device = 1, session_id = ?", (session and None,)
        )
    )
    with place.tx() as tx:
        end_device_stay(tx, PHONE, GARDEN)
    elsewhere = [at for at in place.places() if at.session_id == (session or "B1")]
    assert [at.next_at for at in elsewhere] == [None]


def test_where_a_guest_roamed_away_from_is_let_go_by_its_own_session(place: Place) -> None:
    place.let_in(place.issue()[0])
    token = place.conn.execute("SELECT token FROM admission").fetchone()[0]
    place.conn.execute("UPDATE stay SET user = ?", (token,))
    place.restart()
    place.report(Event.START, session="B1", access_device=BARN, nas_identifier="barn", user=token)
    west, barn = place.places()
    assert (west.session_id, west.next_at) == ("S1", place.now + 5)
    assert (barn.session_id, barn.next_at, barn.seen_by) == ("B1", None, REPORT)
    assert stays.open_stay(place.conn, PHONE, "S1", WEST) is None
    place.report(Event.STOP, session="S1", session_time=60)  # it says by itself that the guest is gone
    assert [at.session_id for at in place.places()] == ["B1"]


def test_a_place_is_seen_by_what_its_access_device_was_answered_and_by_what_it_reports(place: Place) -> None:
    place.ask()
    assert [at.seen_by for at in place.places()] == [ANSWER]
    place.let_in(place.issue()[0])
    token = place.conn.execute("SELECT token FROM admission").fetchone()[0]
    place.report(Event.STOP, session_time=60)
    assert place.places() == []
    place.now += 5
    place.report(Event.START, session="S2", user=token)
    assert [(at.session_id, at.seen_by) for at in place.places()] == [("S2", REPORT)]
