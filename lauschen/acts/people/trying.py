"""Tries of people of the house, bounded for each of them from wherever they come, and over a restart."""

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

from lauschen.core.actor import Actor
from lauschen.core.errors import Invalid, Unavailable
from lauschen.core.ids import StaffId
from lauschen.core.words.amounts import duration_words
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store.people import attempts
from lauschen.store.people.attempts import Attempt

WINDOW_S = 3600.0
MOST = {Attempt.SECOND_FACTOR: 10, Attempt.CHOSEN: 5}
"""Wrong ones in that time."""
_WRONG = {Attempt.SECOND_FACTOR: "second_wrong", Attempt.CHOSEN: "passphrase_taken"}
_MEND = {
    Attempt.SECOND_FACTOR: "Too many wrong codes. Try again in {wait}. If that was somebody else, they know your"
    " password: let an administrator set another one.",
    Attempt.CHOSEN: "Too many passphrases that somebody has. Take a drawn one, or try again in {wait}.",
}


@asynccontextmanager
async def trying(road: Road, by: Actor, what: Attempt) -> AsyncIterator[None]:
    """Around one try, which counts from before it until it proved right. Unavailable after too many wrong ones."""
    staff = by.staff
    if staff is None:  # the command line, which has full access anyway
        yield
        return
    attempt = await road.act(lambda tx: _begin(tx, staff, what))
    try:
        yield
    except Invalid as exc:
        if exc.code != _WRONG[what]:
            await road.act(lambda tx: attempts.forget(tx.conn, attempt))
        elif what is Attempt.CHOSEN:
            await road.act(lambda tx: tx.log("passphrase_taken"), by=by)
        raise
    else:
        await road.act(lambda tx: attempts.forget(tx.conn, attempt))


def _begin(tx: Tx, staff: StaffId, what: Attempt) -> int:
    tried = attempts.moments(tx.conn, staff, what, tx.now - WINDOW_S)
    if len(tried) >= MOST[what]:
        wait = duration_words(max(60, int(tried[-MOST[what]] + WINDOW_S - tx.now)))
        raise Unavailable(what, meanwhile=_MEND[what].format(wait=wait))
    return attempts.note(tx.conn, staff, what, tx.now)
