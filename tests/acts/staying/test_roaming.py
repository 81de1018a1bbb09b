"""One guest in several stays: nothing is counted twice, and the guest sees one presence."""

from dataclasses import replace

import pytest

from lauschen.acts.staying.reports import Event
from lauschen.acts.staying.sweep import Sweeper
from lauschen.core.decide.standing import State
from lauschen.core.limits.left import INTERIM_S
from lauschen.store import stays
from lauschen.store.stays import LOST, ROAMED, Stay
from tests.place import BARN, GARDEN, PHONE, WEST, Place


def all_stays(place: Place) -> list[Stay]:
    """Oldest first."""
    return sorted(stays.stays_of(place.conn, PHONE, 9), key=lambda s: s.id)


def used(place: Place, code: str) -> int:
    grant = place.grant(code)
    assert grant is not None
    return grant.use.octets


def token(place: Place) -> str:
    return str(place.conn.execute("SELECT token FROM admission").fetchone()[0])


@pytest.mark.parametrize("key", ["session_id", "user", "multi_session_id"])
def test_a_guest_that_walks_to_the_next_access_point_is_one_presence(place: Place, key: str) -> None:
    code = place.issue()[0]
    place.let_in(code)
    mark = token(place)
    place.now += 60
    place.report(Event.INTERIM, session_time=60, octets_out=1000, user=mark)
    if key == "multi_session_id":
        place.conn.execute("UPDATE stay SET multi_session_id = 'M'")
        place.restart()
    if key == "user":
        place.conn.execute("UPDATE stay SET user = ?", (mark,))
        place.restart()
    place.now += 5
    session = "S1" if key == "session_id" else "B1"
    more = {"user": mark} if key == "user" else {"multi_session_id": "M"} if key == "multi_session_id" else {}
    place.ask(session=session, at=BARN)
    place.report(Event.START, session=session, access_device=BARN, nas_identifier="barn", **more)
    first, second = all_stays(place)
    assert (first.end_cause, second.root, second.ended) == (ROAMED, first.id, None)
    assert (place.standing().state, place.standing().access_device) == (State.INSIDE, BARN)
    place.now += 60
    place.report(
        Event.INTERIM, session=session, access_device=BARN, nas_identifier="barn", session_time=60,
        octets_out=500, gigawords_out=0,
    )  # fmt: skip
    assert used(place, code) == 1500
    # The Stop of the access point that was left comes late: counted, but it ends nothing.
    place.report(Event.STOP, session_time=61, octets_out=1100)
    assert used(place, code) == 1600
    assert place.standing().state is State.INSIDE


def test_counters_that_go_on_at_the_next_access_point_are_not_counted_again(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    place.now += 60
    place.report(Event.INTERIM, session_time=60, octets_out=1000)
    place.now += 5
    place.report(Event.START, access_device=BARN, nas_identifier="barn")
    place.now += 55
    place.report(Event.INTERIM, access_device=BARN, nas_identifier="barn", session_time=120, octets_out=1700)
    assert used(place, code) == 1700


def test_a_strange_session_elsewhere_is_a_stay_of_its_own(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.report(Event.START, session="other", access_device=BARN, nas_identifier="barn")
    first, second = all_stays(place)
    assert (first.ended, second.root) == (None, None)


def test_a_device_that_walked_on_without_a_stop_is_at_one_place(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.report(Event.START, session="other", access_device=BARN, nas_identifier="barn")
    for seconds in (60, 120, 180):
        place.now += 60
        place.report(
            Event.INTERIM, session="other", access_device=BARN, nas_identifier="barn", session_time=seconds
        )
    assert "two_places" not in place.kinds()


def test_a_device_that_came_back_from_where_it_was_lost_is_at_one_place(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.report(Event.START, session="other", access_device=BARN, nas_identifier="barn")
    place.now += 4 * 600
    sweep_all(place)  # nothing was heard of it for three intervals, at either place
    place.report(Event.INTERIM, session_time=2400)  # only the first one goes on
    assert [s.end_cause for s in all_stays(place)] == [None, LOST]
    assert "two_places" not in place.kinds()


@pytest.mark.parametrize(
    ("addresses", "is_said"),
    [(("10.0.0.1", "10.0.0.2", "10.0.0.1"), True), (("10.0.0.1", "10.0.0.2", "10.0.0.3"), False)],
)
def test_a_device_with_two_addresses_in_turn_is_said(
    place: Place, addresses: tuple[str, ...], is_said: bool
) -> None:
    place.let_in(place.issue()[0])
    for number, address in enumerate(addresses, 1):
        place.now += 60
        place.report(Event.INTERIM, session_time=60 * number, framed_ip=address)
    assert ("two_addresses" in place.kinds()) is is_said


def counted_at(place: Place, device: int) -> None:
    network = place.config.networks[GARDEN]
    networks = {GARDEN: replace(network, counted_at=device)}
    place.config = replace(place.config, networks=networks)


def test_two_devices_that_report_the_same_guest_are_one_stay_and_one_counts(place: Place) -> None:
    counted_at(place, WEST)
    code = place.issue()[0]
    place.let_in(code)
    place.report(Event.START, session="gw", access_device=BARN, nas_identifier="gateway")
    first, second = all_stays(place)
    assert (first.ended, second.root, first.counts, second.counts) == (None, first.id, True, False)
    assert place.standing().access_device == WEST  # where it is asked about, and moved
    place.now += 60
    place.report(Event.INTERIM, session_time=60, octets_out=1000)
    place.report(
        Event.INTERIM, session="gw", access_device=BARN, nas_identifier="gateway", session_time=60,
        octets_out=1040,
    )  # fmt: skip
    assert used(place, code) == 1000
    place.report(Event.STOP, session="gw", access_device=BARN, nas_identifier="gateway", session_time=61)
    assert place.standing().state is State.INSIDE


def test_the_dialect_says_who_counts_when_the_network_does_not(place: Place) -> None:
    place.set_dialect(counts=False)
    code = place.issue()[0]
    place.let_in(code)
    place.now += 60
    place.report(Event.INTERIM, session_time=60, octets_out=1000)
    assert used(place, code) == 0


def sweep_all(place: Place) -> None:
    with place.tx() as tx:
        Sweeper().sweep(tx)


def test_three_silent_intervals_lose_a_stay_and_a_late_packet_reopens_it(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    place.now += 600
    place.report(Event.INTERIM, session_time=600, octets_out=1000)
    heard_last = place.now
    place.now += 3 * INTERIM_S
    sweep_all(place)
    assert all_stays(place)[0].ended is None
    place.now += 1
    sweep_all(place)
    (stay,) = all_stays(place)
    assert (stay.end_cause, stay.ended) == (LOST, heard_last)
    assert place.standing().state is State.LEFT
    assert place.conn.execute("SELECT seat_since FROM admission").fetchone() == (None,)
    place.now += 100
    place.report(Event.INTERIM, session_time=2501, octets_out=1500)
    (stay,) = all_stays(place)
    assert (stay.ended, stay.end_cause) == (None, None)
    assert place.standing().state is State.INSIDE
    place.now += 600
    place.report(Event.INTERIM, session_time=3101, octets_out=1800)
    # It was inside all the time: what it used while it was silent is charged too, and once.
    assert used(place, code) == 1800


def test_a_device_that_reports_seldom_is_given_more_time(place: Place) -> None:
    place.let_in(place.issue()[0])
    for session_time in (1500, 3000):
        place.now += 1500
        place.report(Event.INTERIM, session_time=session_time)
    place.now += 4000
    sweep_all(place)
    assert all_stays(place)[0].ended is None


def test_the_walk_over_open_stays_comes_round(place: Place) -> None:
    place.report(Event.START)
    with place.tx() as tx:
        silent, after = stays.silent_stays(tx.conn, place.now + 1801, INTERIM_S, PHONE - 1, 1)  # type: ignore[arg-type]
        assert ([s.mac for s in silent], after) == ([PHONE], PHONE)
        assert stays.silent_stays(tx.conn, place.now + 1801, INTERIM_S, after, 1) == ([], 0)


def test_an_access_device_that_restarts_closes_only_what_it_names(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.conn.execute("UPDATE stay SET bssid = '027700000011'")
    place.now += 10
    place.report(Event.ON, session="", mac=None, bssid="027700000012")
    assert all_stays(place)[0].ended is None
    place.report(Event.ON, session="", mac=None, bssid="", nas_identifier="another")
    assert all_stays(place)[0].ended is None
    place.report(Event.ON, session="", mac=None, bssid="027700000011")
    assert all_stays(place)[0].end_cause == "device_restarted"
