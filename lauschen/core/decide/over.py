"""When something that was issued was over for good: from then on nobody can be let in by it, at any time."""

from lauschen.core.decide.grant import Grant
from lauschen.core.decide.judge import judge
from lauschen.core.limits.left import Binds
from lauschen.core.limits.plan import Plan

NO_MOMENT = 0.0
"""It is over, but the time is not known. Callers go by when its admissions ended."""


def over_since(plan: Plan, grant: Grant, now: float) -> float | None:
    """Seconds since the epoch, `NO_MOMENT`, or None while it is good, or may become so by the clock."""
    if grant.use.withdrawn_at is not None:
        return grant.use.withdrawn_at
    verdict = judge(plan, grant, now)
    if not verdict.left.is_over:
        return None
    if verdict.left.binds is Binds.DATA and grant.use.data_out_at is None:
        return NO_MOMENT  # its plan was made smaller afterwards
    return verdict.ended


def counts_nothing(plan: Plan) -> bool:
    """Whether a new one of the same plan is as good as one that was used."""
    return plan.seconds is None and plan.octets is None
