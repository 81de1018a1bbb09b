"""*Shorten*, and *restore* what was withdrawn: so that an act at the desk can be undone by another."""

from lauschen.acts.desk.helping import MOST_GIVEN_S, log_of_credential, readmit
from lauschen.acts.desk.within import check_theirs
from lauschen.acts.staying.reconsidering import reconsider
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.errors import Invalid
from lauschen.core.ids import CredentialId
from lauschen.core.limits.left import left
from lauschen.road.tx import Tx
from lauschen.store import allowances, credentials, devices


def shorten(tx: Tx, credential: CredentialId, seconds: int) -> None:
    """Takes time away, down to none: whoever is in by it stays so much shorter, from now on."""
    if not 60 <= seconds <= MOST_GIVEN_S:
        raise Invalid("seconds_out_of_range", field="seconds", mend="Between a minute and 31 days.")
    check_theirs(tx, credential)
    grants = allowances.allowances_of(tx.conn, credential)
    plan = tx.house.plan_of(grants[0])
    until = grants[0].use.valid_until
    if plan.seconds is None and until is None:
        mend = "It has no end by the clock. *Pause* or *withdraw* ends it."
        raise Invalid("no_end", field="seconds", mend=mend)
    for grant in grants:
        remains = left(plan, grant.use, tx.now).seconds
        if plan.seconds is None or remains is None:
            continue
        if grant.allowance is None:
            grant.allowance = allowances.begin_allowance(tx.conn, credential, None)
        allowances.give(tx.conn, grant.allowance, -min(seconds, remains))
    if until is not None:
        credentials.move_end(tx.conn, credential, max(min(until, tx.now), until - seconds))
    inside = devices.standings_where_admitted(tx.conn, credential)
    for standing in inside:
        if standing.state is State.INSIDE:
            reconsider(tx, standing, tell=True)
    log_of_credential(tx, "time_taken", credential, inside, {"seconds": seconds})


def restore(tx: Tx, credential: CredentialId) -> None:
    """Takes a withdrawal back: whom it sent out, and who is still here, is in again."""
    check_theirs(tx, credential)
    issued = credentials.get_issued(tx.conn, tx.keys, credential)
    if issued.grant.use.withdrawn_at is None:
        return
    credentials.restore(tx.conn, credential)
    sent_out = [
        standing
        for standing in devices.standings_last_in_by(tx.conn, credential, Reason.CODE_WITHDRAWN)
        if standing.state is State.AT_DOOR or standing.going is State.AT_DOOR
    ]
    for standing in sent_out:
        readmit(tx, standing, credential)
    log_of_credential(tx, "restored", credential, sent_out, {})
