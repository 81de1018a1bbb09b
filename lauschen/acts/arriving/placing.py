"""Where a decision puts a device: its standing, its admission, its placement (rulings 4.6)."""

from dataclasses import replace
from operator import attrgetter

from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.picture import AdmissionFacts, Picture
from lauschen.core.decide.reason import LIMIT_REASONS, Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.decide.steps import decide
from lauschen.core.decide.wanted import ANSWER, CONFIRMED, Place
from lauschen.core.ids import AccessDeviceId, AdmissionId, RoleId
from lauschen.road.tx import Tx
from lauschen.store import addresses, admissions, devices, placements, stays
from lauschen.store.moving import places, wanted

STATE_FOR = {
    Reason.TIME_USED_UP: State.HELD,
    Reason.DATA_USED_UP: State.HELD,
    Reason.DATE_OVER: State.HELD,
    Reason.NOT_CONFIRMED: State.HELD,
    Reason.CODE_PAUSED: State.HELD,
    Reason.BARRED_BY_STAFF: State.BARRED,
    Reason.BARRED_BY_TRIES: State.BARRED,
}
"""Reasons that put a device before login into a state of its own; all others leave it at the door."""
ENDS_ADMISSION = (*STATE_FOR, Reason.CODE_WITHDRAWN, Reason.CODE_EXPIRED, Reason.FORGOTTEN)
REMEMBER_END_S = 600.0
"""How long the page says how the last stay ended to a device that comes back."""


def move(tx: Tx, arrival: Arrival, picture: Picture, decision: Decision, *, is_proven: bool = False) -> None:
    """Brings a device where the newest facts put it: its access device is told now, so that is seen to hold there.

    A device that has an open session elsewhere stays there until one begins here (rulings 9.3): an access device may
    ask about any. `is_proven`: its handshake shows that it is here.
    """
    before = picture.standing
    if before is not None and not is_proven and _is_elsewhere(tx, before, arrival):
        _answer_there(tx, before, arrival, picture, decision)
        return
    standing = picture.standing = before or new_standing(arrival, decision)
    was, held = _shape(standing), _held(standing)
    tx.memory.forget_charged(arrival.mac, standing.network)
    standing.access_device = arrival.access_device
    if arrival.session_id is not None or arrival.medium is Medium.ASKED:
        standing.session_id = arrival.session_id
    standing.spelled = arrival.spelled
    standing.source = arrival.source
    standing.last_heard = tx.now
    if arrival.framed_ip is not None:
        standing.framed_ip = arrival.framed_ip
        addresses.note_addresses(tx.conn, arrival.mac, [arrival.framed_ip], addresses.REQUEST, tx.now)
    if decision.answer is Answer.ADMIT and picture.admission is not None:
        _let_in(tx, standing, picture.admission, decision)
    else:
        _keep_out(tx, standing, picture.admission, decision)
        if standing.admission is None:
            picture.admission = None
    standing.role = decision.role
    tx.decided(arrival, decision, standing)
    if before is not None and _shape(standing) == was:
        tx.note_again(standing)
    else:
        devices.save_standing(tx.conn, standing, is_new=before is None)
    if before is not None and _held(standing) == held and not picture.is_wanted:
        return  # it was told so before
    _told(tx, standing, decision, CONFIRMED if arrival.medium is Medium.CHANGED else ANSWER)
    picture.is_wanted = False
    access_device, session_id, *_ = held
    if before is not None and (access_device, session_id) != (standing.access_device, standing.session_id):
        _leave_behind(tx, standing, access_device, session_id or "")


def _is_elsewhere(tx: Tx, standing: Standing, arrival: Arrival) -> bool:
    """Whether it has an open session at another access device, which was heard of within two intervals."""
    if standing.access_device == arrival.access_device or standing.session_id is None:
        return False
    tx.settle()
    stay = stays.open_stay(tx.conn, standing.mac, standing.session_id, standing.access_device)
    return stay is not None and tx.now - stay.last_event <= stay.two_intervals


def _answer_there(tx: Tx, standing: Standing, arrival: Arrival, picture: Picture, decision: Decision) -> None:
    """The place that asked holds what it is told; the device is where it was, and nothing is confirmed there."""
    at = arrival.access_device, arrival.session_id or ""
    there = replace(
        standing, access_device=at[0], session_id=at[1], spelled=arrival.spelled, source=arrival.source
    )
    is_in = decision.answer is Answer.ADMIT and picture.admission is not None
    for one in places.places_of(tx.conn, standing.mac, standing.network):
        if one.access_device == at[0] and one.at != at and not _is_open(tx, one):
            places.forget(tx.conn, one.mac, one.network, *one.at)
    places.saw(
        tx.conn, there, role=decision.role, admission=picture.admission.id if is_in and picture.admission else None,
        until=decision.good_until if is_in else None, by=CONFIRMED if arrival.medium is Medium.CHANGED else ANSWER,
        now=tx.now,
    )  # fmt: skip
    tx.decided(arrival, decision, None)


def _is_open(tx: Tx, place: Place) -> bool:
    return bool(place.session_id) and (
        stays.open_stay(tx.conn, place.mac, place.session_id, place.access_device) is not None
    )


def refuse(tx: Tx, arrival: Arrival) -> tuple[Decision, Picture]:
    """What is refused for what the request says: no device is looked up, and none is moved."""
    picture = Picture(tx.config)
    decision = decide(arrival, picture, tx.now)
    tx.decided(arrival, decision, None)
    return decision, picture


def _told(tx: Tx, standing: Standing, decision: Decision, by: str) -> None:
    """What should hold, and that the access device was just told of it."""
    admission, until = put_wanted(tx, standing, decision)
    places.saw(tx.conn, standing, role=decision.role, admission=admission, until=until, by=by, now=tx.now)


def put_wanted(tx: Tx, standing: Standing, decision: Decision) -> tuple[AdmissionId | None, float | None]:
    """Writes what should hold by this decision; returns by which admission, and until when."""
    is_in = standing.wanted is State.INSIDE
    admission = standing.admission if is_in else None
    until = decision.good_until if is_in and decision.answer is Answer.ADMIT else None
    wanted.put(
        tx.conn, standing.mac, standing.network,
        state=standing.wanted, role=decision.role, admission=admission, until=until, now=tx.now,
    )  # fmt: skip
    return admission, until


def _leave_behind(tx: Tx, standing: Standing, access_device: AccessDeviceId, session_id: str) -> None:
    """It asks elsewhere. A place with an open stay is kept: the device may be there yet, or another one with its
    address; what was to be changed there still is."""
    if session_id and stays.open_stay(tx.conn, standing.mac, session_id, access_device) is not None:
        return
    places.forget(tx.conn, standing.mac, standing.network, access_device, session_id)


# What, if it stays the same, needs no writing.
_shape = attrgetter(
    "state", "wanted", "reason", "reason_at", "access_device", "session_id", "spelled", "source", "role", "framed_ip",
    "admission", "reconsider_at", "decision",
)  # fmt: skip


# What an access device is told, and where: if it stays the same, what is wanted and what was seen do too.
_held = attrgetter(
    "access_device",
    "session_id",
    "state",
    "wanted",
    "role",
    "admission",
    "reconsider_at",
    "spelled",
    "source",
)


def _let_in(tx: Tx, standing: Standing, admission: AdmissionFacts, decision: Decision) -> None:
    if not admission.has_seat:
        admissions.take_seat(tx.conn, admission.id, tx.now)
        admission.has_seat = True
    assert decision.role is not None
    # What is used is charged by placement, so a new admission needs one of its own, also to a device that is inside.
    if standing.state is not State.INSIDE or (standing.role, standing.admission) != (
        decision.role,
        admission.id,
    ):
        place(tx, standing, decision.role, admission.id)
        if standing.session_id is not None:
            # Its next access point repeats the Class of this answer; the stay that goes on here began without it.
            stays.give_user(
                tx.conn, standing.mac, standing.access_device, standing.session_id, admission.token
            )
    standing.reason = standing.reason_at = None
    standing.admission = admission.id
    standing.reconsider_at = decision.good_until
    enter(standing, State.INSIDE, tx.now)


def _keep_out(tx: Tx, standing: Standing, admission: AdmissionFacts | None, decision: Decision) -> None:
    """Places a device before login; its admission may outlive this."""
    reason = decision.reason
    if standing.state is State.INSIDE:
        placements.end_placement(tx.conn, standing.mac, standing.network, tx.now)
    standing.reconsider_at = None
    if admission is not None and reason not in ENDS_ADMISSION:
        standing.reason = reason
        standing.reconsider_at = decision.good_until
        enter(standing, State.AT_DOOR, tx.now)
        return
    if admission is not None:
        ended = tx.now
        if reason in LIMIT_REASONS and decision.ended is not None:
            ended = standing.reason_at = decision.ended
        admissions.end_admission(tx.conn, admission.id, reason, ended)
        standing.admission = None
    if reason in STATE_FOR:
        standing.reason = reason
        enter(standing, STATE_FOR[reason], tx.now)
    else:
        is_old = standing.state is State.LEFT and tx.now - standing.since > REMEMBER_END_S
        if reason is not Reason.NEEDS_CODE or standing.state is State.BARRED or is_old:
            standing.reason = reason
        enter(standing, State.AT_DOOR, tx.now)


def place(tx: Tx, standing: Standing, role: RoleId, admission: AdmissionId) -> None:
    """From now on the device uses what this admission gives, which is charged by placement."""
    placements.place(
        tx.conn,
        mac=standing.mac,
        network=standing.network,
        access_device=standing.access_device,
        role=role,
        admission=admission,
        now=tx.now,
    )


def hold_again(tx: Tx, standing: Standing) -> None:
    """A bar is taken back: a device that a limit had held is held again, any other is at the door."""
    ended = admissions.newest_end(tx.conn, standing.mac, standing.network)
    is_held = ended is not None and ended[0] in LIMIT_REASONS
    standing.reason, standing.reason_at = ended if ended is not None and is_held else (None, None)
    to = State.HELD if is_held else State.AT_DOOR
    if standing.going is State.BARRED:
        standing.wanted = to
    elif standing.state is State.BARRED:
        enter(standing, to, tx.now)


def new_standing(arrival: Arrival, decision: Decision) -> Standing:
    """A device that this network never heard before."""
    assert decision.network is not None
    return Standing(
        mac=arrival.mac,
        network=decision.network,
        state=State.LEFT,
        since=0.0,
        wanted=State.LEFT,
        reason=None,
        reason_at=None,
        access_device=arrival.access_device,
        session_id=arrival.session_id,
        spelled=arrival.spelled,
        source=arrival.source,
        role=None,
        framed_ip=arrival.framed_ip,
        last_heard=0.0,
        page_opened=None,
        code_tried=None,
        admission=None,
        reconsider_at=None,
        decision=None,
        decision_at=0.0,
        decision_mark="",
        repeats=0,
    )


def enter(standing: Standing, state: State, now: float) -> None:
    """Moves to a state, which is the wanted one; `since` is kept while it stays the same.

    A device is held since its limit ended.
    """
    standing.wanted = state
    if standing.state is state:
        return
    standing.state = state
    standing.since = now
    if state is State.HELD and standing.reason_at is not None:
        standing.since = standing.reason_at
    if state is State.AT_DOOR:
        standing.page_opened = standing.code_tried = None
