"""Since when nobody can be let in any more by what was issued, whatever the clock does."""

from dataclasses import replace

import pytest

from lauschen.core.decide.grant import Grant
from lauschen.core.decide.over import NO_MOMENT, counts_nothing, over_since
from lauschen.core.ids import AllowanceId, CredentialId, PlanId
from lauschen.core.limits.plan import Plan
from lauschen.core.limits.use import Use
from lauschen.core.ways.kinds import WayIn

T0 = 1_780_000_000.0
HOUR, DAY = 3600.0, 86_400.0
PLAN = Plan(
    PlanId(1), "Day visit", seconds=8 * 3600, idle_seconds=None, octets=1000, devices=1, use_within_days=90
)
FREE = Plan(
    PlanId(2), "Season", seconds=None, idle_seconds=None, octets=None, devices=1, use_within_days=None
)


def since(plan: Plan, now: float, **use: object) -> float | None:
    grant = Grant(WayIn.VOUCHER, plan.id, Use(T0, **use), CredentialId(1), AllowanceId(1))  # type: ignore[arg-type]
    return over_since(plan, grant, now)


@pytest.mark.parametrize(
    ("use", "ended"),
    [
        ({"first_used": T0}, T0 + 8 * HOUR),
        ({"first_used": T0, "given_seconds": 3600}, T0 + 9 * HOUR),
        ({}, T0 + 90 * DAY),
        ({"valid_until": T0 + DAY}, T0 + DAY),
        ({"confirm_by": T0 + HOUR}, T0 + HOUR),
        ({"withdrawn_at": T0 + 5}, T0 + 5),
        ({"first_used": T0, "withdrawn_at": T0 + 200 * DAY}, T0 + 200 * DAY),
        ({"first_used": T0, "paused_at": T0 + 5}, T0 + 8 * HOUR),
        ({"octets": 1000, "data_out_at": T0 + 7}, T0 + 7),
        ({"octets": 1000}, NO_MOMENT),
    ],
)
def test_it_was_over_when_its_limit_ended(use: dict[str, object], ended: float) -> None:
    plan = replace(FREE, octets=1000) if "octets" in use else PLAN
    assert since(plan, T0 + 300 * DAY, **use) == ended


@pytest.mark.parametrize(
    ("plan", "use"),
    [
        (PLAN, {"first_used": T0 + 300 * DAY - 1}),
        (FREE, {}),
        (FREE, {"first_used": T0, "octets": 10**15}),
        (FREE, {"paused_at": T0}),
        (FREE, {"valid_from": T0 + 400 * DAY}),
    ],
)
def test_what_is_good_or_may_become_so_is_not_over(plan: Plan, use: dict[str, object]) -> None:
    assert since(plan, T0 + 300 * DAY, **use) is None


def test_a_plan_that_counts_nothing_has_neither_time_nor_data() -> None:
    assert counts_nothing(FREE)
    assert not counts_nothing(PLAN)
