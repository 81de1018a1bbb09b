"""All limit arithmetic: what is left of a credential, until when, and which limit binds."""

from dataclasses import dataclass
from enum import StrEnum
from math import ceil

from lauschen.core.limits.plan import Plan
from lauschen.core.limits.use import Use

DAY_S = 86_400
DOOR_SESSION_S = 1800
"""The Session-Timeout of a device that is not logged in (rulings 3.5)."""
INTERIM_S = 600
INTERIM_NEAR_S = 60


class Binds(StrEnum):
    """The limit that ends a stay first."""

    TIME = "time"
    VALIDITY = "validity"
    DATA = "data"
    DATE = "date"
    """The moment until which it is good."""
    CONFIRMATION = "confirmation"
    """An address must be confirmed until then."""
    HOURS = "hours"
    """Its plan closes."""


class CredentialState(StrEnum):
    """The states of a credential that are built."""

    FRESH = "fresh"
    RUNNING = "running"
    USED_UP = "used_up"
    EXPIRED = "expired"
    WITHDRAWN = "withdrawn"
    PAUSED = "paused"
    WAITING = "waiting"
    """For an address to be confirmed."""


@dataclass(slots=True)
class Left:
    """What is left; None where no such limit exists. Seconds are rounded down."""

    seconds: int | None
    until: float | None
    octets: int | None
    binds: Binds | None
    """The limit that already ended it or, when something is left, that will end it by the clock."""

    @property
    def is_none(self) -> bool:
        """Whether nothing is left now. Rulings 2.6: under one second left is nothing left."""
        return (self.seconds is not None and self.seconds < 1) or (
            self.octets is not None and self.octets <= 0
        )

    @property
    def is_over(self) -> bool:
        """Whether that ends what it is left of: after its plan's closing hour it goes on."""
        return self.binds is not Binds.HOURS and self.is_none


def left(plan: Plan, use: Use, now: float) -> Left:
    """What remains of a credential at `now` if it is, or were now, in use."""
    until: float | None = None
    binds: Binds | None = None
    if use.first_used is not None:
        if plan.seconds is not None:
            until, binds = use.first_used + plan.seconds + use.given_seconds, Binds.TIME
    elif plan.use_within_days is not None and now >= _must_start_by(plan, use):
        until, binds = _must_start_by(plan, use), Binds.VALIDITY
    elif plan.seconds is not None:
        until, binds = now + plan.seconds + use.given_seconds, Binds.TIME
    if use.valid_until is not None and (until is None or use.valid_until < until):
        until, binds = use.valid_until, Binds.DATE
    if use.confirm_by is not None and (until is None or use.confirm_by < until):
        until, binds = use.confirm_by, Binds.CONFIRMATION
    if plan.hours is not None:
        is_open, closes = plan.hours.span(now)
        if is_open and closes is not None and (until is None or closes < until):
            until, binds = closes, Binds.HOURS
    octets = None if plan.octets is None else max(0, plan.octets + use.given_octets - use.octets)
    if octets == 0 and not (until is not None and until <= now):
        binds = Binds.DATA
    seconds = None if until is None else max(0, int(until - now))
    return Left(seconds, until, octets, binds)


def limit_ended(remains: Left, use: Use, now: float) -> float:
    """The moment at which the limit that is over ended; `now` where nobody noted it."""
    ended = use.data_out_at if remains.binds is Binds.DATA else remains.until
    return now if ended is None else min(ended, now)


def missing_seconds(plan: Plan, use: Use, now: float) -> int:
    """Whole seconds by which its time is over; 0 while it runs, or without such a limit."""
    if use.first_used is None or plan.seconds is None:
        return 0
    return max(0, ceil(now - (use.first_used + plan.seconds + use.given_seconds)))


def time_left(plan: Plan, use: Use, now: float) -> int | None:
    """Whole seconds that its own time still runs, or would run from now, whatever else may end it before."""
    if plan.seconds is None:
        return None
    begun = now if use.first_used is None else use.first_used
    return max(0, int(begun + plan.seconds + use.given_seconds - now))


def credential_state(plan: Plan, use: Use, now: float) -> CredentialState:
    """The state that staff and guests see."""
    if use.withdrawn_at is not None:
        return CredentialState.WITHDRAWN
    if use.paused_at is not None:
        return CredentialState.PAUSED
    remains = left(plan, use, now)
    if use.confirm_by is not None and (not remains.is_over or remains.binds is Binds.CONFIRMATION):
        return CredentialState.WAITING
    if remains.is_over:
        return (
            CredentialState.EXPIRED
            if remains.binds in (Binds.VALIDITY, Binds.DATE)
            else CredentialState.USED_UP
        )
    return CredentialState.FRESH if use.first_used is None else CredentialState.RUNNING


def must_start_by(plan: Plan, use: Use) -> float | None:
    """The instant from which an unused credential is expired."""
    ends = [] if plan.use_within_days is None else [_must_start_by(plan, use)]
    if use.valid_until is not None:
        ends.append(use.valid_until)
    return min(ends, default=None)


def interim_interval(octets_left: int | None, octets_per_second: float) -> int:
    """Seconds between interim updates (rulings 4.4): closer when the data allowance is nearly gone."""
    if octets_left is not None and octets_left < 10 * INTERIM_S * octets_per_second:
        return INTERIM_NEAR_S
    return INTERIM_S


def _must_start_by(plan: Plan, use: Use) -> float:
    assert plan.use_within_days is not None
    # What is good from a later moment on can be used from then on.
    since = use.issued_at if use.valid_from is None else max(use.issued_at, use.valid_from)
    return since + plan.use_within_days * DAY_S
