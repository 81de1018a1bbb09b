"""How stays are ended and devices let in from our side: the new facts and what is wanted, in one transaction."""

from lauschen.acts.arriving.placing import STATE_FOR, enter, place
from lauschen.core.decide.reason import LIMIT_REASONS, Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.house.dialect import Move
from lauschen.core.ids import AdmissionId
from lauschen.core.limits.left import DOOR_SESSION_S
from lauschen.road.tx import Tx
from lauschen.store import admissions, stays
from lauschen.store.moving import wanted

OVER_ANYWAY_S = 1800.0
"""Allowance for an access device that keeps its time-outs late."""


def end_stay(tx: Tx, standing: Standing, reason: Reason, at: float | None = None) -> None:
    """Ends what a device has here; if it is inside, it is *on its way out* until the access device confirmed.

    What a person or a limit ends is over at once for us; only the access device may need telling. `at`: when the
    limit ended, if that was not just now.
    """
    standing.reason_at = tx.now if at is None else min(at, tx.now)
    if standing.admission is not None:
        admissions.end_admission(tx.conn, standing.admission, reason, standing.reason_at)
    until = _over_anyway(tx, standing)
    standing.admission = standing.reconsider_at = None
    _put_out(tx, standing, reason, until)


def keep_out(tx: Tx, standing: Standing, reason: Reason, again_at: float | None) -> None:
    """To the door for a while: what it was admitted by goes on, and is looked at again at `again_at`."""
    until = _over_anyway(tx, standing)
    if standing.admission is not None:
        admissions.free_seat(tx.conn, standing.admission)
    standing.reason_at, standing.reconsider_at = tx.now, again_at
    _put_out(tx, standing, reason, until)


def _over_anyway(tx: Tx, standing: Standing) -> float | None:
    return None if standing.reconsider_at is None else max(standing.reconsider_at, tx.now) + OVER_ANYWAY_S


def _put_out(tx: Tx, standing: Standing, reason: Reason, until: float | None) -> None:
    standing.reason = reason
    going = STATE_FOR.get(reason, State.AT_DOOR)
    is_in = standing.state is State.INSIDE or standing.going is State.INSIDE
    if is_in:
        standing.going = going
        want(tx, standing, wanted.OUT, until=until)
    elif standing.state is not State.LEFT:
        standing.going = None
        enter(standing, going, tx.now)
    tx.write_standing(standing)


def let_in(tx: Tx, standing: Standing, admission: AdmissionId, until: float | None, delay: float) -> None:
    """A device has an admission now: it is *on its way in* until the access device asked and was told.

    One that is inside already uses what this admission gives from now on.
    """
    standing.going = None if standing.state is State.INSIDE else State.INSIDE
    if standing.reason in LIMIT_REASONS:
        standing.reason = standing.reason_at = None
    if standing.state is State.INSIDE and standing.admission != admission and standing.role is not None:
        place(tx, standing, standing.role, admission)
    standing.admission, standing.reconsider_at = admission, until
    tx.write_standing(standing)
    device = tx.house.access_devices.get(standing.access_device)
    if device is not None and tx.house.dialects[device.dialect].login_move is Move.POSTED:
        return  # the guest's own browser tells it
    want(tx, standing, wanted.IN, delay=delay, until=tx.now + DOOR_SESSION_S + OVER_ANYWAY_S)


def want(tx: Tx, standing: Standing, what: str, *, delay: float = 0.0, until: float | None = None) -> None:
    """Writes down what must change, naming the session that it is about.

    `until`: when that would have ended anyway, because the access device was given a time-out.
    """
    stay = None
    if standing.session_id is not None:
        open_stay = stays.open_stay(tx.conn, standing.mac, standing.session_id, standing.access_device)
        stay = open_stay.id if open_stay else None
    wanted.want(
        tx.conn,
        mac=standing.mac,
        network=standing.network,
        what=what,
        stay=stay,
        session_id=standing.session_id,
        now=tx.now,
        due=tx.now + delay,
        until=until,
    )
    tx.has_wishes = True
