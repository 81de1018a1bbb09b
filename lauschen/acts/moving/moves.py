"""How stays are ended and devices let in from our side: the new facts and what is wanted, in one transaction."""

from lauschen.acts.arriving.facts import decide_now
from lauschen.acts.arriving.placing import STATE_FOR, enter, place, put_wanted
from lauschen.core.config.config import Config
from lauschen.core.config.dialect import Move
from lauschen.core.decide.reason import LIMIT_REASONS, Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.decide.wanted import Place
from lauschen.core.ids import AdmissionId
from lauschen.core.limits.left import DOOR_SESSION_S
from lauschen.road.tx import Tx
from lauschen.store import admissions
from lauschen.store.moving import places, wanted

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
    over_at = _over_anyway(tx, standing)
    standing.admission = standing.reconsider_at = None
    _put_out(tx, standing, reason, over_at)


def keep_out(tx: Tx, standing: Standing, reason: Reason, again_at: float | None) -> None:
    """To the door for a while: what it was admitted by goes on, and is looked at again at `again_at`."""
    over_at = _over_anyway(tx, standing)
    if standing.admission is not None:
        admissions.free_seat(tx.conn, standing.admission)
    standing.reason_at, standing.reconsider_at = tx.now, again_at
    _put_out(tx, standing, reason, over_at)


def _over_anyway(tx: Tx, standing: Standing) -> float | None:
    return None if standing.reconsider_at is None else max(standing.reconsider_at, tx.now) + OVER_ANYWAY_S


def _put_out(tx: Tx, standing: Standing, reason: Reason, over_at: float | None) -> None:
    standing.reason = reason
    to = STATE_FOR.get(reason, State.AT_DOOR)
    if State.INSIDE in (standing.state, standing.wanted):
        standing.wanted = to
        tx.write_standing(standing, wants=False)
        want(tx, standing, over_at=over_at)
        return
    if standing.state is not State.LEFT:
        enter(standing, to, tx.now)
    tx.write_standing(standing)


def let_in(tx: Tx, standing: Standing, admission: AdmissionId, until: float | None, delay: float) -> None:
    """A device has an admission now: it is *on its way in* until the access device asked and was told.

    One that is inside already uses what this admission gives from now on.
    """
    standing.wanted = State.INSIDE
    if standing.reason in LIMIT_REASONS:
        standing.reason = standing.reason_at = None
    if standing.state is State.INSIDE and standing.admission != admission and standing.role is not None:
        place(tx, standing, standing.role, admission)
    standing.admission, standing.reconsider_at = admission, until
    tx.write_standing(standing, wants=False)
    device = tx.config.access_devices.get(standing.access_device)
    is_posted = device is not None and tx.config.dialects[device.dialect].login_move is Move.POSTED
    # By *posted* the guest's own browser tells it.
    over_at = tx.now + DOOR_SESSION_S + OVER_ANYWAY_S
    want(tx, standing, delay=delay, over_at=over_at, is_told=not is_posted)


def want(
    tx: Tx,
    standing: Standing,
    *,
    delay: float = 0.0,
    over_at: float | None = None,
    is_told: bool = True,
) -> None:
    """Writes what should hold for a device whose standing was written, and asks for it wherever it is not so.

    Seconds of `delay` before that. `over_at`: when what holds now would have ended anyway, because the access device
    was given a time-out. `is_told` False: somebody else brings it about.
    """
    decision, _ = decide_now(tx, standing)
    put_wanted(tx, standing, decision)
    now_wanted = wanted.find_wanted(tx.conn, standing.mac, standing.network)
    assert now_wanted is not None
    found = places.places_of(tx.conn, standing.mac, standing.network)
    if is_told and all(one.at != standing.at for one in found):
        places.begin(tx.conn, standing)
        found = places.places_of(tx.conn, standing.mac, standing.network)
    for one in found:
        is_here = one.at == standing.at
        if one.is_left:
            continue  # it is being let go already
        if not is_here and not is_told_apart(tx.config, one, standing):
            if one.next_at is not None:
                places.settle(tx.conn, one)
        elif not is_told or one.agrees(now_wanted):
            places.settle(tx.conn, one)
        else:
            due = tx.now + delay if is_here else tx.now
            places.change(tx.conn, one, revision=now_wanted.revision, due=due, over_at=over_at)
    tx.has_wishes = True


def is_told_apart(config: Config, one: Place, standing: Standing) -> bool:
    """Return whether a request about this place cannot be taken for one about where the device is by now.

    Where both are behind one address, only two different sessions tell them apart: a Disconnect by the MAC address
    would end the new session.
    """
    if one.session_id and standing.session_id:
        return one.session_id != standing.session_id
    there, here = (config.access_devices.get(at) for at in (one.access_device, standing.access_device))
    if there is None or here is None or there.id == here.id:
        return False
    return (there.coa_address or one.source) != (here.coa_address or standing.source)
