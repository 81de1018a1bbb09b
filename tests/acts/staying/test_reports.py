"""Stays from accounting: counted once, charged to the right admission, ended exactly."""

import pytest

from lauschen.acts.desk import helping as staff_acts
from lauschen.acts.staying.reports import Event
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.limits.day import day_of
from lauschen.store import addresses, stays
from lauschen.store.guests.lines import guest_line
from lauschen.store.upkeep.keeping import KEPT, forget
from tests.place import GARDEN, OTHER, PHONE, POSTCARD, WEST, Place


def used(place: Place, code: str) -> int:
    grant = place.grant(code)
    assert grant is not None
    return grant.use.octets


def test_a_start_that_is_heard_twice_is_one_stay(place: Place) -> None:
    place.ask()
    place.report(Event.START)
    place.now += 2
    place.report(Event.START)
    assert len(stays.stays_of(place.conn, PHONE, 9)) == 1
    place.now += 10
    place.report(Event.START)
    assert [s.end_cause for s in stays.stays_of(place.conn, PHONE, 9)] == [None, "began_anew"]


def test_only_what_came_after_the_admission_is_charged(place: Place) -> None:
    code = place.issue()[0]
    place.ask()
    place.report(Event.START)
    place.now += 100
    place.report(Event.INTERIM, session_time=100, octets_in=1000, octets_out=9000)
    place.open_page()
    place.try_code(code)
    place.ask(session="S1")
    assert used(place, code) == 0
    place.now += 100
    place.report(Event.INTERIM, session_time=200, octets_in=1500, octets_out=10_500)
    assert used(place, code) == 2000


def test_a_report_that_spans_the_login_is_shared_by_time(place: Place) -> None:
    code = place.issue()[0]
    place.ask()
    place.report(Event.START)
    place.now += 30
    place.open_page()
    place.try_code(code)
    place.ask(session="S1")
    place.now += 90
    place.report(Event.INTERIM, session_time=120, octets_out=1200)
    assert used(place, code) == 900


def test_the_same_report_twice_is_counted_once(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    place.now += 60
    for _ in range(3):
        place.report(Event.INTERIM, session_time=60, octets_out=500)
    assert used(place, code) == 500


def test_counters_that_began_anew_are_told_from_a_wrap_by_the_packets(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    place.now += 600
    place.report(Event.INTERIM, session_time=600, octets_in=10**9, octets_out=0, packets=10**6)
    place.now += 600
    place.report(Event.INTERIM, session_time=1200, octets_in=5000, octets_out=0, packets=50)
    assert used(place, code) == 10**9 + 5000
    place.restart()  # as after a restart: what was reported last is in the database
    place.now += 600
    place.report(Event.INTERIM, session_time=1800, octets_in=100, octets_out=0, packets=2)
    assert used(place, code) == 10**9 + 5100


def test_more_than_any_link_carries_is_not_counted_and_said(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    place.now += 60
    place.report(Event.INTERIM, session_time=60, gigawords_in=4000, gigawords_out=0)
    assert used(place, code) == 0
    assert "impossible_count" in place.kinds()
    place.now += 60
    place.report(Event.INTERIM, session_time=120, octets_in=70, gigawords_in=4000, gigawords_out=0)
    assert used(place, code) == 70


def test_where_no_session_time_is_said_the_clock_bounds_what_a_link_carries(place: Place) -> None:
    place.conn.execute("UPDATE plan SET octets = NULL")
    place.reload()
    code = place.issue()[0]
    place.let_in(code)
    place.now += 60
    place.report(Event.INTERIM, octets_out=3_000_000_000)
    assert used(place, code) == 3_000_000_000
    place.now += 1
    place.report(Event.INTERIM, octets_out=4_294_967_295, gigawords_out=0)
    assert used(place, code) == 3_000_000_000  # 1.3 GB in a second are none
    assert place.kinds().count("impossible_count") == 1


def test_data_over_the_limit_ends_the_stay_by_disconnect(place: Place) -> None:
    code = place.issue(plan=POSTCARD)[0]
    place.let_in(code)
    place.now += 60
    place.report(Event.INTERIM, session_time=60, octets_out=5_000_000)
    standing, wish = place.standing(), place.wish()
    assert (standing.state, standing.going, standing.reason) == (
        State.INSIDE,
        State.HELD,
        Reason.DATA_USED_UP,
    )
    assert wish is not None
    assert wish.what == "out"
    place.report(Event.STOP, session_time=61, octets_out=5_100_000, cause="admin_reset")
    assert place.wish() is None
    assert used(place, code) == 5_100_000
    place.ask(session="S2")
    assert place.standing().state is State.HELD
    assert "limit_reached" in place.kinds()


def test_after_the_end_of_an_admission_nothing_more_is_charged(place: Place) -> None:
    code = place.issue(plan=POSTCARD)[0]
    place.let_in(code)
    place.now += 60
    place.report(Event.INTERIM, session_time=60, octets_out=5_000_000)
    place.now += 5
    place.ask(session="S1")
    place.now += 60
    place.report(Event.INTERIM, session_time=125, octets_out=5_001_000)
    before = used(place, code)
    place.now += 60
    place.report(Event.INTERIM, session_time=185, octets_out=5_900_000)
    assert used(place, code) == before


def test_a_stop_ends_the_stay_and_frees_the_seat_but_not_the_admission(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.report(Event.STOP, session_time=9, cause="user_request")
    (stay,) = stays.stays_of(place.conn, PHONE, 9)
    assert stay.end_cause == "user_request"
    assert place.standing().state is State.LEFT
    assert place.conn.execute("SELECT ended, seat_since FROM admission").fetchall() == [(None, None)]


def test_a_stop_of_an_older_session_does_not_end_the_newer_one(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.now += 10
    place.ask(session="S2")
    place.report(Event.START, session="S2")
    place.report(Event.STOP, session="S1")
    assert place.standing().state is State.INSIDE


def test_a_lost_start_is_made_up_for(place: Place) -> None:
    place.ask()
    place.now += 300
    place.report(Event.INTERIM, session_time=300, octets_in=10)
    (stay,) = stays.stays_of(place.conn, PHONE, 9)
    assert stay.started == place.now - 300


@pytest.mark.parametrize("event", [Event.ON, Event.OFF])
def test_an_access_device_that_restarts_closes_its_stays(place: Place, event: Event) -> None:
    place.let_in(place.issue()[0])
    place.now += 10
    place.report(event, session="")
    (stay,) = stays.stays_of(place.conn, PHONE, 9)
    assert stay.end_cause == "device_restarted"
    assert place.standing().state is State.LEFT
    assert stays.open_places_at(place.conn, WEST, place.now + 1) == []


def test_a_start_without_a_new_request_brings_a_device_back_as_it_was(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.now += 9
    place.report(Event.STOP, session_time=9)
    place.now += 2
    place.report(Event.START, session="S1")
    assert place.standing().state is State.INSIDE


def test_a_report_about_nobody_is_kept_and_harms_nothing(place: Place) -> None:
    place.report(Event.INTERIM, mac=None)  # type: ignore[arg-type]
    place.report(Event.STOP, mac=OTHER, session="never")
    assert place.kinds() == ["accounting_without_device"]


def test_an_access_point_that_remembers_an_old_answer_is_told_again(place: Place) -> None:
    """Measured: after a Disconnect a device comes back within a second, unasked, with the role of before."""
    place.let_in(place.issue()[0])
    place.now += 60
    with place.tx() as tx:
        staff_acts.end_device_stay(tx, PHONE, GARDEN)
    place.report(Event.STOP, session_time=60)
    assert place.wish() is None
    place.now += 1
    place.report(Event.START)  # the same session id, and no request before it
    standing, wish = place.standing(), place.wish()
    assert (standing.state, standing.going) == (State.INSIDE, State.AT_DOOR)
    assert wish is not None
    assert (wish.what, wish.next_at) == ("out", place.now + 35)
    place.now += 40
    place.report(Event.STOP, session_time=40)
    place.ask()
    place.report(Event.START)
    assert (place.standing().state, place.standing().going, place.wish()) == (State.AT_DOOR, None, None)


def test_who_was_let_in_but_came_back_with_the_door_is_moved_again(place: Place) -> None:
    place.ask()
    place.report(Event.START)
    place.open_page()
    place.try_code(place.issue()[0])
    place.now += 5
    place.report(Event.STOP, session_time=5)
    place.now += 1
    place.report(Event.START)
    assert (place.standing().state, place.standing().going) == (State.AT_DOOR, State.INSIDE)
    wish = place.wish()
    assert wish is not None
    assert wish.what == "in"


def test_who_comes_back_unasked_to_where_it_belongs_is_left_alone(place: Place) -> None:
    place.ask()
    place.report(Event.START)
    place.now += 60
    place.report(Event.STOP, session_time=60)
    place.now += 1
    place.report(Event.START)
    assert (place.standing().state, place.standing().going, place.wish()) == (State.AT_DOOR, None, None)


def test_who_comes_back_unasked_inside_is_charged_and_has_its_seat(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    place.now += 60
    place.report(Event.STOP, session_time=60)
    place.now += 5
    place.report(Event.START)
    assert (place.standing().state, place.standing().going, place.wish()) == (State.INSIDE, None, None)
    assert place.conn.execute("SELECT seat_since FROM admission").fetchall() == [(place.now,)]
    place.now += 60
    place.report(Event.INTERIM, session_time=60, octets_out=700)
    assert used(place, code) == 700


def test_who_comes_back_unasked_to_a_seat_that_is_taken_is_moved_out(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    place.now += 60
    place.report(Event.STOP, session_time=60)
    place.let_in(code, OTHER, "T1", "visit-2")
    place.now += 5
    place.report(Event.START)
    assert (place.standing().state, place.standing().going) == (State.INSIDE, State.AT_DOOR)
    wish = place.wish()
    assert wish is not None
    assert wish.what == "out"


def test_a_new_session_of_who_is_on_its_way_out_is_ended_too(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.now += 60
    with place.tx() as tx:
        staff_acts.end_device_stay(tx, PHONE, GARDEN)
    place.report(Event.START, session="S2")  # the Stop of S1 was lost
    due = [(at.session_id, at.next_at) for at in place.places()]
    assert due == [("S1", place.now), ("S2", place.now + 35)]  # it may be at either, and is out of both


def test_the_length_of_a_stay_is_bounded_by_when_it_was_heard(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.now += 60
    place.report(Event.INTERIM, session_time=2**31)
    (stay,) = stays.stays_of(place.conn, PHONE, 5)
    assert stay.length == 65
    place.report(Event.INTERIM, mac=OTHER, session="S9", session_time=2**32 - 1)  # its Start was lost
    (stay,) = stays.stays_of(place.conn, OTHER, 5)
    assert stay.started == place.now - 366 * 86_400


def test_addresses_are_kept_with_who_showed_them_and_when(place: Place) -> None:
    def seen() -> dict[tuple[str, str], float]:
        found = addresses.addresses_of(place.conn, PHONE, 9)
        return {(a.text, a.source): a.seen - began for a in found}

    began = place.now
    place.ask()
    place.open_page(source="10.0.0.9")
    v6 = ("2001:db8::17", "2001:db8:5::/64")
    place.report(Event.START, framed_ip="10.0.0.9", addresses6=v6)
    place.now += 60
    place.report(Event.INTERIM, session_time=60, framed_ip="10.0.0.9", addresses6=v6)
    by = "accounting"
    assert seen() == {("10.0.0.9", "page"): 0, ("10.0.0.9", by): 0, (v6[0], by): 0, (v6[1], by): 0}
    place.now += 60
    place.report(Event.INTERIM, session_time=120, framed_ip="10.0.0.10")
    assert seen()["10.0.0.10", by] == 120
    place.now += 31 * 86_400
    with place.tx() as tx:
        kept = next(one for one in KEPT if one.table == "address")
        assert forget(tx.conn, kept, place.now - 30 * 86_400, 0, 50) == (5, 0)
    assert seen() == {}


def test_how_fast_it_is_and_what_it_used_today_come_from_the_last_reports(place: Place) -> None:
    place.let_in(place.issue()[0])
    (stay,) = stays.stays_of(place.conn, PHONE, 9)
    midnight = day_of(place.now, place.config.zone).ends

    def report_at(at: float, octets: int) -> tuple[int, int, int]:
        place.now = at
        place.report(Event.INTERIM, session_time=int(at - stay.started), octets_out=octets)
        (now,) = stays.stays_of(place.conn, PHONE, 9)
        return now.octets_per_s, now.day, now.day_octets

    assert stay.day == 0
    assert report_at(midnight - 300, 60_000)[2] == 60_000
    first = report_at(midnight - 100, 80_000)
    assert first == (100, day_of(midnight - 100, place.config.zone).number, 80_000)
    # A report over midnight counts for the new day what fell into it.
    assert report_at(midnight + 100, 100_000) == (100, first[1] + 1, 10_000)
    assert report_at(midnight + 100.5, 100_500) == (100, first[1] + 1, 10_500), "too soon to say how fast"
    assert report_at(midnight + 200, 100_500) == (0, first[1] + 1, 10_500)


def test_what_another_device_reports_too_is_used_once(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.now += 60
    place.report(Event.INTERIM, session_time=60, octets_out=6000)
    line = guest_line(place.conn, place.keys, PHONE, GARDEN, day_of(place.now, place.config.zone).number)
    assert line is not None
    assert (line.octets_per_s, line.octets_today) == (100, 6000)
    (stay,) = stays.stays_of(place.conn, PHONE, 9)
    stay.counts = False
    stays.save_reports(place.conn, [stay])
    line = guest_line(place.conn, place.keys, PHONE, GARDEN, day_of(place.now, place.config.zone).number)
    assert line is not None
    assert line.octets_per_s == 0
