"""On how many devices what was issued may be: at once, ever, or on any number."""

import pytest

from lauschen.acts.desk.helping import give_time
from lauschen.acts.desk.issuing import begin_batch, draw_vouchers, finish_batch
from lauschen.acts.staying.reports import Event
from lauschen.acts.staying.sweep import OVER_GRACE_S, Sweeper
from lauschen.core.decide.arrival import Medium
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.errors import Invalid
from lauschen.core.ids import Mac
from lauschen.core.limits.seats import Seats
from lauschen.core.limits.terms import Terms
from lauschen.store import credentials
from lauschen.store.batches import Said
from tests.place import DAY_VISIT, OTHER, PHONE, Place

THIRD, FOURTH = Mac(0x020000AABB77), Mac(0x020000AABB78)
TWO_EVER = Terms(devices=2, seats=Seats.EVER)


def issue(place: Place, terms: Terms) -> str:
    with place.tx() as tx:
        batch = begin_batch(tx, plan=DAY_VISIT, size=1, said=Said(), terms=terms)
        draw_vouchers(tx, batch=batch, plan=DAY_VISIT, count=1, terms=terms)
        finish_batch(tx, batch=batch, plan=DAY_VISIT, size=1)
    (issued,) = credentials.all_issued_of(place.conn, place.keys, batch)
    return issued.code


def type_code(place: Place, code: str, mac: Mac) -> Reason:
    place.ask(mac, session=f"S{mac}")
    place.open_page(mac, visit=f"visit-{mac}")
    return place.try_code(code, f"visit-{mac}").reason


def let_in(place: Place, code: str, mac: Mac) -> None:
    decision = place.let_in(code, mac, session=f"S{mac}", visit=f"visit-{mac}")
    assert decision.answer is Answer.ADMIT


def test_at_once_one_that_leaves_makes_room(place: Place) -> None:
    code = issue(place, Terms(devices=2))
    for mac in (PHONE, OTHER):
        let_in(place, code, mac)
    assert type_code(place, code, THIRD) is Reason.DEVICES_FULL
    place.log_out(f"visit-{PHONE}")
    let_in(place, code, FOURTH)


def test_ever_the_first_ones_come_and_go_and_no_other_comes(place: Place) -> None:
    code = issue(place, TWO_EVER)
    for mac in (PHONE, OTHER):
        let_in(place, code, mac)
    place.log_out(f"visit-{PHONE}")
    assert type_code(place, code, THIRD) is Reason.DEVICES_USED
    place.now += 60
    let_in(place, code, PHONE)
    place.now += 60
    decision, _ = place.ask(OTHER, session=f"S{OTHER}")
    assert decision.answer is Answer.ADMIT
    place.log_out(f"visit-{OTHER}")
    place.now += 60
    let_in(place, code, OTHER)  # the other one came twice, and is one device


def test_any_number_shares_what_it_gives(place: Place) -> None:
    code = issue(place, Terms(seats=Seats.ANY))
    for mac in (PHONE, OTHER, THIRD, FOURTH):
        let_in(place, code, mac)
    for n, mac in enumerate((PHONE, OTHER)):
        place.report(Event.START, mac, session=f"S{mac}")
        place.now += 300
        place.report(Event.INTERIM, mac, session=f"S{mac}", octets_in=1000 * (n + 1))
    grant = place.grant(code)
    assert grant is not None
    assert grant.use.octets == 3000


def test_between_two_moments_and_not_before_or_after(place: Place) -> None:
    begins, ends = place.now + 3600, place.now + 7200
    code = issue(place, Terms(valid_from=begins, valid_until=ends))
    assert type_code(place, code, PHONE) is Reason.NOT_YET
    place.now = begins
    let_in(place, code, PHONE)
    place.now = ends
    assert type_code(place, code, OTHER) is Reason.DATE_OVER


def test_one_for_next_year_is_good_then_and_its_days_to_begin_in_run_from_there(place: Place) -> None:
    begins = place.now + 365 * 86_400  # the plan gives 90 days
    code = issue(place, Terms(valid_from=begins))
    place.now = begins + 90 * 86_400 - 1
    let_in(place, code, PHONE)
    late = issue(place, Terms(valid_from=place.now + 60))
    place.now += 60 + 90 * 86_400
    assert type_code(place, late, OTHER) is Reason.CODE_EXPIRED


@pytest.mark.parametrize(
    ("terms", "code"),
    [
        (Terms(devices=0), "devices_out_of_range"),
        (Terms(devices=1000), "devices_out_of_range"),
        (Terms(valid_until=1.0), "until_past"),
        (Terms(valid_from=4e9, valid_until=3.9e9), "until_before"),
    ],
)
def test_what_nobody_could_use_is_not_issued(place: Place, terms: Terms, code: str) -> None:
    with pytest.raises(Invalid) as refused:
        issue(place, terms)
    assert refused.value.code == code


def test_trying_is_no_use(place: Place) -> None:
    """Whoever was refused for the devices counts as none of them."""
    code = issue(place, Terms(devices=1, seats=Seats.EVER))
    let_in(place, code, PHONE)
    for mac in (OTHER, THIRD):
        assert type_code(place, code, mac) is Reason.DEVICES_USED
    let_in(place, code, PHONE)


@pytest.mark.parametrize(
    ("terms", "again"), [(Terms(devices=2), 2), (Terms(seats=Seats.ANY), 3), (Terms(), 1)], ids=str
)
def test_time_that_is_given_lets_as_many_in_again_as_it_is_for(
    place: Place, terms: Terms, again: int
) -> None:
    code = issue(place, terms)
    devices = (PHONE, OTHER, THIRD)[:again]
    for mac in devices:
        let_in(place, code, mac)
        place.report(Event.START, mac, session=f"S{mac}")
    place.now += 8 * 3600 - 10
    for mac in devices:
        place.report(Event.INTERIM, mac, session=f"S{mac}")
    place.now += 10 + OVER_GRACE_S + 1
    with place.tx() as tx:
        Sweeper().sweep(tx)
    for mac in devices:
        place.ask(mac, session=f"S{mac}", medium=Medium.REAUTHORISED)
    assert {place.standing(mac).state for mac in devices} == {State.HELD}
    with place.tx() as tx:
        give_time(tx, place.voucher(code), 3600)
    back = [mac for mac in devices if State.INSIDE in (place.standing(mac).state, place.standing(mac).going)]
    assert len(back) == again
