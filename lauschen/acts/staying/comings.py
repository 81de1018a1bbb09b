"""What the beginning and the end of a stay mean to where a device stands."""

from lauschen.acts.arriving.facts import decide_now
from lauschen.acts.arriving.placing import STATE_FOR, enter, place
from lauschen.acts.moving.moves import want
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.standing import Standing, State
from lauschen.core.house.dialect import Dialect
from lauschen.core.ids import DialectId
from lauschen.road.tx import Tx
from lauschen.store import admissions, placements
from lauschen.store.moving import wanted
from lauschen.store.stays import Stay


def came(tx: Tx, stay: Stay, *, was_lost: bool = False) -> None:
    """A stay began: the standing learns its session, and a device that had left is back.

    `was_lost`: the stay was only thought to be over, so the device was there all the time.
    """
    standing = _standing_of(tx, stay)
    if standing is None or _is_second_report(tx, standing, stay):
        return
    is_other = standing.session_id not in (None, stay.session_id)
    standing.session_id = stay.session_id
    standing.access_device = stay.access_device
    standing.framed_ip = stay.framed_ip or standing.framed_ip
    standing.last_heard = tx.now
    if standing.state is State.LEFT:
        _return_unasked(tx, standing, was_lost=was_lost)
    elif not (is_other and standing.going is not None):
        tx.write_standing(standing)
        return
    tx.write_standing(standing)
    if standing.going is not None:
        _move_again(tx, standing)


def learn_address(tx: Tx, stay: Stay) -> None:
    """Its access device tells its address."""
    standing = _standing_of(tx, stay)
    if standing is not None and standing.framed_ip != stay.framed_ip:
        standing.framed_ip = stay.framed_ip
        tx.write_standing(standing)


def gone(tx: Tx, stay: Stay) -> None:
    """A stay ended: the device has left; what it was admitted by outlives that (rulings 4.6)."""
    standing = _standing_of(tx, stay)
    if standing is None:
        return
    if standing.session_id not in (None, stay.session_id) or standing.access_device != stay.access_device:
        return  # it is somewhere else by now
    leave(tx, standing)
    tx.log(
        "stay_ended",
        mac=stay.mac,
        network=standing.network,
        access_device=stay.access_device,
        facts={"cause": stay.end_cause, "octets": stay.octets_in.total + stay.octets_out.total},
    )


def leave(tx: Tx, standing: Standing) -> None:
    """It is not there any more, whatever was wanted for it."""
    if standing.admission is not None:
        admissions.free_seat(tx.conn, standing.admission)
    placements.end_placement(tx.conn, standing.mac, standing.network, tx.now)
    # A Stop after our Disconnect confirms it (rulings 4.7); a device that left needs no moving.
    wanted.drop(tx.conn, standing.mac, standing.network)
    standing.going = standing.session_id = standing.reconsider_at = None
    standing.last_heard = tx.now
    enter(standing, State.LEFT, tx.now)
    tx.write_standing(standing)


def _standing_of(tx: Tx, stay: Stay) -> Standing | None:
    return None if stay.network is None else tx.read_standing(stay.mac, stay.network)


def _is_second_report(tx: Tx, standing: Standing, stay: Stay) -> bool:
    """A device that only reports traffic (or only presence) is not where the guest is asked about."""
    return (
        stay.root is not None
        and standing.session_id is not None
        and standing.state is not State.LEFT
        and standing.access_device != stay.access_device
        and not (stay.counts and _dialect(tx, standing).counts)
    )


def _dialect(tx: Tx, standing: Standing) -> Dialect:
    # An access device that was removed meanwhile: as any would be.
    return tx.house.dialect_of(standing.access_device) or Dialect(DialectId(0), "")


def _return_unasked(tx: Tx, standing: Standing, *, was_lost: bool) -> None:
    """Back without a new request: its access point remembered an old answer, and gave it the role of that one."""
    role = tx.house.roles.get(standing.role) if standing.role is not None else None
    decision, picture = decide_now(tx, standing)
    is_admitted = decision.answer is Answer.ADMIT
    outside = STATE_FOR.get(standing.reason, State.AT_DOOR) if standing.reason else State.AT_DOOR
    if role is None or role.is_door:
        enter(standing, outside, tx.now)
        standing.going = State.INSIDE if is_admitted else None
        return
    enter(standing, State.INSIDE, tx.now)
    standing.going = None if is_admitted else outside
    admission = picture.admission
    if admission is None:
        return
    # What it uses is charged from now on, also while it is on its way out again.
    is_same = was_lost and placements.reopen_placement(
        tx.conn, standing.mac, standing.network, role.id, admission.id
    )
    if not is_same:
        place(tx, standing, role.id, admission.id)
    if is_admitted:
        admissions.take_seat(tx.conn, admission.id, tx.now)
        standing.reconsider_at = decision.good_until


def _move_again(tx: Tx, standing: Standing) -> None:
    """Its role is not the one it should have: it is moved once the access point asks again."""
    what = wanted.IN if standing.going is State.INSIDE else wanted.OUT
    wait = _dialect(tx, standing).remembers_s
    want(tx, standing, what, delay=wait)
    tx.log(
        "returned_unasked",
        mac=standing.mac,
        network=standing.network,
        access_device=standing.access_device,
        facts={"seconds": wait},
    )
