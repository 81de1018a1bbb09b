"""What the beginning and the end of a stay mean to where a device stands."""

from dataclasses import replace

from lauschen.acts.arriving.facts import decide_now
from lauschen.acts.arriving.placing import STATE_FOR, enter, place, put_wanted
from lauschen.acts.moving.moves import OVER_ANYWAY_S, is_told_apart, want
from lauschen.acts.staying.doubles import look_where_it_was
from lauschen.core.config.dialect import Dialect
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.standing import Standing, State
from lauschen.core.decide.wanted import ANSWER, REPORT, Place
from lauschen.core.ids import AccessDeviceId, DialectId
from lauschen.road.tx import Tx
from lauschen.store import admissions, placements, stays
from lauschen.store.devices import open_admission_of
from lauschen.store.moving import places, wanted
from lauschen.store.stays import ROAMED, Stay

LET_GO_S = 5.0
"""So long an access device has to report by itself that a device roamed away from it."""


def came(tx: Tx, stay: Stay, *, was_lost: bool = False) -> None:
    """A stay began: the standing learns its session, and a device that had left is back.

    `was_lost`: the stay was only thought to be over, so the device was there all the time.
    """
    standing = _standing_of(tx, stay)
    if standing is None or _is_second_report(tx, standing, stay):
        return
    is_other = standing.session_id not in (None, stay.session_id)
    was_at = standing.at
    standing.session_id = stay.session_id
    standing.access_device = stay.access_device
    standing.framed_ip = stay.framed_ip or standing.framed_ip
    standing.last_heard = tx.now
    was_away = standing.state is State.LEFT
    if was_away:
        decision = _return_unasked(tx, standing, was_lost=was_lost)
        put_wanted(tx, standing, decision)
    own = (
        None
        if was_at == standing.at
        else places.find_place(tx.conn, stay.mac, standing.network, *standing.at)
    )
    if own is not None and own.seen_at is not None and not own.is_left and not was_away:
        _take_over(standing, own, tx.now)
    else:
        own = None
    tx.write_standing(standing)
    _is_at(tx, standing, stay, was_at, own)
    if standing.going is not None and (is_other or was_away):
        _move_again(tx, standing)


def _take_over(standing: Standing, place: Place, now: float) -> None:
    """It is at a place that asked before, and holds what it was told then."""
    should = standing.wanted
    standing.role = place.role
    enter(standing, State.AT_DOOR if place.admission is None else State.INSIDE, now)
    standing.wanted = should


def _is_at(
    tx: Tx, standing: Standing, stay: Stay, was_at: tuple[AccessDeviceId, str], own: Place | None
) -> None:
    """Its place is where this stay is. One that it was at before goes, unless a stay is open there.

    `own`: what this place holds, where it was told so itself.
    """
    is_same = was_at == (stay.access_device, stay.session_id)
    if is_same and stay.user is None:
        return  # nothing new is seen by it
    before = places.find_place(tx.conn, stay.mac, standing.network, *was_at)
    keeps_old = (
        before is not None and is_told_apart(tx.config, before, standing) and _may_be_there(tx, before)
    )
    if own is None:
        admission = open_admission_of(tx.conn, stay.mac, standing.network) if stay.user else None
        is_echoed = admission is not None and admission.token == stay.user
        places.go_on_at(tx.conn, standing, was_at, by=REPORT if is_echoed else ANSWER, now=tx.now)
    if before is None or was_at == standing.at:
        return
    if not keeps_old:
        places.forget(tx.conn, stay.mac, standing.network, *was_at)
    elif stays.open_stay(tx.conn, stay.mac, was_at[1], was_at[0]) is None:
        places.let_go(tx.conn, before, due=tx.now + LET_GO_S, over_at=tx.now + OVER_ANYWAY_S)
        tx.has_wishes = True


def _may_be_there(tx: Tx, place: Place) -> bool:
    """A stay is open there, or was open until the device roamed away from it."""
    newest = stays.newest_of_session(tx.conn, place.mac, place.session_id, place.access_device)
    return newest is not None and (newest.ended is None or newest.end_cause == ROAMED)


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
        places.forget(tx.conn, stay.mac, standing.network, stay.access_device, stay.session_id)
        return  # it is somewhere else by now
    standing.last_heard = max(standing.last_heard, stay.last_event)
    other = None if standing.state is State.LEFT else _also_at(tx, standing, stay)
    if other is None:
        leave(tx, standing)
    else:
        _go_on_there(tx, standing, other)
    tx.log(
        "stay_ended",
        mac=stay.mac,
        network=standing.network,
        access_device=stay.access_device,
        facts={"cause": stay.end_cause, "octets": stay.octets_in.total + stay.octets_out.total},
    )


def goes_on(tx: Tx, stay: Stay, used: int) -> None:
    """An access device goes on reporting a device that went on to another one: it is asked again to let go.

    While that uses something it is counted, since another device may have this address (rulings 9.3).
    """
    if used and stay.ended is not None:
        stays.reopen(tx.conn, stay, keeps_cause=True)
        tx.memory.keep_stay(stay)
    standing = _standing_of(tx, stay)
    at = stay.access_device, stay.session_id
    if standing is not None and standing.state is not State.LEFT and standing.at != at:
        _let_go_again(tx, standing, stay)
    if used:
        look_where_it_was(tx, stay)


def _let_go_again(tx: Tx, standing: Standing, stay: Stay) -> None:
    at = stay.access_device, stay.session_id
    place = places.find_place(tx.conn, stay.mac, standing.network, *at)
    if place is None:
        device = tx.config.access_devices.get(at[0])
        source = stay.nas_address if device is None or device.is_range else device.address
        there = replace(standing, access_device=at[0], session_id=at[1], source=source)
        places.begin(tx.conn, there)
        place = places.find_place(tx.conn, stay.mac, standing.network, *at)
        assert place is not None
    if not is_told_apart(tx.config, place, standing):
        places.forget(tx.conn, stay.mac, standing.network, *at)
    elif place.next_at is None:
        places.let_go(tx.conn, place, due=tx.now, over_at=tx.now + OVER_ANYWAY_S)
        tx.has_wishes = True


def _also_at(tx: Tx, standing: Standing, stay: Stay) -> Place | None:
    """Another place where it is: its stay goes on there, or it asked there shortly before this stay ended."""
    since = stay.last_event - stay.two_intervals
    found = [
        one
        for one in places.places_of(tx.conn, standing.mac, standing.network)
        if one.at not in (standing.at, (stay.access_device, stay.session_id))
        and (
            (one.seen_at is not None and one.seen_at >= since and not one.is_left)
            or stays.open_stay(tx.conn, one.mac, one.session_id, one.access_device) is not None
        )
    ]
    return max(found, key=lambda one: one.seen_at or 0.0, default=None)


def _go_on_there(tx: Tx, standing: Standing, place: Place) -> None:
    places.forget(tx.conn, standing.mac, standing.network, *standing.at)
    standing.access_device, standing.session_id = place.access_device, place.session_id or None
    standing.spelled, standing.source = place.spelled, place.source
    if place.seen_at is not None:
        _take_over(standing, place, tx.now)
    tx.write_standing(standing)
    if place.is_left:
        places.come_back(tx.conn, place)
        want(tx, standing)


def let_go_of(tx: Tx, stay: Stay) -> None:
    """The Stop of a stay that was over for us: its access device holds nothing of it any more."""
    standing = _standing_of(tx, stay)
    here = None if standing is None else (standing.access_device, standing.session_id)
    if standing is not None and here != (stay.access_device, stay.session_id):
        places.forget(tx.conn, stay.mac, standing.network, stay.access_device, stay.session_id)


def leave(tx: Tx, standing: Standing) -> None:
    """It is not there any more, whatever was wanted for it."""
    if standing.admission is not None:
        admissions.free_seat(tx.conn, standing.admission)
    placements.end_placement(tx.conn, standing.mac, standing.network, tx.now)
    # A Stop after our Disconnect confirms it (rulings 4.7); a device that left needs no moving.
    places.forget(tx.conn, standing.mac, standing.network, *standing.at)
    wanted.put(
        tx.conn, standing.mac, standing.network,
        state=State.LEFT, role=None, admission=None, until=None, now=tx.now,
    )  # fmt: skip
    standing.session_id = standing.reconsider_at = None
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
    return tx.config.dialect_of(standing.access_device) or Dialect(DialectId(0), "")


def _return_unasked(tx: Tx, standing: Standing, *, was_lost: bool) -> Decision:
    """Back without a new request: its access point remembered an old answer, and gave it the role of that one."""
    role = tx.config.roles.get(standing.role) if standing.role is not None else None
    decision, picture = decide_now(tx, standing)
    is_admitted = decision.answer is Answer.ADMIT
    outside = STATE_FOR.get(standing.reason, State.AT_DOOR) if standing.reason else State.AT_DOOR
    if role is None or role.is_door:
        enter(standing, outside, tx.now)
        standing.wanted = State.INSIDE if is_admitted else outside
        return decision
    enter(standing, State.INSIDE, tx.now)
    standing.wanted = State.INSIDE if is_admitted else outside
    admission = picture.admission
    if admission is None:
        return decision
    # What it uses is charged from now on, also while it is on its way out again.
    is_same = was_lost and placements.reopen_placement(
        tx.conn, standing.mac, standing.network, role.id, admission.id
    )
    if not is_same:
        place(tx, standing, role.id, admission.id)
    if is_admitted:
        admissions.take_seat(tx.conn, admission.id, tx.now)
        standing.reconsider_at = decision.good_until
    return decision


def _move_again(tx: Tx, standing: Standing) -> None:
    """Its role is not the one it should have: it is moved once the access point asks again."""
    wait = _dialect(tx, standing).remembers_s
    want(tx, standing, delay=wait)
    tx.log(
        "returned_unasked",
        mac=standing.mac,
        network=standing.network,
        access_device=standing.access_device,
        facts={"seconds": wait},
    )
