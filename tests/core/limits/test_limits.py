"""What is left: exact, rounded down, and naming the limit that binds."""

from datetime import datetime
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.ids import PlanId
from lauschen.core.limits.hours import Hours, Window
from lauschen.core.limits.left import (
    Binds,
    CredentialState,
    credential_state,
    interim_interval,
    left,
    limit_ended,
    missing_seconds,
    must_start_by,
)
from lauschen.core.limits.plan import Plan
from lauschen.core.limits.use import Use

HOUR, GB = 3600, 10**9
DAY_VISIT = Plan(PlanId(1), "Day visit", 8 * HOUR, 1800, 2 * GB, 1, 90)
T0 = 1_780_000_000.0


@pytest.mark.parametrize(
    ("use", "now", "seconds", "octets", "binds", "state"),
    [
        (Use(T0), T0, 8 * HOUR, 2 * GB, Binds.TIME, CredentialState.FRESH),
        (Use(T0, T0), T0 + 0.5, 8 * HOUR - 1, 2 * GB, Binds.TIME, CredentialState.RUNNING),
        (Use(T0, T0, GB), T0 + HOUR, 7 * HOUR, GB, Binds.TIME, CredentialState.RUNNING),
        (Use(T0, T0), T0 + 8 * HOUR - 0.5, 0, 2 * GB, Binds.TIME, CredentialState.USED_UP),
        (Use(T0, T0), T0 + 8 * HOUR - 1, 1, 2 * GB, Binds.TIME, CredentialState.RUNNING),
        (Use(T0, T0, 2 * GB), T0 + HOUR, 7 * HOUR, 0, Binds.DATA, CredentialState.USED_UP),
        (Use(T0, T0, 3 * GB), T0 + HOUR, 7 * HOUR, 0, Binds.DATA, CredentialState.USED_UP),
        (Use(T0, T0, 2 * GB, 0, 5), T0 + HOUR, 7 * HOUR, 5, Binds.TIME, CredentialState.RUNNING),
        (Use(T0, T0, 0, HOUR), T0 + 8 * HOUR, HOUR, 2 * GB, Binds.TIME, CredentialState.RUNNING),
        (Use(T0, None, 0, HOUR), T0, 9 * HOUR, 2 * GB, Binds.TIME, CredentialState.FRESH),
        # Both over: the one that ended it first by the clock is said.
        (Use(T0, T0, 2 * GB), T0 + 8 * HOUR, 0, 0, Binds.TIME, CredentialState.USED_UP),
        (Use(T0, T0, 2 * GB), T0 + 9 * HOUR, 0, 0, Binds.TIME, CredentialState.USED_UP),
        (Use(T0), T0 + 90 * 86400, 0, 2 * GB, Binds.VALIDITY, CredentialState.EXPIRED),
        (Use(T0), T0 + 90 * 86400 - 1, 8 * HOUR, 2 * GB, Binds.TIME, CredentialState.FRESH),
        (Use(T0, T0, withdrawn_at=T0), T0, 8 * HOUR, 2 * GB, Binds.TIME, CredentialState.WITHDRAWN),
    ],
)
def test_table(use: Use, now: float, seconds: int, octets: int, binds: Binds, state: CredentialState) -> None:
    remains = left(DAY_VISIT, use, now)
    assert (remains.seconds, remains.octets, remains.binds) == (seconds, octets, binds)
    assert credential_state(DAY_VISIT, use, now) is state


def test_a_plan_without_limits_never_ends() -> None:
    remains = left(Plan(PlanId(2), "Open", None, None, None, 1, None), Use(T0, T0, 10**15), T0 + 10**9)
    assert (remains.seconds, remains.until, remains.octets, remains.is_over) == (None, None, None, False)


@given(st.floats(0, 9 * HOUR), st.floats(0, HOUR), st.integers(0, 3 * GB))
def test_what_is_left_never_grows_by_waiting_or_using(at: float, more: float, octets: int) -> None:
    before = left(DAY_VISIT, Use(T0, T0, octets), T0 + at)
    after = left(DAY_VISIT, Use(T0, T0, octets + 1), T0 + at + more)
    assert after.seconds is not None
    assert before.seconds is not None
    assert after.seconds <= before.seconds
    assert (after.octets or 0) <= (before.octets or 0)


def test_interim_updates_come_closer_when_the_allowance_is_nearly_gone() -> None:
    assert interim_interval(None, 10**9) == 600
    assert interim_interval(2 * GB, 1000.0) == 600
    assert interim_interval(5_000_000, 1000.0) == 60
    assert [interim_interval(6_000_000 + more, 1000.0) for more in (-1, 0, 1)] == [60, 600, 600]


@pytest.mark.parametrize(
    ("use", "now", "ended"),
    [
        (Use(T0, T0), T0 + 9 * HOUR, T0 + 8 * HOUR),
        (Use(T0, T0, given_seconds=HOUR), T0 + 10 * HOUR, T0 + 9 * HOUR),
        (Use(T0, T0, 2 * GB, data_out_at=T0 + 5), T0 + 50, T0 + 5),
        (Use(T0, T0, 2 * GB), T0 + 50, T0 + 50),  # nobody noted when
        (
            Use(T0, T0),
            T0 + 8 * HOUR - 0.5,
            T0 + 8 * HOUR - 0.5,
        ),  # less than a second is nothing
        (Use(T0), T0 + 91 * 86400, T0 + 90 * 86400),
    ],
)
def test_the_moment_at_which_a_limit_ended(use: Use, now: float, ended: float) -> None:
    assert limit_ended(left(DAY_VISIT, use, now), use, now) == ended


def test_the_last_moment_to_begin() -> None:
    assert must_start_by(DAY_VISIT, Use(T0)) == T0 + 90 * 86400
    assert must_start_by(Plan(PlanId(2), "Open", None, None, None, 1, None), Use(T0)) is None


@pytest.mark.parametrize(
    ("first_used", "seconds", "missing"),
    [(T0, HOUR, 61), (T0, 2 * HOUR, 0), (None, HOUR, 0), (T0, None, 0), (T0 + 61, HOUR, 0)],
)
def test_what_is_missing_of_a_time_that_is_over(
    first_used: float | None, seconds: int | None, missing: int
) -> None:
    plan = Plan(PlanId(1), "Postcard", seconds, None, None, 1, None)
    assert missing_seconds(plan, Use(T0, first_used), T0 + HOUR + 60.5) == missing


def test_the_earliest_of_its_ends_binds() -> None:
    """Time from first use, a last moment, and the hour at which the plan closes."""
    vienna = ZoneInfo("Europe/Vienna")
    noon = datetime(2026, 6, 3, 12, tzinfo=vienna).timestamp()
    daily = Hours(vienna, ((Window(600, 840),),) * 7)  # 10:00 to 14:00

    def ends(
        seconds: int | None, valid_until: float | None, hours: Hours | None, now: float = noon
    ) -> object:
        plan = Plan(PlanId(1), "Postcard", seconds, None, None, 1, None, hours=hours)
        remains = left(plan, Use(noon, noon, valid_until=valid_until), now)
        return (None if remains.until is None else remains.until - noon, remains.binds)

    assert ends(None, None, None)[0] is None  # type: ignore[index]
    assert ends(None, noon + 60, None) == (60, Binds.DATE)
    assert ends(60, noon + 60, None) == (60, Binds.TIME)
    assert ends(61, noon + 60, None) == (60, Binds.DATE)
    assert ends(None, None, daily) == (2 * HOUR, Binds.HOURS)
    assert ends(2 * HOUR, None, daily) == (2 * HOUR, Binds.TIME)
    assert ends(3 * HOUR, None, daily) == (2 * HOUR, Binds.HOURS)
    # While it is closed nobody is inside whom the next opening could end.
    assert ends(8 * HOUR, None, daily, noon + 3 * HOUR) == (8 * HOUR, Binds.TIME)
