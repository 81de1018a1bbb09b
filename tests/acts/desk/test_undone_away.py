"""A pause or a withdrawal that is undone while its device is away, or on its way: it is as if it had not been."""

from collections.abc import Callable

import pytest

from lauschen.acts.desk.helping import withdraw
from lauschen.acts.desk.pausing import pause, resume
from lauschen.acts.desk.undoing import restore
from lauschen.acts.staying.reports import Event
from lauschen.core.decide.arrival import Medium
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.ids import CredentialId
from lauschen.road.tx import Tx
from tests.place import OTHER, PHONE, Place

Act = Callable[[Tx, CredentialId], object]
BOTH = pytest.mark.parametrize(
    ("act", "undo"), [(pause, resume), (withdraw, restore)], ids=["pause", "withdraw"]
)


def do(place: Place, act: Act, code: str) -> None:
    with place.tx() as tx:
        act(tx, place.voucher(code))


@BOTH
def test_who_was_put_off_and_comes_back_after_the_undo_is_in(place: Place, act: Act, undo: Act) -> None:
    """The access device put the phone off the Wi-Fi; staff took the act back before it was there again."""
    code = place.issue()[0]
    place.let_in(code)
    do(place, act, code)
    place.report(Event.STOP, session_time=60)
    assert place.standing().state is State.LEFT
    do(place, undo, code)
    assert place.standing().reason is None
    place.now += 20
    decision, _ = place.ask(session="S2")
    assert (decision.answer, decision.reason) == (Answer.ADMIT, Reason.ADMITTED)
    place.report(Event.START, session="S2")
    standing = place.standing()
    assert (standing.state, standing.going, standing.reason) == (State.INSIDE, None, None)


@BOTH
def test_who_is_back_at_the_door_before_the_undo_is_in_again(place: Place, act: Act, undo: Act) -> None:
    code = place.issue()[0]
    place.let_in(code)
    do(place, act, code)
    place.report(Event.STOP, session_time=60)
    place.now += 5
    assert place.ask(session="S2")[0].answer is Answer.DOOR
    do(place, undo, code)
    standing = place.standing()
    assert (standing.wanted, standing.reason in (Reason.CODE_PAUSED, None, Reason.CODE_WITHDRAWN)) == (
        State.INSIDE, True,
    )  # fmt: skip
    place.ask(session="S2", medium=Medium.REAUTHORISED)
    assert (place.standing().state, place.standing().reason) == (State.INSIDE, None)


@BOTH
@pytest.mark.parametrize("leaves", [True, False])
def test_both_acts_at_once(place: Place, act: Act, undo: Act, leaves: bool) -> None:
    """The request to the access device is on its way, or was carried out already."""
    code = place.issue()[0]
    place.let_in(code)
    do(place, act, code)
    place.run(lambda tx: tx.conn.execute("UPDATE place SET seen_at = NULL, under_way = ?", (tx.now,)))
    do(place, undo, code)
    if leaves:
        place.report(Event.STOP, session_time=60)
        place.now += 5
        assert place.ask(session="S2")[0].answer is Answer.ADMIT
    else:
        assert place.ask(medium=Medium.REAUTHORISED)[0].answer is Answer.ADMIT
    standing = place.standing()
    assert (standing.state, standing.going, standing.reason) == (State.INSIDE, None, None)


@BOTH
def test_who_left_long_before_is_let_in_by_it_as_before(place: Place, act: Act, undo: Act) -> None:
    """Its admission outlived its stay, and the act ended it."""
    code = place.issue()[0]
    place.let_in(code)
    place.report(Event.STOP, session_time=60)
    place.now += 3600
    do(place, act, code)
    do(place, undo, code)
    assert place.ask(session="S2")[0].answer is Answer.ADMIT


@BOTH
def test_who_is_in_by_another_code_meanwhile_stays_in_by_that(place: Place, act: Act, undo: Act) -> None:
    code, other = place.issue(2)
    place.let_in(code)
    do(place, act, code)
    place.report(Event.STOP, session_time=60)
    place.let_in(other, session="S2")
    admission = place.standing().admission
    do(place, undo, code)
    assert (place.standing().state, place.standing().admission) == (State.INSIDE, admission)


def test_whose_seat_somebody_else_has_by_now_is_told_that_and_not_paused(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    do(place, pause, code)
    place.report(Event.STOP, session_time=60)
    do(place, resume, code)
    place.conn.execute("UPDATE admission SET seat_since = NULL")
    place.let_in(code, OTHER, "S9", "visit-9")
    decision, _ = place.ask(PHONE, "S2")
    assert (decision.answer, decision.reason) == (Answer.DOOR, Reason.DEVICES_FULL)
    assert place.standing(PHONE).reason is not Reason.CODE_PAUSED


def test_who_is_held_beyond_the_seats_is_at_the_door_once_the_code_runs(place: Place) -> None:
    """Two devices were held; while it was paused the plan was made one for a single device."""
    place.conn.execute("UPDATE plan SET devices = 2")
    place.reload()
    code = place.issue()[0]
    place.let_in(code)
    place.let_in(code, OTHER, "S9", "visit-9")
    do(place, pause, code)
    for mac, session in ((PHONE, "S1"), (OTHER, "S9")):
        place.ask(mac, session, medium=Medium.REAUTHORISED)
    place.conn.execute("UPDATE plan SET devices = 1")
    place.reload()
    do(place, resume, code)
    states = {mac: (place.standing(mac).wanted, place.standing(mac).reason) for mac in (PHONE, OTHER)}
    assert states[PHONE] == (State.INSIDE, None)
    assert states[OTHER] == (State.AT_DOOR, None)
    assert place.ask(OTHER, "S9")[0].reason is Reason.NEEDS_CODE
