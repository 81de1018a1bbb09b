"""One MAC address at two access devices: each place counts and is told; a question moves nobody who is elsewhere."""

from collections.abc import Callable

import pytest

from lauschen.acts.desk.helping import bar, end_device_stay, withdraw
from lauschen.acts.staying.reports import Event
from lauschen.acts.staying.sweep import Sweeper
from lauschen.core.decide.arrival import Medium
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.standing import State
from lauschen.core.ids import Mac, PlanId
from lauschen.core.limits.left import INTERIM_S
from lauschen.road.tx import Tx
from lauschen.store import admissions, stays
from tests.place import BARN, DAY_VISIT, GARDEN, PHONE, POSTCARD, WEST, Place


def token(place: Place) -> str:
    return str(place.conn.execute("SELECT token FROM admission").fetchone()[0])


def used(place: Place, code: str) -> int:
    grant = place.grant(code)
    assert grant is not None
    return grant.use.octets


def at_barn(place: Place, event: Event, seconds: int = 0, octets: int = 0, session: str = "B1") -> None:
    place.report(
        event, session=session, access_device=BARN, nas_identifier="barn", user=token(place), session_time=seconds,
        octets_out=octets,
    )  # fmt: skip


def at_west(place: Place, event: Event, seconds: int = 0, octets: int = 0) -> None:
    place.report(event, session_time=seconds, octets_out=octets, user=token(place))


def copied(place: Place, plan: PlanId = DAY_VISIT) -> str:
    """A guest is inside at West; another device with her address joins at the barn and gets the same Class."""
    code = place.issue(plan=plan)[0]
    place.let_in(code)
    place.conn.execute("UPDATE stay SET user = ?", (token(place),))
    place.restart()
    at_west(place, Event.INTERIM, 60, 100)
    decision, _ = place.ask(session="B1", at=BARN)
    assert decision.answer is Answer.ADMIT
    at_barn(place, Event.START)
    return code


def test_what_is_used_at_either_place_is_charged_as_long_as_both_report(place: Place) -> None:
    code = copied(place)
    for minute in range(1, 6):
        place.now += 60
        at_west(place, Event.INTERIM, 60 + 60 * minute, 100 + 1000 * minute)
        at_barn(place, Event.INTERIM, 60 * minute, 50 * minute)
    assert used(place, code) == 100 + 5000 + 250
    # It reports, but nobody uses anything there any more: it stays as it was.
    place.now += 60
    at_west(place, Event.INTERIM, 420, 5100)
    assert used(place, code) == 5350


def test_who_uses_more_than_there_is_at_the_other_place_is_held_at_both(place: Place) -> None:
    copied(place, POSTCARD)
    place.now += 60
    at_barn(place, Event.INTERIM, 60, 1000)
    at_west(place, Event.INTERIM, 120, 6 * 10**6)
    assert place.standing().wanted is State.HELD
    assert [at.next_at is not None for at in place.places()] == [True, True]


def test_both_in_use_for_a_minute_are_two_devices_with_two_seats(place: Place) -> None:
    copied(place)
    allowance = place.conn.execute("SELECT allowance FROM admission").fetchone()[0]
    for seconds, said in ((30, 0), (60, 1), (90, 1)):
        place.now += 30
        at_barn(place, Event.INTERIM, seconds, 1000 * seconds)
        at_west(place, Event.INTERIM, 60 + seconds, 1000 * seconds)
        assert place.kinds().count("two_places") == said
    assert admissions.seats_taken(place.conn, allowance, Mac(1)) == 2
    at_barn(place, Event.STOP, 120, 120_000)
    assert admissions.seats_taken(place.conn, allowance, Mac(1)) == 1
    place.now += 3600
    at_west(place, Event.INTERIM, 3800, 10**6)
    assert place.kinds().count("two_places") == 1


def test_a_stranger_with_her_address_is_said_only_when_both_use_something(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.report(Event.START, session="other", access_device=BARN, nas_identifier="barn")

    def both(seconds: int, octets: int) -> None:
        place.now += 60
        for at, session, name in ((BARN, "other", "barn"), (WEST, "S1", "west")):
            place.report(
                Event.INTERIM, session=session, access_device=at, nas_identifier=name, session_time=seconds,
                octets_out=octets,
            )  # fmt: skip

    both(30, 0)
    both(90, 0)
    assert "two_places" not in place.kinds()
    both(150, 10**6)
    both(210, 2 * 10**6)
    assert place.kinds().count("two_places") == 1  # said again after an hour, not each minute
    place.now += 3600
    both(3900, 3 * 10**6)
    assert place.kinds().count("two_places") == 2
    place.report(Event.STOP, session="other", access_device=BARN, nas_identifier="barn", session_time=3900)
    place.now += 3600
    place.report(Event.INTERIM, session_time=7500, octets_out=9 * 10**6)
    assert place.kinds().count("two_places") == 2


@pytest.mark.parametrize(
    "act",
    [
        lambda tx, _: end_device_stay(tx, PHONE, GARDEN),
        lambda tx, credential: withdraw(tx, credential),
        lambda tx, _: bar(tx, PHONE, GARDEN),
    ],
    ids=["end", "withdraw", "bar"],
)
def test_an_act_of_staff_reaches_both_places(place: Place, act: Callable[[Tx, object], object]) -> None:
    code = copied(place)
    place.now += 60
    at_west(place, Event.INTERIM, 120, 5000)
    place.run(lambda tx: tx.conn.execute("DELETE FROM place WHERE session_id = 'S1'"))  # it agreed to let go
    place.now += 60
    at_west(place, Event.INTERIM, 180, 9000)
    with place.tx() as tx:
        act(tx, place.voucher(code))
    assert [(at.session_id, at.next_at) for at in place.places()] == [("S1", place.now), ("B1", place.now)]
    at_barn(place, Event.STOP, 120, 0)
    # The one that is left goes on being told.
    assert [(at.session_id, at.next_at is not None) for at in place.places()] == [("S1", True)]


def test_a_question_moves_nobody_who_has_an_open_session_elsewhere(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    for number in range(5):
        assert place.ask(session=f"X{number}", at=BARN)[0].answer is Answer.ADMIT
    assert (place.standing().access_device, place.standing().session_id) == (WEST, "S1")
    # However often it asks, one place of it is remembered.
    assert [(at.access_device, at.session_id) for at in place.places()] == [(WEST, "S1"), (BARN, "X4")]
    place.now += INTERIM_S * 2
    place.ask(session="X4", at=BARN)
    assert place.standing().access_device == WEST
    place.now += 1
    place.ask(session="X4", at=BARN)
    assert (place.standing().access_device, place.standing().state) == (BARN, State.INSIDE)


def test_access_devices_without_accounting_go_on_working(place: Place) -> None:
    place.ask(session=None)
    place.open_page()
    place.try_code(place.issue()[0])
    place.ask(session=None, medium=Medium.REAUTHORISED)
    assert place.ask(session=None, at=BARN)[0].answer is Answer.ADMIT
    assert (place.standing().access_device, place.standing().state) == (BARN, State.INSIDE)


def test_who_asks_elsewhere_and_then_stops_here_is_there(place: Place) -> None:
    """The order in which most access points say it; the second one sends no accounting."""
    place.let_in(place.issue()[0])
    place.now += 300
    place.ask(session="B1", at=BARN)
    at_west(place, Event.STOP, 300)
    standing = place.standing()
    assert (standing.access_device, standing.session_id, standing.state) == (BARN, "B1", State.INSIDE)
    assert [at.session_id for at in place.places()] == ["B1"]
    assert place.conn.execute("SELECT seat_since IS NOT NULL FROM admission").fetchone() == (1,)
    with place.tx() as tx:
        end_device_stay(tx, PHONE, GARDEN)
    wish = place.wish()
    assert wish is not None
    assert (wish.what, wish.session_id) == ("out", "B1")


def test_who_asked_elsewhere_long_ago_is_not_there_when_it_stops_here(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.ask(session="B1", at=BARN)
    for minute in range(1, 5):
        place.now += 600
        at_west(place, Event.INTERIM, 600 * minute)
    at_west(place, Event.STOP, 2400)
    assert place.standing().state is State.LEFT


def test_what_it_was_told_there_holds_when_its_session_begins_there(place: Place) -> None:
    """It asked before login at both; the login reaches both, and an answer at one confirms nothing at the other."""
    place.ask()
    place.report(Event.START)
    place.open_page()
    place.ask(session="B1", at=BARN)
    place.try_code(place.issue()[0])
    assert [(at.session_id, at.next_at) for at in place.places()] == [("S1", place.now), ("B1", place.now)]
    place.ask(session="B1", at=BARN, medium=Medium.REAUTHORISED)
    west, barn = place.places()
    assert (west.next_at, barn.next_at) == (place.now, None)
    assert (place.standing().access_device, place.standing().going) == (WEST, State.INSIDE)
    at_barn(place, Event.START)
    standing = place.standing()
    assert (standing.access_device, standing.state, standing.going) == (BARN, State.INSIDE, None)


def test_where_it_went_on_from_is_asked_to_let_go_while_it_reports(place: Place) -> None:
    copied(place)
    west, _ = place.places()
    assert (west.is_left, west.next_at) == (1, place.now + 5)
    for minute in (1, 2):
        place.run(lambda tx: tx.conn.execute("DELETE FROM place WHERE session_id = 'S1'"))  # it agreed
        place.now += 60
        at_west(place, Event.INTERIM, 60 + 60 * minute, 100)
        west, barn = place.places()
        assert (west.session_id, west.is_left, west.next_at) == ("S1", 1, place.now)
        # Sent to where it is, not to where the device went.
        assert west.source == place.config.access_devices[WEST].address
        assert (barn.is_left, barn.next_at) == (0, None)
    at_west(place, Event.STOP, 200, 100)
    assert [at.session_id for at in place.places()] == ["B1"]
    with place.tx() as tx:
        Sweeper().sweep(tx)
    assert place.standing().state is State.INSIDE


def test_nothing_is_sent_where_no_session_tells_the_two_apart(place: Place) -> None:
    copied(place)
    place.run(lambda tx: tx.conn.execute("DELETE FROM place WHERE session_id = 'S1'"))
    place.run(lambda tx: tx.conn.execute("UPDATE standing SET session_id = NULL"))
    place.run(lambda tx: tx.conn.execute("UPDATE access_device SET coa_address = '127.77.9.9'"))
    place.reload()
    place.now += 60
    at_west(place, Event.INTERIM, 120, 5000)
    assert [at.session_id for at in place.places()] == ["B1"]
    stay = stays.open_stay(place.conn, PHONE, "S1", WEST)
    assert stay is not None
    assert stay.octets_out.total == 5000
