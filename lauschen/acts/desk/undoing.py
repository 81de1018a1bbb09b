"""*Shorten* and what gives it back, and *restore* of what was withdrawn: so that an act at the desk can be undone."""

from collections.abc import Mapping
from dataclasses import dataclass

from lauschen.acts.desk.helping import MOST_GIVEN_S, log_of_credential
from lauschen.acts.desk.reaching import take_back, tell_of_more
from lauschen.acts.desk.within import check_more_time, check_theirs, limits_of
from lauschen.acts.passphrases.grouping import keep_apart
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid
from lauschen.core.ids import AllowanceId, CredentialId
from lauschen.core.limits.left import time_left
from lauschen.core.people.limits import check_longest
from lauschen.road.tx import Tx
from lauschen.store import allowances, credentials, devices


@dataclass(frozen=True, slots=True)
class Taken:
    """What *shorten* took. One device may have had less left than another, so it is not the same of each."""

    seconds: Mapping[AllowanceId, int]
    until: float | None
    """The moment until which it was good; None where that was not changed."""


def shorten(tx: Tx, credential: CredentialId, seconds: int) -> Taken:
    """Takes time away, down to none: whoever is in by it stays so much shorter, from now on."""
    if not 60 <= seconds <= MOST_GIVEN_S:
        raise Invalid("seconds_out_of_range", field="seconds", mend="Between a minute and 31 days.")
    check_theirs(tx, credential)
    grants = allowances.allowances_of(tx.conn, credential)
    plan, until = tx.config.plan_of(grants[0]), grants[0].use.valid_until
    if plan.seconds is None and until is None:
        mend = "It has no end by the clock. *Pause* or *withdraw* ends it."
        raise Invalid("no_end", field="seconds", mend=mend)
    taken: dict[AllowanceId, int] = {}
    for grant in grants:
        if less := min(seconds, time_left(plan, grant.use, tx.now) or 0):
            if grant.allowance is None:
                grant.allowance = allowances.begin_allowance(tx.conn, credential, None)
            taken[grant.allowance] = less
            allowances.give(tx.conn, grant.allowance, -less)
    ends_later = until is not None and until > tx.now
    if until is not None and ends_later:
        credentials.move_end(tx.conn, credential, max(tx.now, until - seconds))
    if not taken and not ends_later:
        raise Invalid("over", field="seconds", mend="Its time is over already.")
    inside = devices.where_admitted(tx.conn, credential)
    tell_of_more(tx, credential, [], inside)
    log_of_credential(tx, "time_taken", credential, inside, {"seconds": seconds})
    return Taken(taken, until if ends_later else None)


def give_back(tx: Tx, credential: CredentialId, taken: Taken) -> None:
    """Exactly what *shorten* took; whom that held is in again. Invalid for what it cannot have taken."""
    check_theirs(tx, credential)
    grants = allowances.allowances_of(tx.conn, credential)
    if not (taken.seconds or taken.until) or taken.seconds.keys() - {grant.allowance for grant in grants}:
        raise _not_taken()
    if not all(0 < seconds <= MOST_GIVEN_S for seconds in taken.seconds.values()):
        raise _not_taken()
    most = max(taken.seconds.values(), default=0)
    check_more_time(tx, credential, most)
    held, inside = devices.held_by(tx.conn, credential), devices.where_admitted(tx.conn, credential)
    for allowance, seconds in taken.seconds.items():
        allowances.give(tx.conn, allowance, seconds)
    if taken.until is not None:
        last = grants[0].use.valid_until
        if last is None or not last <= taken.until <= last + MOST_GIVEN_S:
            raise _not_taken()
        check_longest(limits_of(tx), taken.until - tx.now, field="seconds")
        credentials.move_end(tx.conn, credential, taken.until)
        most = max(most, round(taken.until - last))
        keep_apart(tx, credential)
    tell_of_more(tx, credential, held, inside)
    log_of_credential(tx, "time_given", credential, inside + held, {"seconds": most})


def restore(tx: Tx, credential: CredentialId) -> bool:
    """Undo a withdrawal. Devices that it put out come in again, now or when they return. False if there was none."""
    check_theirs(tx, credential)
    issued = credentials.get_issued(tx.conn, tx.keys, credential)
    if issued.grant.use.withdrawn_at is None:
        return False
    credentials.restore(tx.conn, credential)
    keep_apart(tx, credential)
    sent_out = take_back(tx, credential, Reason.CODE_WITHDRAWN)
    log_of_credential(tx, "restored", credential, sent_out, {})
    return True


def _not_taken() -> Invalid:
    return Invalid("not_taken", field="taken", mend="That was not taken from it.")
