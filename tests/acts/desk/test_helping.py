"""What staff do reaches the device and is kept."""

from dataclasses import replace

import pytest

from lauschen.acts.config import plans
from lauschen.acts.desk import helping as staff_acts
from lauschen.acts.desk import issuing
from lauschen.acts.staying.reports import Event
from lauschen.acts.staying.sweep import Sweeper
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import PlanId
from lauschen.core.limits.left import CredentialState, credential_state
from lauschen.store import allowances, credentials
from lauschen.store.batches import Said
from tests.place import DAY_VISIT, GARDEN, OTHER, PHONE, Place


def test_ten_codes_take_one_act_and_are_all_different(place: Place) -> None:
    codes = place.issue(10)
    assert len(set(codes)) == 10
    sealed = place.conn.execute("SELECT sealed, hash FROM finder").fetchall()
    assert not any(code.encode() in part for code in codes for row in sealed for part in row)


@pytest.mark.parametrize(
    ("plan", "count", "field"), [(99, 1, "plan"), (1, 0, "count"), (1, 100_001, "count")]
)
def test_what_cannot_be_issued_names_the_field(place: Place, plan: int, count: int, field: str) -> None:
    with pytest.raises(Invalid) as caught, place.tx() as tx:
        issuing.begin_batch(tx, plan=PlanId(plan), size=count, said=Said())
    assert caught.value.field == field


def test_end_stay_sends_back_to_the_door_and_the_voucher_still_works(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    with place.tx() as tx:
        staff_acts.end_device_stay(tx, PHONE, GARDEN)
    wish = place.wish()
    assert wish is not None
    assert (wish.what, wish.session_id) == ("out", "S1")
    place.report(Event.STOP)
    decision, _ = place.ask(session="S2")
    assert (decision.reason, place.standing().state) == (Reason.NEEDS_CODE, State.AT_DOOR)
    assert place.standing().reason is Reason.ENDED_BY_STAFF
    place.open_page(visit="v2")
    assert place.try_code(code, "v2").reason is Reason.ADMITTED


def test_there_must_be_a_stay_to_end(place: Place) -> None:
    with pytest.raises(NotThere), place.tx() as tx:
        staff_acts.end_device_stay(tx, PHONE, GARDEN)
    place.ask()
    with pytest.raises(Invalid), place.tx() as tx:
        staff_acts.end_device_stay(tx, PHONE, GARDEN)


def test_time_given_to_who_is_inside_is_told_to_the_device(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    place.now += 8 * 3600 - 60
    with place.tx() as tx:
        staff_acts.give_time(tx, place.voucher(code), 1800)
    wish = place.wish()
    assert wish is not None
    assert wish.what == "in"
    decision, _ = place.ask(session="S1")
    assert decision.left is not None
    assert decision.left.seconds == 1860


def test_time_given_to_who_is_held_lets_in_again_and_counts_from_now(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    place.now += 10 * 3600
    place.ask(session="S2")
    assert place.standing().state is State.HELD
    with place.tx() as tx:
        staff_acts.give_time(tx, place.voucher(code), 1800)
    assert place.standing().going is State.INSIDE
    decision, _ = place.ask(session="S2")
    assert decision.left is not None
    assert decision.left.seconds == 1800
    assert place.standing().state is State.INSIDE


@pytest.mark.parametrize("seconds", [0, 59, 32 * 86_400])
def test_time_is_given_within_reason(place: Place, seconds: int) -> None:
    code = place.issue()[0]
    with pytest.raises(Invalid), place.tx() as tx:
        staff_acts.give_time(tx, place.voucher(code), seconds)


def test_a_withdrawn_voucher_ends_stays_and_opens_nothing(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    voucher = place.voucher(code)
    with place.tx() as tx:
        staff_acts.withdraw(tx, voucher)
    (grant,) = allowances.allowances_of(place.conn, voucher)
    assert credential_state(place.config.plans[DAY_VISIT], grant.use, place.now) is CredentialState.WITHDRAWN
    assert place.standing().going is State.AT_DOOR
    place.ask(session="S2")
    place.open_page(visit="v2")
    assert place.try_code(code, "v2").reason is Reason.CODE_WITHDRAWN
    with pytest.raises(Invalid), place.tx() as tx:
        staff_acts.give_time(tx, voucher, 3600)


def test_bar_and_let_try_again(place: Place) -> None:
    code = place.issue()[0]
    place.ask()
    with place.tx() as tx:
        staff_acts.bar(tx, PHONE, GARDEN)
    with pytest.raises(Invalid, match="barred before"), place.tx() as tx:
        staff_acts.bar(tx, PHONE, GARDEN)
    assert place.standing().state is State.BARRED
    assert place.wish() is None  # it is at the door already: nothing to move
    place.open_page()
    assert place.try_code(code).reason is Reason.BARRED_BY_STAFF
    with place.tx() as tx:
        staff_acts.let_try_again(tx, PHONE, GARDEN)
    assert place.try_code(code).reason is Reason.ADMITTED


def test_a_limit_that_nobody_reports_is_kept_by_the_sweep(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.now += 8 * 3600 + 9
    place.report(Event.INTERIM, session_time=8 * 3600)
    with place.tx() as tx:
        assert Sweeper().sweep(tx).done == 0
    place.now += 2
    with place.tx() as tx:
        assert Sweeper().sweep(tx).done == 1
    assert (place.standing().going, place.standing().reason) == (State.HELD, Reason.TIME_USED_UP)


def test_who_does_not_ask_again_has_left(place: Place) -> None:
    place.ask()
    place.open_page()
    place.now += 2401
    with place.tx() as tx:
        Sweeper().sweep(tx)
    assert place.standing().state is State.LEFT


def test_a_seat_without_a_stay_is_free_after_two_minutes(place: Place) -> None:
    code = place.issue()[0]
    place.ask()
    place.open_page()
    place.try_code(code)
    place.now += 121
    with place.tx() as tx:
        Sweeper().sweep(tx)
    assert place.conn.execute("SELECT seat_since FROM admission").fetchall() == [(None,)]


def test_who_has_left_is_forgotten_and_who_is_here_stays(place: Place) -> None:
    (code,) = place.issue(1)
    with place.tx() as tx:
        plan = replace(tx.config.plans[DAY_VISIT], devices=2)
        plans.save_plan(tx, plan)
        tx.reconfigure()
    place.config = tx.config
    for mac in (PHONE, OTHER):
        place.let_in(code, mac, session=f"S{mac}", visit=f"visit-{mac}")
        place.report(Event.START, mac, session=f"S{mac}")
    place.report(Event.STOP, session=f"S{PHONE}")
    voucher = place.voucher(code)
    away = credentials.get_issued(place.conn, place.keys, voucher)
    assert (away.devices_in, away.devices_away) == (2, 1)
    with place.tx() as tx:
        staff_acts.forget_away(tx, voucher)
    assert (place.standing().admission, place.standing(OTHER).state) == (None, State.INSIDE)
    assert place.ask(session="S9")[0].reason is Reason.NEEDS_CODE
    with pytest.raises(Invalid, match="nobody_away"), place.tx() as tx:
        staff_acts.forget_away(tx, voucher)
