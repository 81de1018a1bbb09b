"""Every octet that a device uses inside is charged, to the credential it was inside by at that time."""

import pytest

from lauschen.acts.arriving import users
from lauschen.acts.desk import helping as staff_acts
from lauschen.acts.staying import charging
from lauschen.acts.staying.reports import Event
from lauschen.core.decide.arrival import Medium
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.limits.left import INTERIM_NEAR_S, INTERIM_S
from lauschen.core.ways.offers.code import read_typed
from lauschen.core.words.codes import make_code, read_code
from lauschen.store import log
from tests.acts.arriving.test_users import ask as ask_as_person
from tests.acts.arriving.test_users import by_pap
from tests.place import GARDEN, OTHER, PHONE, POSTCARD, WEST, Place

ALL = 5 * 10**6
"""Octets of a Postcard."""


def used(place: Place, code: str) -> int:
    grant = place.grant(code)
    assert grant is not None
    return grant.use.octets


def report(place: Place, seconds: int, octets: int) -> None:
    place.report(Event.INTERIM, session_time=seconds, octets_out=octets)


def wait(place: Place, seconds: float) -> None:
    place.now += seconds


def test_another_code_of_a_guest_who_is_inside_is_charged_from_then_on(place: Place) -> None:
    first, second = place.issue(2, POSTCARD)
    place.let_in(first)
    wait(place, 100)
    report(place, 100, 1000)
    wait(place, 50)
    assert place.try_code(second).reason is Reason.ADMITTED
    assert place.standing().state is State.INSIDE
    wait(place, 50)
    report(place, 200, 3000)  # one report over both: half of it each
    assert (used(place, first), used(place, second)) == (2000, 1000)
    place.ask(medium=Medium.REAUTHORISED)  # the access device asks again, as it was told to
    wait(place, 100)
    report(place, 300, 50 * 10**6)
    assert used(place, second) == 50 * 10**6 - 2000
    assert (place.standing().going, place.standing().reason) == (State.HELD, Reason.DATA_USED_UP)


def test_a_double_click_changes_nothing_of_that(place: Place) -> None:
    code = place.issue(1, POSTCARD)[0]
    place.let_in(code)
    place.try_code(code)
    place.try_code(code)
    wait(place, 100)
    report(place, 100, 50 * 10**6)
    assert used(place, code) == 50 * 10**6
    assert place.standing().going is State.HELD


def test_a_person_by_radius_who_is_inside_already_is_charged_too(place: Place) -> None:
    first, second = place.issue(2, POSTCARD)
    assert ask_as_person(place, by_pap("a", first)).reason is Reason.ADMITTED
    place.report(Event.START)
    assert ask_as_person(place, by_pap("a", second)).reason is Reason.ADMITTED
    wait(place, 100)
    report(place, 100, 50 * 10**6)
    assert (used(place, first), used(place, second)) == (0, 50 * 10**6)


def test_time_given_to_a_guest_on_the_way_out_is_charged_too(place: Place) -> None:
    code = place.issue(1, POSTCARD)[0]
    place.let_in(code)
    wait(place, 3601)
    with place.tx() as tx:
        from lauschen.acts.moving.moves import end_stay

        end_stay(tx, place.standing(), Reason.TIME_USED_UP)
    assert place.standing().going is State.HELD
    with place.tx() as tx:
        staff_acts.give_time(tx, place.voucher(code), 3600)
    assert (place.standing().state, place.standing().going) == (State.INSIDE, None)
    wait(place, 99)
    report(place, 3700, 37_000)
    assert used(place, code) == 37_000


def test_what_comes_after_the_end_of_a_placement_is_nobodys(place: Place) -> None:
    """Report at the door again, within one accounting session: only the share before that is charged."""
    code = place.issue()[0]
    place.let_in(code)
    place.log_out()
    wait(place, 60)
    place.ask(medium=Medium.REAUTHORISED)  # the access device has put it at the door
    assert place.standing().state is State.AT_DOOR
    wait(place, 40)
    report(place, 100, 1000)
    assert used(place, code) == 600
    wait(place, 100)
    report(place, 200, 9000)
    assert used(place, code) == 600


def test_a_gap_between_two_placements_of_one_admission_is_not_charged(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    wait(place, 100)
    place.log_out()
    place.ask(medium=Medium.REAUTHORISED)
    wait(place, 100)
    assert place.try_code(code).reason is Reason.ADMITTED
    place.ask(medium=Medium.REAUTHORISED)
    wait(place, 100)
    report(place, 300, 3000)
    assert used(place, code) == 2000


def test_a_device_over_its_seats_is_charged_until_it_is_moved(place: Place) -> None:
    code = place.issue(1, POSTCARD)[0]
    place.let_in(code)
    place.report(Event.STOP)
    place.let_in(code, OTHER, "T1", "visit-2")
    place.report(
        Event.START, session="S2"
    )  # back without a request, with the role that its access point remembers
    assert (place.standing().state, place.standing().going) == (State.INSIDE, State.AT_DOOR)
    wait(place, 10)
    place.report(Event.INTERIM, session="S2", session_time=10, octets_out=1234)
    assert used(place, code) == 1234


@pytest.mark.parametrize("again", [PHONE, OTHER])
def test_the_moment_at_which_the_data_ran_out_is_kept(place: Place, again: int) -> None:
    code = place.issue(1, POSTCARD)[0]
    place.let_in(code)
    wait(place, 100)
    ran_out = place.now
    report(place, 100, ALL)
    grant = place.grant(code)
    assert grant is not None
    use = grant.use
    assert use.data_out_at == ran_out
    wait(place, 50)
    place.report(Event.STOP, session_time=150, octets_out=ALL + 10)
    wait(place, 500)
    place.ask()
    assert (place.standing().state, place.standing().since) == (State.HELD, ran_out)


def test_one_report_over_two_admissions_ends_the_one_whose_data_it_used_up(place: Place) -> None:
    first, second = place.issue(2, POSTCARD)
    place.let_in(first)
    wait(place, 50)
    place.try_code(second)
    wait(place, 50)
    report(place, 100, 4 * ALL)
    assert (used(place, first), used(place, second)) == (2 * ALL, 2 * ALL)
    assert (place.standing().going, place.standing().reason) == (State.HELD, Reason.DATA_USED_UP)


def test_a_report_that_finds_the_time_over_says_so_and_since_when(place: Place) -> None:
    place.let_in(place.issue(1, POSTCARD)[0])
    over = place.now + 3600
    wait(place, 3630)
    report(place, 3630, 1000)
    standing = place.standing()
    assert (standing.going, standing.reason, standing.reason_at) == (State.HELD, Reason.TIME_USED_UP, over)
    heard = [row for row in log.log_of_device(place.conn, PHONE, 50) if isinstance(row, log.EventRow)]
    (row,) = [row for row in heard if row.kind == "limit_reached"]
    assert (row.mac, row.network, row.access_device) == (PHONE, GARDEN, WEST)
    assert row.facts == {"reason": Reason.TIME_USED_UP}
    assert place.conn.execute("SELECT data_out_at FROM allowance").fetchall() == [(None,)]


def test_data_ran_out_when_the_report_was_made_however_late_it_comes(place: Place) -> None:
    place.let_in(place.issue(1, POSTCARD)[0])
    wait(place, 100)
    place.report(Event.INTERIM, session_time=70, octets_out=ALL, delay=30)
    assert (place.standing().reason, place.standing().reason_at) == (Reason.DATA_USED_UP, place.now - 30)


def test_reports_are_asked_for_more_often_when_the_data_is_nearly_gone(place: Place) -> None:
    def interval(octets_left: int | None) -> int:
        with place.tx() as tx:
            return charging.next_interval(tx, place.standing(), octets_left)

    place.let_in(place.issue(1, POSTCARD)[0])
    wait(place, 100)
    place.report(Event.INTERIM, session_time=100, octets_in=40_000, octets_out=60_000)  # 1,000 in a second
    place.restart()
    near = 10 * INTERIM_S * 1000
    assert [interval(left) for left in (None, near, near - 1)] == [INTERIM_S, INTERIM_S, INTERIM_NEAR_S]
    place.memory.note_rate(PHONE, 0, 0)
    assert interval(1) == INTERIM_S


def test_the_admission_that_another_code_replaced_ended_then_and_says_by_what(place: Place) -> None:
    first, second = place.issue(2)
    place.let_in(first)
    wait(place, 50)
    place.try_code(second)
    rows = place.conn.execute("SELECT ended, end_reason FROM admission ORDER BY id").fetchall()
    assert rows == [(place.now, Reason.OTHER_CODE), (None, None)]
    tokens = {token for (token,) in place.conn.execute("SELECT token FROM admission")}
    assert {len(token) for token in tokens} == {16}  # nobody guesses by which admission a report is


def test_a_code_that_was_typed_is_remembered_by_a_digest_alone(place: Place) -> None:
    code = place.issue()[0]
    for _ in range(2):
        ask_as_person(place, by_pap("mirela", code))
    assert place.memory._proofs
    kept = repr(place.memory._proofs) + repr(vars(users))
    assert code not in kept
    assert not any(hasattr(reads, "cache_info") for reads in (read_typed, read_code))
    assert make_code(5) not in kept


def test_a_mac_is_not_barred_at_the_page_by_what_persons_typed(place: Place) -> None:
    place.ask()
    place.open_page()
    for number in range(5):
        ask_as_person(place, by_pap("a", make_code(number)))
    assert place.standing().state is State.BARRED
    assert place.try_code(place.issue()[0]).reason is Reason.ADMITTED
    assert place.standing().network == GARDEN
