"""Closed hours and pauses keep a device out for a while; what lets it in goes on. Whoever was away is asked again."""

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from zoneinfo import ZoneInfo

import pytest

from lauschen.acts.config.pauses import end_pause, pause_network
from lauschen.acts.config.plans import save_plan
from lauschen.acts.config.texts import write_text
from lauschen.acts.config.ways import offer_ways
from lauschen.acts.mass.slices import do_slice
from lauschen.acts.page.trying import Tried
from lauschen.acts.staying.reports import Event
from lauschen.acts.staying.sweep import OVER_GRACE_S, Sweeper
from lauschen.core.config.site_text import TextKind
from lauschen.core.decide.arrival import Medium
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.decide.steps import AWAY_S
from lauschen.core.errors import Invalid
from lauschen.core.limits.hours import Hours, Window
from lauschen.core.ways.click_through import ClickThrough
from lauschen.core.ways.voucher import Voucher
from lauschen.road.tx import Tx
from tests.ensemble import ENSEMBLE, INTERMISSION, Ensemble
from tests.place import DAY_VISIT, GARDEN, OTHER, PHONE, Place

VIENNA = ZoneInfo("Europe/Vienna")
CLOSES = datetime(2026, 5, 28, 23, 0, tzinfo=VIENNA).timestamp()
OPENS = datetime(2026, 5, 29, 8, 0, tzinfo=VIENNA).timestamp()
DAYTIME = Hours(VIENNA, ((Window(8 * 60, 23 * 60),),) * 7)
HOUR = 3600


def configure(place: Place, change: Callable[[Tx], object]) -> None:
    with place.tx() as tx:
        change(tx)
        tx.reconfigure()
    place.config = tx.config


def sweep(place: Place) -> None:
    """What is due by the clock, and what a change of the configuration left to be done."""
    while place.run(do_slice):
        pass
    place.run(Sweeper().sweep)


@pytest.fixture
def closing(place: Place) -> Place:
    """The day visit is good from 8 to 23; now it is half past ten in the evening."""
    plan = replace(place.config.plans[DAY_VISIT], hours=DAYTIME, seconds=7 * 86_400)
    configure(place, lambda tx: save_plan(tx, plan))
    return place


def test_the_answer_says_until_its_plan_closes(closing: Place) -> None:
    decision = closing.let_in(closing.issue()[0])
    assert decision.good_until == CLOSES
    assert closing.standing().reconsider_at == CLOSES


def test_at_the_hour_the_stay_ends_and_in_the_morning_it_goes_on(closing: Place) -> None:
    closing.let_in(closing.issue()[0])
    admission = closing.standing().admission
    closing.now = CLOSES - 60
    closing.report(Event.INTERIM, session_time=1500)
    closing.now = CLOSES + OVER_GRACE_S
    sweep(closing)
    standing = closing.standing()
    assert (standing.going, standing.reason) == (State.AT_DOOR, Reason.PLAN_CLOSED)
    assert standing.admission == admission
    decision, _ = closing.ask(medium=Medium.REAUTHORISED)
    assert (decision.answer, decision.reason) == (Answer.DOOR, Reason.PLAN_CLOSED)
    assert closing.standing().reconsider_at == OPENS
    for closing.now in range(int(CLOSES) + 1700, int(OPENS), 1700):
        closing.ask()
        closing.report(Event.INTERIM, session_time=int(closing.now - CLOSES) + 2000)
    closing.now = OPENS + OVER_GRACE_S
    sweep(closing)
    assert closing.standing().going is State.INSIDE
    decision, _ = closing.ask(medium=Medium.REAUTHORISED)
    assert (decision.answer, closing.standing().admission) == (Answer.ADMIT, admission)


def test_who_finds_its_seat_taken_in_the_morning_keeps_what_it_has(closing: Place) -> None:
    code = closing.issue()[0]
    closing.let_in(code)
    admission = closing.standing().admission
    closing.now = CLOSES - 60
    closing.report(Event.INTERIM, session_time=1500)
    closing.now = CLOSES + OVER_GRACE_S
    sweep(closing)
    closing.ask(medium=Medium.REAUTHORISED)
    closing.now = OPENS + 1
    closing.report(Event.INTERIM, session_time=40_000)
    closing.let_in(code, OTHER, "T1", "visit-2")
    closing.now = OPENS + OVER_GRACE_S
    sweep(closing)
    standing = closing.standing()
    assert (standing.admission, standing.reason) == (admission, Reason.DEVICES_FULL)


def test_whoever_left_meanwhile_is_let_in_when_it_is_back_and_not_before(closing: Place) -> None:
    closing.let_in(closing.issue()[0])
    closing.now = CLOSES + 60
    sweep(closing)
    closing.report(Event.STOP, session_time=1000)
    closing.now = OPENS + 60
    sweep(closing)
    assert closing.standing().state is State.LEFT
    assert closing.ask(session="S2")[0].answer is Answer.ADMIT


def test_a_code_is_right_and_refused_while_its_plan_is_closed_and_no_guess(closing: Place) -> None:
    code = closing.issue()[0]
    closing.now = CLOSES
    closing.ask()
    closing.open_page()
    for _ in range(7):
        tried = closing.try_code(code)
        assert isinstance(tried, Tried)
        assert (tried.reason, tried.barred_until) == (Reason.PLAN_CLOSED, None)
    found = closing.grant(code)
    assert found is not None
    assert found.use.first_used is None  # its time has not begun


def test_hours_that_are_changed_reach_whoever_is_inside(place: Place) -> None:
    place.let_in(place.issue()[0])
    plan = replace(place.config.plans[DAY_VISIT], hours=Hours(VIENNA, ((Window(0, 60),),) * 7))
    configure(place, lambda tx: save_plan(tx, plan))
    place.now += OVER_GRACE_S
    sweep(place)
    assert place.standing().going is State.AT_DOOR


def test_a_way_that_is_closed_takes_nothing_and_leaves_those_inside(place: Place) -> None:
    code, other = place.issue(2)
    configure(place, lambda tx: offer_ways(tx, GARDEN, [Voucher(hours=DAYTIME)]))
    place.let_in(code)
    place.now = CLOSES + 60
    assert place.ask()[0].answer is Answer.ADMIT
    place.ask(OTHER, "T1")
    place.open_page(OTHER, "visit-2", "127.77.1.2")
    tried = place.try_code(other, "visit-2")
    assert isinstance(tried, Tried)
    assert tried.reason is Reason.WAY_CLOSED
    wrong = place.try_code("ZZZZZ-ZZZZZ"[:5] + other[5:], "visit-2")
    assert not isinstance(wrong, Tried) or wrong.reason is Reason.CODE_UNKNOWN


def paused(place: Place, *, ends_stays: bool, until: float | None = None) -> None:
    configure(place, lambda tx: pause_network(tx, GARDEN, until=until, why="Concert.", ends_stays=ends_stays))


def test_a_pause_lets_nobody_in_and_leaves_those_inside_if_it_says_so(place: Place) -> None:
    code, other = place.issue(2)
    place.let_in(code)
    paused(place, ends_stays=False)
    place.now += OVER_GRACE_S
    sweep(place)
    assert place.standing().going is None
    assert place.ask()[0].answer is Answer.ADMIT
    decision, _ = place.ask(OTHER, "T1")
    assert (decision.answer, decision.reason) == (Answer.DOOR, Reason.PAUSED)
    place.open_page(OTHER, "visit-2", "127.77.1.2")
    tried = place.try_code(other, "visit-2")
    assert isinstance(tried, Tried)
    assert tried.reason is Reason.PAUSED
    place.report(Event.STOP, session_time=100)
    assert place.ask(session="S2")[0].reason is Reason.PAUSED  # gone, it is as everybody


def test_one_that_ends_stays_gives_them_back_when_it_is_over(place: Place) -> None:
    place.let_in(place.issue()[0])
    until = place.now + HOUR
    paused(place, ends_stays=True, until=until)
    place.now += OVER_GRACE_S
    sweep(place)
    assert place.standing().going is State.AT_DOOR
    assert place.ask(medium=Medium.REAUTHORISED)[0].reason is Reason.PAUSED
    assert place.standing().reconsider_at == until
    place.now = until
    assert place.ask()[0].answer is Answer.ADMIT  # whoever asks at that instant


def test_a_pause_that_somebody_ends_lets_those_in_again_that_it_kept_out(place: Place) -> None:
    place.let_in(place.issue()[0])
    paused(place, ends_stays=True)
    place.now += OVER_GRACE_S
    sweep(place)
    place.ask(medium=Medium.REAUTHORISED)
    configure(place, lambda tx: end_pause(tx, GARDEN))
    place.now += OVER_GRACE_S
    sweep(place)
    assert place.standing().going is State.INSIDE
    assert place.ask(medium=Medium.REAUTHORISED)[0].answer is Answer.ADMIT


def test_a_time_that_is_used_up_during_a_pause_holds(place: Place) -> None:
    place.let_in(place.issue()[0])
    paused(place, ends_stays=True)
    place.now += OVER_GRACE_S
    sweep(place)
    place.ask(medium=Medium.REAUTHORISED)
    place.now += 8 * HOUR
    place.ask()
    place.report(Event.INTERIM, session_time=8 * HOUR)
    configure(place, lambda tx: end_pause(tx, GARDEN))
    place.now += OVER_GRACE_S
    sweep(place)
    assert place.standing().state is State.HELD


@pytest.mark.parametrize(("until", "why"), [(-1.0, ""), (None, "x" * 201)])
def test_a_pause_that_is_over_or_says_too_much_is_none(place: Place, until: float | None, why: str) -> None:
    moment = None if until is None else place.now + until
    with pytest.raises(Invalid), place.tx() as tx:
        pause_network(tx, GARDEN, until=moment, why=why, ends_stays=False)
    assert place.config.networks[GARDEN].pause is None


def remembered(place: Place, minutes: int | None) -> None:
    configure(place, lambda tx: offer_ways(tx, GARDEN, [Voucher(remember_minutes=minutes)]))


def away_and_back(place: Place, seconds: float, session: str) -> Reason:
    place.report(Event.STOP, session=place.standing().session_id or "S1", session_time=1000)
    place.now += seconds
    return place.ask(session=session)[0].reason


def test_a_device_is_remembered_from_its_login_on(place: Place) -> None:
    remembered(place, 60)
    place.let_in(place.issue()[0])
    begun = place.now
    assert away_and_back(place, 30 * 60, "S2") is Reason.ADMITTED
    place.now = begun + 2 * HOUR
    assert place.ask(session="S2")[0].reason is Reason.ADMITTED  # it was there all the time
    assert away_and_back(place, AWAY_S, "S3") is Reason.FORGOTTEN
    assert place.standing().admission is None
    assert place.ask(session="S3")[0].reason is Reason.NEEDS_CODE  # said once


def test_who_goes_on_to_another_access_point_was_not_away(place: Place) -> None:
    remembered(place, 0)
    place.let_in(place.issue()[0])
    assert away_and_back(place, AWAY_S - 1, "S2") is Reason.ADMITTED
    assert away_and_back(place, AWAY_S, "S3") is Reason.FORGOTTEN


def test_the_same_code_goes_on_where_it_was(place: Place) -> None:
    remembered(place, 0)
    code = place.issue()[0]
    place.let_in(code)
    first = place.now
    away_and_back(place, HOUR, "S2")
    place.open_page(visit="visit-2", source="127.77.1.9")
    tried = place.try_code(code, "visit-2")
    assert isinstance(tried, Tried)
    assert tried.reason is Reason.ADMITTED
    assert place.ask(session="S2", medium=Medium.REAUTHORISED)[0].good_until == first + 8 * HOUR


def test_without_a_word_it_is_remembered_to_the_end_of_what_it_has(place: Place) -> None:
    remembered(place, None)
    place.let_in(place.issue()[0])
    assert away_and_back(place, 7 * HOUR, "S2") is Reason.ADMITTED


@pytest.mark.parametrize(("asks", "reason"), [(True, Reason.FORGOTTEN), (False, Reason.ADMITTED)])
def test_rules_that_were_written_anew_are_asked_about_again(place: Place, asks: bool, reason: Reason) -> None:
    ensemble = Ensemble(place)
    way = ClickThrough(INTERMISSION, asks_when_changed=asks)
    configure(place, lambda tx: offer_ways(tx, ENSEMBLE, [way]))
    ensemble.let_in()
    configure(place, lambda tx: write_text(tx, TextKind.RULES, {"en": "Be kind."}))
    assert ensemble.ask().reason is Reason.ADMITTED  # inside it stays
    with place.tx() as tx:
        standing = tx.read_standing(PHONE, ENSEMBLE)
        assert standing is not None
        standing.state = standing.wanted = State.LEFT
        standing.since = tx.now
        tx.write_standing(standing)
    place.now += AWAY_S
    assert ensemble.ask().reason is reason
