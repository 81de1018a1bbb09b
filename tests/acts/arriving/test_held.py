"""Held is since its limit ended, and stays held whatever else happens to the device meanwhile."""

from collections.abc import Callable

import pytest

from lauschen.acts.desk import helping as staff_acts
from lauschen.acts.staying.reports import Event
from lauschen.acts.staying.sweep import Sweeper
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.words.codes import make_code
from tests.acts.arriving.test_users import ask as ask_as_person
from tests.acts.arriving.test_users import by_pap
from tests.place import GARDEN, OTHER, PHONE, POSTCARD, T0, Place


def sweep(place: Place) -> None:
    with place.tx() as tx:
        Sweeper().sweep(tx)


def hold(place: Place) -> float:
    """Its hour is over; the moment of that."""
    place.let_in(place.issue(1, POSTCARD)[0])
    over = place.now + 3600
    place.now = over + 60
    sweep(place)
    place.report(Event.STOP, session_time=3660)
    place.ask(session="S2")
    assert place.standing().state is State.HELD
    return over


def test_a_limit_that_the_sweep_finds_late_ended_when_it_ended(place: Place) -> None:
    over = hold(place)
    assert place.standing().since == over


def test_one_that_ended_while_the_device_was_away_too(place: Place) -> None:
    place.let_in(place.issue(1, POSTCARD)[0])
    place.now += 60
    place.report(Event.STOP, session_time=60)
    place.now += 5 * 3600
    place.ask(session="S2")
    assert (place.standing().state, place.standing().since) == (State.HELD, T0 + 3600)
    place.now += 3600
    place.report(Event.STOP, session="S2", session_time=1)
    place.ask(session="S3")
    assert place.standing().since == T0 + 3600  # leaving and coming back is no new limit


def bar_by_tries(place: Place) -> None:
    for number in range(5):
        ask_as_person(place, by_pap("a", make_code(number)), session="S2")


def bar_by_staff(place: Place) -> None:
    with place.tx() as tx:
        staff_acts.bar(tx, PHONE, GARDEN)
    assert place.standing().state is State.BARRED


def lift_by_time(place: Place) -> None:
    place.now += 601
    sweep(place)


def lift_by_staff(place: Place) -> None:
    with place.tx() as tx:
        staff_acts.let_try_again(tx, PHONE, GARDEN)


@pytest.mark.parametrize(
    ("bar", "lift"),
    [(bar_by_tries, lift_by_time), (bar_by_tries, lift_by_staff), (bar_by_staff, lift_by_staff)],
)
def test_held_outlives_a_bar(
    place: Place, bar: Callable[[Place], None], lift: Callable[[Place], None]
) -> None:
    over = hold(place)
    bar(place)
    place.ask(session="S2")
    lift(place)
    for _ in range(2):
        standing = place.standing()
        assert (standing.state, standing.reason, standing.since) == (State.HELD, Reason.TIME_USED_UP, over)
        place.ask(session="S2")


def test_who_was_at_the_door_is_at_the_door_again(place: Place) -> None:
    place.ask()
    bar_by_tries(place)
    assert place.standing().state is State.BARRED
    lift_by_time(place)
    assert (place.standing().state, place.standing().reason) == (State.AT_DOOR, None)


def test_wrong_codes_by_radius_bar_one_mac_and_no_other(place: Place) -> None:
    """Four devices behind one access device, five wrong codes each: a fifth one's right code still passes."""
    for number in range(4):
        mac = type(PHONE)(PHONE + 16 + number)
        for guess in range(5):
            ask_as_person(place, by_pap("a", make_code(guess)), mac, session=f"G{number}")
        assert ask_as_person(place, by_pap("a", place.issue()[0]), mac).reason is Reason.BARRED_BY_TRIES
    assert ask_as_person(place, by_pap("a", place.issue()[0]), OTHER).reason is Reason.ADMITTED
