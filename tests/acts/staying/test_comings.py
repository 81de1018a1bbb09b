"""What reports mean to where a device is: it goes on, fell silent, or has left."""

import pytest

from lauschen.acts.staying.reports import Event
from lauschen.acts.staying.sweep import Sweeper
from lauschen.core.decide.standing import State
from tests.place import BARN, Place


def test_a_session_that_goes_on_after_accounting_on_was_not_ended_by_it(place: Place) -> None:
    """Some access devices send it for a part of themselves without saying so; nobody would count what guests use."""
    code = place.issue()[0]
    place.let_in(code)
    place.now += 10
    place.report(Event.INTERIM, session_time=10, octets_in=1000)
    place.report(Event.ON, session="")
    place.now += 300
    place.report(Event.INTERIM, session_time=310, octets_in=5000)
    assert place.standing().state is State.INSIDE
    found = place.grant(code)
    assert found is not None
    assert found.use.octets == 5000
    assert place.standing().reconsider_at is not None


@pytest.mark.parametrize(("later", "session_time"), [(2, 12), (300, 10)])
def test_what_was_sent_before_accounting_on_comes_late(place: Place, later: int, session_time: int) -> None:
    place.let_in(place.issue()[0])
    place.now += 10
    place.report(Event.INTERIM, session_time=10, octets_in=1000)
    place.report(Event.ON, session="")
    place.now += later
    place.report(Event.INTERIM, session_time=session_time, octets_in=2000)
    assert place.standing().state is State.LEFT


def test_a_device_before_login_that_is_reported_is_there_however_long_it_was_not_asked_about(
    place: Place,
) -> None:
    """Its access device does not keep the time-out before login. Afterwards its code would be refused."""
    place.ask()
    place.report(Event.START)
    for number in range(1, 21):
        place.now += 300
        place.report(Event.INTERIM, session_time=300 * number)
        place.run(Sweeper().sweep, is_act=False)
        assert place.standing().state is State.AT_DOOR
    place.open_page()
    place.try_code(place.issue()[0])
    assert place.standing().going is State.INSIDE


def test_a_device_before_login_that_fell_silent_in_two_places_has_left_both(place: Place) -> None:
    place.ask()
    place.report(Event.START)
    place.now += 60
    place.report(Event.INTERIM, session_time=60)
    place.ask(session="B1", at=BARN)
    place.report(Event.START, session="B1", access_device=BARN, nas_identifier="barn")
    place.now += 600
    place.report(Event.INTERIM, session="B1", access_device=BARN, nas_identifier="barn", session_time=600)
    heard = place.now
    for _ in range(60):
        place.now += 60
        place.run(Sweeper().sweep, is_act=False)
    standing = place.standing()
    assert (standing.state, standing.going, place.places()) == (State.LEFT, None, [])
    assert standing.last_heard == heard


def test_accounting_on_for_a_bssid_closes_what_was_reported_without_one(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.now += 10
    place.report(Event.ON, session="", bssid="027700000011", nas_identifier="barn")
    assert place.standing().state is State.INSIDE
    place.report(Event.ON, session="", bssid="027700000011")
    assert place.standing().state is State.LEFT
