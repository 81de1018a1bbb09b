"""A limit's last second: access devices ask in exactly that one, and the same answer must be given everywhere."""

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from zoneinfo import ZoneInfo

import pytest

from lauschen.acts.config.pauses import pause_network
from lauschen.acts.config.plans import save_plan
from lauschen.acts.config.ways import offer_ways
from lauschen.acts.page.trying import Tried
from lauschen.acts.staying.sweep import OVER_GRACE_S
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.limits.hours import Hours, Window
from lauschen.core.limits.left import CredentialState, credential_state
from lauschen.core.ways.offers.person import NameAndPassword
from lauschen.core.ways.voucher import Voucher
from lauschen.demo.site import SSID
from tests.acts.arriving.test_for_a_while import configure, sweep
from tests.place import DAY_VISIT, GARDEN, OTHER, PHONE, WEST, Place

VIENNA = ZoneInfo("Europe/Vienna")
AT = datetime(2026, 5, 28, 23, 0, tzinfo=VIENNA).timestamp()
OPENS = datetime(2026, 5, 29, 8, 0, tzinfo=VIENNA).timestamp()
DAYTIME = Hours(VIENNA, ((Window(8 * 60, 23 * 60),),) * 7)
WEEK_S = 7 * 86_400


def its_time(place: Place, code: str) -> None:
    place.conn.execute("UPDATE allowance SET first_used = ?", (AT - 8 * 3600,))


def its_days(place: Place, code: str) -> None:
    place.conn.execute("UPDATE credential SET issued_at = ?", (AT - 90 * 86_400,))


def its_date(place: Place, code: str) -> None:
    place.conn.execute("UPDATE credential SET valid_until = ?", (AT,))


def its_confirmation(place: Place, code: str) -> None:
    place.conn.execute("UPDATE credential SET confirm_by = ?", (AT,))


def its_hours(place: Place, code: str) -> None:
    plan = replace(place.config.plans[DAY_VISIT], hours=DAYTIME, seconds=WEEK_S)
    configure(place, lambda tx: save_plan(tx, plan))


Limit = Callable[[Place, str], None]
RUNNING: list[tuple[Limit, Reason]] = [
    (its_time, Reason.TIME_USED_UP), (its_date, Reason.DATE_OVER), (its_confirmation, Reason.NOT_CONFIRMED),
    (its_hours, Reason.PLAN_CLOSED),
]  # fmt: skip
"""Each ends at AT for somebody who is inside."""
NEW: list[tuple[Limit, Reason]] = RUNNING[1:]
"""Each ends at AT for a code that nobody used, too."""
SECONDS = [(-1.0, True), (-0.999, False), (-0.5, False), (0.0, False), (0.5, False), (1.0, False)]
"""Under one second left is nothing left (rulings 2.6)."""


@pytest.mark.parametrize(("second", "is_in"), SECONDS)
@pytest.mark.parametrize(("limit", "why"), RUNNING)
def test_who_is_inside_and_is_asked_about(
    place: Place, limit: Limit, why: Reason, second: float, is_in: bool
) -> None:
    code = place.issue()[0]
    place.let_in(code)
    limit(place, code)
    place.restart()
    place.now = AT + second
    decision, _ = place.ask(medium=Medium.REAUTHORISED)
    assert decision.answer is (Answer.ADMIT if is_in else Answer.DOOR)
    assert decision.reason is (Reason.ADMITTED if is_in else why)
    if is_in:
        assert decision.left is not None
        assert decision.left.seconds == 1
    state = place.standing().state
    assert (state is State.INSIDE) is is_in
    # The sweep, a moment later, says the same.
    place.now = AT + OVER_GRACE_S + 1
    sweep(place)
    assert place.standing().wanted is not State.INSIDE


@pytest.mark.parametrize(("second", "is_in"), SECONDS)
@pytest.mark.parametrize(("limit", "why"), NEW)
def test_a_new_code_at_the_page_and_by_radius(
    place: Place, limit: Limit, why: Reason, second: float, is_in: bool
) -> None:
    code, other = place.issue(2)
    limit(place, code)
    place.now = AT + second
    place.ask()
    place.open_page()
    tried = place.try_code(code)
    assert isinstance(tried, Tried)
    assert tried.reason is (Reason.ADMITTED if is_in else why)
    offer = NameAndPassword(other, other, lambda said: said == other.encode())
    person = Arrival(Medium.PERSON, OTHER, WEST, ssid=SSID.encode(), session_id="S2", offer=offer)
    decision, _ = place.answer(person)
    assert (decision.answer, decision.reason) == (
        (Answer.ADMIT, Reason.ADMITTED) if is_in else (Answer.REFUSE, why)
    )


@pytest.mark.parametrize("second", [-1.0, -0.001, 0.0, 1.0])
def test_the_last_day_to_begin_ends_at_its_moment(place: Place, second: float) -> None:
    """It is no time that is left: whoever begins before it has all of theirs."""
    code = place.issue()[0]
    its_days(place, code)
    place.now = AT + second
    place.ask()
    place.open_page()
    tried = place.try_code(code)
    assert isinstance(tried, Tried)
    assert tried.reason is (Reason.ADMITTED if second < 0 else Reason.CODE_EXPIRED)


@pytest.mark.parametrize("second", [-1.0, -0.001, 0.0, 1.0])
def test_what_is_good_later_is_good_from_its_moment_on(place: Place, second: float) -> None:
    code = place.issue()[0]
    place.conn.execute("UPDATE credential SET valid_from = ?", (AT,))
    place.now = AT + second
    place.ask()
    place.open_page()
    tried = place.try_code(code)
    assert isinstance(tried, Tried)
    assert tried.reason is (Reason.ADMITTED if second >= 0 else Reason.NOT_YET)


@pytest.mark.parametrize("second", [-1.0, -0.001, 0.0, 1.0])
def test_a_way_in_and_a_pause_change_at_their_moment(place: Place, second: float) -> None:
    code = place.issue()[0]
    configure(place, lambda tx: offer_ways(tx, GARDEN, [Voucher(hours=DAYTIME)]))
    place.now = AT + second
    place.ask()
    place.open_page()
    tried = place.try_code(code)
    assert isinstance(tried, Tried)
    assert tried.reason is (Reason.ADMITTED if second < 0 else Reason.WAY_CLOSED)
    configure(place, lambda tx: offer_ways(tx, GARDEN, [Voucher()]))
    place.now = AT - 60
    configure(place, lambda tx: pause_network(tx, GARDEN, until=AT, why="", ends_stays=False))
    place.now = AT + second
    decision, _ = place.ask(OTHER, "S2")
    assert decision.reason is (Reason.PAUSED if second < 0 else Reason.NEEDS_CODE)


def test_a_code_whose_plan_closes_in_this_second_is_not_used_up(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    its_hours(place, code)
    grant = place.grant(code)
    assert grant is not None
    plan = place.config.plan_of(grant)
    for second in (-1.0, -0.5, 0.0, 1.0):
        assert credential_state(plan, grant.use, AT + second) is CredentialState.RUNNING
    place.now = AT - 0.5
    decision, _ = place.ask(medium=Medium.REAUTHORISED)
    assert decision.good_until == OPENS
    assert place.standing(PHONE).reconsider_at == OPENS
