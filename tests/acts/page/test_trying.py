"""What guests do at the page."""

from dataclasses import replace

import pytest

from lauschen.acts.desk import helping as staff_acts
from lauschen.acts.page import trying as page_acts
from lauschen.acts.page import visiting
from lauschen.acts.page.visiting import OtherDevice
from lauschen.acts.staying.reports import Event
from lauschen.core.config.dialect import Move
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.errors import NotThere
from lauschen.core.words.codes import Typo, make_code
from lauschen.store import devices
from tests.place import DAY_VISIT, GARDEN, OTHER, PHONE, POSTCARD, WEST, Place


def at_page(place: Place) -> None:
    place.ask()
    place.report(Event.START)
    place.open_page()


def wrong(place: Place, times: int) -> Typo | page_acts.Tried:
    result = None
    for number in range(times):
        result = place.try_code(make_code(900_000 + number))
        place.now += 1
    assert result is not None
    return result


def test_a_slip_is_told_and_not_counted(place: Place) -> None:
    at_page(place)
    for _ in range(20):
        assert place.try_code("K7TRQ-9WMPX") is Typo.CHECK
    assert place.conn.execute("SELECT count(*) FROM wrong_try").fetchone() == (0,)
    assert place.standing().code_tried is None


def test_five_wrong_codes_bar_the_visits_typing_for_ten_minutes_even_of_a_right_one(place: Place) -> None:
    code = place.issue()[0]
    at_page(place)
    assert wrong(place, 4).barred_until is None
    last = wrong(place, 1)
    assert last.barred_until == place.now - 1 + 600
    assert place.standing().state is State.AT_DOOR  # the visit is barred, not the device
    refused = place.try_code(code)
    assert (refused.reason, refused.barred_until) == (Reason.BARRED_BY_TRIES, last.barred_until)
    place.now = (last.barred_until or 0) + 1
    assert place.try_code(code).reason is Reason.ADMITTED


def test_let_try_again_lifts_the_bar_of_its_visits_at_once(place: Place) -> None:
    code = place.issue()[0]
    at_page(place)
    wrong(place, 5)
    with place.tx() as tx:
        staff_acts.let_try_again(tx, PHONE, GARDEN)
    assert wrong(place, 4).barred_until is None  # the tries before are forgotten too
    assert place.try_code(code).reason is Reason.ADMITTED


def test_one_source_that_guesses_for_many_devices_is_slowed_and_nobody_is_barred(place: Place) -> None:
    code = place.issue()[0]
    waits = []
    for number in range(6):
        mac = type(PHONE)(PHONE + 16 + number)
        place.ask(mac, f"G{number}")
        place.open_page(mac, f"g{number}")
        for guess in range(4):
            waits.append(place.try_code(make_code(800_000 + guess), f"g{number}").wait_s)
    assert waits == [0.0] * 20 + [pytest.approx(0.1 * over) for over in (1, 2, 3, 4)]
    at_page(place)
    right = place.try_code(code)
    assert (right.reason, right.wait_s) == (Reason.ADMITTED, 0.0)


def test_a_second_device_is_refused_which_is_no_wrong_try(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    place.ask(OTHER, "T1")
    place.open_page(OTHER, "visit-2")
    assert place.try_code(code, "visit-2").reason is Reason.DEVICES_FULL
    assert place.conn.execute("SELECT count(*) FROM wrong_try").fetchone() == (0,)
    assert devices.typing_barred_until(place.conn, OTHER) is None


def test_who_has_a_seat_keeps_it_when_the_plan_is_made_smaller_also_by_typing_the_code_again(
    place: Place,
) -> None:
    def plan_for(devices: int) -> None:
        plans = place.config.plans
        place.config = replace(
            place.config, plans={**plans, DAY_VISIT: replace(plans[DAY_VISIT], devices=devices)}
        )

    code = place.issue()[0]
    plan_for(2)
    place.let_in(code)
    place.let_in(code, OTHER, "T1", "visit-2")
    plan_for(1)
    place.open_page(PHONE, "visit-3", source="127.77.1.3")
    assert place.try_code(code, "visit-3").reason is Reason.ADMITTED
    assert place.ask()[0].reason is Reason.ADMITTED


def test_from_first_use_runs_from_the_committed_decision(place: Place) -> None:
    code = place.issue()[0]
    place.now += 5000
    place.let_in(code)
    grant = place.grant(code)
    assert grant is not None
    assert grant.use.first_used == place.now


def test_the_first_code_that_was_tried_is_noted_with_its_time(place: Place) -> None:
    at_page(place)
    first = place.now
    wrong(place, 2)
    assert place.standing().code_tried == first


def test_a_right_code_has_its_place_in_what_was_decided_and_in_what_is_wanted(place: Place) -> None:
    place.set_dialect(pause_ms=1500)
    at_page(place)
    asked = place.standing().decision
    place.try_code(place.issue(1, POSTCARD)[0])
    newest = place.conn.execute("SELECT reason, before FROM decision ORDER BY id DESC LIMIT 1").fetchone()
    assert newest == (Reason.ADMITTED, asked)
    wish = place.wish()
    assert wish is not None
    assert (place.standing().reconsider_at, wish.next_at) == (place.now + 3600, place.now + 1.5)


def test_log_out_is_for_the_visit_that_logged_in(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.open_page(visit="neighbour", source="127.77.1.9")
    with pytest.raises(NotThere):
        place.log_out("neighbour")
    place.log_out()
    standing = place.standing()
    assert (standing.going, standing.reason) == (State.AT_DOOR, Reason.LOGGED_OUT)
    wish = place.wish()
    assert wish is not None
    assert wish.what == "out"


def test_a_code_of_a_house_whose_access_device_was_removed_lets_nobody_in(place: Place) -> None:
    code = place.issue()[0]
    at_page(place)
    place.config = replace(place.config, access_devices={})
    with pytest.raises(NotThere):
        place.try_code(code)


def test_a_visit_ends_with_its_token(place: Place) -> None:
    at_page(place)
    place.now += 2400
    with pytest.raises(NotThere):
        place.try_code(make_code(5))


def test_a_device_that_has_left_cannot_be_let_in(place: Place) -> None:
    code = place.issue()[0]
    at_page(place)
    place.report(Event.STOP)
    with pytest.raises(NotThere):
        place.try_code(code)


def test_the_page_is_counted_as_opened_once(place: Place) -> None:
    at_page(place)
    opened = place.standing().page_opened
    place.now += 9
    place.open_page(visit="again")
    assert place.standing().page_opened == opened
    assert place.kinds().count("page_opened") == 1


def test_a_visit_that_only_claims_a_device_may_log_in_and_end_what_it_began(place: Place) -> None:
    place.ask()
    with place.tx() as tx:
        dialect = place.config.access_devices[WEST].dialect
        real = visiting.open_appended(tx, PHONE, dialect, None, "10.0.0.9")
    place.visits["claim"] = real, "10.0.0.9"
    assert place.try_code(place.issue()[0], "claim").reason is Reason.ADMITTED
    place.log_out("claim")
    assert place.standing().admission is None


def test_the_same_code_posted_twice_begins_one_admission(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    before = place.standing().admission
    assert place.try_code(code).reason is Reason.ADMITTED
    assert (place.standing().admission, place.wish()) == (before, None)


def test_another_one_time_login_is_for_the_visit_and_the_device_that_logged_in(place: Place) -> None:
    place.set_dialect(login_move=Move.POSTED)
    at_page(place)
    place.open_page(visit="neighbour", source="127.77.1.9")

    def again(visit: str, source: str | None = None) -> None:
        real, home = place.visits[visit]
        with place.tx() as tx:
            page_acts.hand_out_again(tx, real, source or home)

    with pytest.raises(NotThere):
        again("visit-1")  # it has not logged in
    place.try_code(place.issue()[0])
    again("visit-1")
    with pytest.raises(NotThere):
        again("neighbour")
    place.report(Event.INTERIM, framed_ip="127.77.1.1")
    place.ask(OTHER, "T1")
    place.report(Event.START, OTHER, "T1", framed_ip="127.77.1.8")
    with pytest.raises(OtherDevice):
        again("visit-1", "127.77.1.8")
