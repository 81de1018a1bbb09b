"""The one judge of limits and seats: whoever asks whether somebody may be in, asks here."""

from dataclasses import dataclass

from lauschen.core.decide.grant import Grant
from lauschen.core.decide.reason import Reason
from lauschen.core.limits.left import Binds, Left, left, limit_ended
from lauschen.core.limits.plan import Plan
from lauschen.core.limits.seats import Seats

_OVER = {
    Binds.VALIDITY: Reason.CODE_EXPIRED,
    Binds.DATA: Reason.DATA_USED_UP,
    Binds.TIME: Reason.TIME_USED_UP,
    Binds.DATE: Reason.DATE_OVER,
    Binds.CONFIRMATION: Reason.NOT_CONFIRMED,
}


@dataclass(slots=True)
class Verdict:
    """What is left, and why that is not enough if it is not."""

    left: Left
    reason: Reason | None
    """None: it is enough."""
    ended: float | None = None
    """When the limit that is over ended."""
    begins: float | None = None
    """When what is not good yet will be."""

    @property
    def good_until(self) -> float | None:
        """The next moment at which the clock alone changes the verdict."""
        return self.left.until if self.reason is None else self.begins


def seats_of(plan: Plan, grant: Grant) -> int | None:
    """On how many devices it may be; None: any number."""
    return None if grant.seats is Seats.ANY else grant.devices or plan.devices


def judge(plan: Plan, grant: Grant, now: float, seats_taken: int = 0) -> Verdict:
    """Whether a grant lets somebody be in at `now`. `seats_taken`: other devices that count."""
    remains = left(plan, grant.use, now)
    if remains.is_over:
        reason = _OVER[remains.binds or Binds.TIME]
        return Verdict(remains, reason, limit_ended(remains, grant.use, now))
    if grant.use.withdrawn_at is not None or grant.use.paused_at is not None:
        return Verdict(
            remains, Reason.CODE_PAUSED if grant.use.withdrawn_at is None else Reason.CODE_WITHDRAWN
        )
    if grant.use.valid_from is not None and now < grant.use.valid_from:
        return Verdict(remains, Reason.NOT_YET, begins=grant.use.valid_from)
    if plan.hours is not None:
        is_open, changes = plan.hours.span(now)
        if is_open and remains.binds is Binds.HOURS and remains.is_none and changes is not None:
            is_open, changes = plan.hours.span(changes)  # rulings 2.6: its last second is none any more
        if not is_open:
            return Verdict(remains, Reason.PLAN_CLOSED, begins=changes)
    # Nobody else is in by most of them: then nothing is counted.
    seats = seats_of(plan, grant) if seats_taken else None
    if seats is not None and seats_taken >= seats:
        return Verdict(remains, Reason.DEVICES_FULL if grant.seats is Seats.AT_ONCE else Reason.DEVICES_USED)
    return Verdict(remains, None)
