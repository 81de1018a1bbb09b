"""What access devices report: stays begin, grow and end; what was used is charged; limits are kept."""

from dataclasses import dataclass
from enum import StrEnum

from lauschen.core.counters import Count, Reading, Report, read_counter, share_after
from lauschen.core.ids import AccessDeviceId, Mac, NetworkId, StayId
from lauschen.core.limits import INTERIM_S, Binds, interim_interval, left
from lauschen.core.picture import AdmissionFacts, Reason, Standing, State
from lauschen.road.arrivals import STATE_FOR, enter
from lauschen.road.moves import Wake, end_stay, want
from lauschen.road.tx import Tx
from lauschen.store import admissions, credentials, devices, stays, wanted
from lauschen.store.stays import Stay

SAME_START_S = 3.0
LATEST_DELAY_S = 86_400
ANSWER_REMEMBERED_S = 35.0
"""Longer than access points were seen to remember an answer (30 s)."""


class Event(StrEnum):
    """Acct-Status-Type, RFC 2866 section 5.1."""

    START = "start"
    INTERIM = "interim"
    STOP = "stop"
    ON = "on"
    OFF = "off"


@dataclass(slots=True)
class Heard:
    """One Accounting-Request in our words. Octets: *in* is from the guest."""

    event: Event
    access_device: AccessDeviceId
    nas_identifier: str
    delay: int
    mac: Mac | None = None
    ssid: bytes | None = None
    session_id: str = ""
    session_time: int = 0
    octets_in: int = 0
    octets_out: int = 0
    gigawords_in: int | None = None
    gigawords_out: int | None = None
    framed_ip: str | None = None
    cause: str | None = None


def hear_accounting(tx: Tx, heard: Heard, wake: Wake) -> None:
    """Stores what one packet says; saying it again changes nothing."""
    # Rulings 4.2: the event's time is the receipt less the delay the device admits.
    at = tx.now - min(max(heard.delay, 0), LATEST_DELAY_S)
    if heard.event in (Event.ON, Event.OFF):
        _close_all(tx, heard, at)
    elif heard.mac is None:
        tx.hear("accounting_without_device", access_device=heard.access_device)
    elif heard.event is Event.START:
        _start(tx, heard, heard.mac, at, wake)
    else:
        _report(tx, heard, heard.mac, at, wake)


def _start(tx: Tx, heard: Heard, mac: Mac, at: float, wake: Wake) -> None:
    known = _find(tx, heard, mac)
    if known is not None and abs(known.started - at) <= SAME_START_S:
        return  # rulings 4.1: this Start is the one we know
    if known is not None and known.ended is None:
        _end(tx, known, at, "began_anew")
    stay = _begin(tx, heard, mac, at)
    standing = _standing_of(tx, stay)
    if standing is not None:
        _hear_of(tx, standing, stay, wake)
    tx.hear("stay_began", mac=mac, network=stay.network, access_device=heard.access_device)


def _report(tx: Tx, heard: Heard, mac: Mac, at: float, wake: Wake) -> None:
    stay = _find(tx, heard, mac)
    if stay is None:
        # Its Start was lost.
        stay = _begin(tx, heard, mac, at - heard.session_time)
    before = stay.last_event
    used = _count(stay, heard)
    is_late = stay.ended is not None
    stay.last_event = max(before, at)
    stay.session_time = max(stay.session_time, heard.session_time)
    if heard.framed_ip is not None:
        stay.framed_ip = heard.framed_ip
    stays.save_report(tx.conn, stay)
    tx.memory.note_rate(mac, stay.octets_in.total + stay.octets_out.total, stay.session_time)
    if stay.network is not None:
        _charge(tx, stay, stay.network, used, before, wake)
    if heard.event is Event.STOP and not is_late:
        _end(tx, stay, stay.last_event, heard.cause or "not_said")
        standing = _standing_of(tx, stay)
        if standing is not None:
            _stopped(tx, standing, stay)


def _begin(tx: Tx, heard: Heard, mac: Mac, started: float) -> Stay:
    network = tx.house.network_by_ssid.get(heard.ssid) if heard.ssid is not None else None
    stay = Stay(
        id=StayId(0),
        mac=mac,
        network=network.id if network else None,
        access_device=heard.access_device,
        nas_identifier=heard.nas_identifier,
        session_id=heard.session_id,
        started=started,
        last_event=started,
        session_time=0,
        octets_in=Count(),
        octets_out=Count(),
        saw_gigawords=False,
        framed_ip=heard.framed_ip,
        ended=None,
        end_cause=None,
    )
    stays.add_stay(tx.conn, stay)
    tx.memory.keep_stay(stay)
    return stay


def _find(tx: Tx, heard: Heard, mac: Mac) -> Stay | None:
    key = mac, heard.session_id, heard.access_device, heard.nas_identifier
    stay = tx.memory.find_stay(key)
    if stay is None:
        stay = stays.find_stay(tx.conn, *key)
        if stay is not None and stay.ended is None:
            tx.memory.keep_stay(stay)
    return stay


def _end(tx: Tx, stay: Stay, at: float, cause: str) -> None:
    stays.end_stay(tx.conn, stay, at, cause)
    tx.memory.forget_stay(stay)


def _count(stay: Stay, heard: Heard) -> int:
    """Takes the new counters into the stay; returns the octets they add, both ways."""
    added = 0
    saw = stay.saw_gigawords
    for name, octets, gigawords in (
        ("octets_in", heard.octets_in, heard.gigawords_in),
        ("octets_out", heard.octets_out, heard.gigawords_out),
    ):
        count, more, reading = read_counter(
            getattr(stay, name),
            Report(octets, gigawords, heard.session_time),
            session_time_before=stay.session_time,
            saw_gigawords=saw,
        )
        setattr(stay, name, count)
        added += more if reading is not Reading.IMPOSSIBLE else 0
        stay.saw_gigawords = stay.saw_gigawords or bool(gigawords)
    return added


def _standing_of(tx: Tx, stay: Stay) -> Standing | None:
    return None if stay.network is None else tx.read_standing(stay.mac, stay.network)


def _hear_of(tx: Tx, standing: Standing, stay: Stay, wake: Wake) -> None:
    """A stay began: the standing learns its session, and a device that had left is back."""
    is_other = standing.session_id not in (None, stay.session_id)
    standing.session_id = stay.session_id
    standing.access_device = stay.access_device
    standing.framed_ip = stay.framed_ip or standing.framed_ip
    standing.last_heard = tx.now
    if standing.state is State.LEFT:
        _return_unasked(tx, standing)
    elif not (is_other and standing.going is not None):
        tx.write_standing(standing)
        return
    tx.write_standing(standing)
    if standing.going is not None:
        _move_again(tx, standing, wake)


def _return_unasked(tx: Tx, standing: Standing) -> None:
    """Back without a new request: its access point remembered an old answer, and gave it the role of that one."""
    role = tx.house.roles.get(standing.role) if standing.role is not None else None
    outside = STATE_FOR.get(standing.reason, State.AT_DOOR) if standing.reason else State.AT_DOOR
    admission = devices.open_admission_of(tx.conn, standing.mac, standing.network)
    if role is None or role.is_door:
        enter(standing, outside, tx.now)
        standing.going = State.INSIDE if admission is not None else None
        return
    enter(standing, State.INSIDE, tx.now)
    if admission is None or not _has_seat(tx, standing, admission):
        standing.going = outside
        return
    plan = tx.house.plans[admission.credential.plan]
    standing.ends = left(plan, admission.credential.use, tx.now).until
    admissions.place(
        tx.conn,
        mac=standing.mac,
        network=standing.network,
        access_device=standing.access_device,
        role=role.id,
        admission=admission.id,
        now=tx.now,
    )


def _has_seat(tx: Tx, standing: Standing, admission: AdmissionFacts) -> bool:
    """True when one of the plan's devices at once is this one's, or now becomes so."""
    plan = tx.house.plans[admission.credential.plan]
    if admissions.seats_taken(tx.conn, admission.credential.id, standing.mac) >= plan.devices:
        return False
    admissions.take_seat(tx.conn, admission.id, tx.now)
    return True


def _move_again(tx: Tx, standing: Standing, wake: Wake) -> None:
    """Its role is not the one it should have: it is moved once the access point asks again."""
    what = wanted.IN if standing.going is State.INSIDE else wanted.OUT
    want(tx, standing, what, wake, delay=ANSWER_REMEMBERED_S)
    tx.hear(
        "returned_unasked",
        mac=standing.mac,
        network=standing.network,
        access_device=standing.access_device,
        facts={"seconds": int(ANSWER_REMEMBERED_S)},
    )


def _charge(tx: Tx, stay: Stay, network: NetworkId, used: int, before: float, wake: Wake) -> None:
    """Charges what came after the admission (rulings 4.6) and ends the stay when that was the last of it."""
    if used == 0:
        return
    charged = admissions.charged_admission(tx.conn, stay.mac, network, before)
    if charged is None:
        return
    share = share_after(used, before, stay.last_event, charged.placed_from)
    if charged.placed_until is not None:
        share -= share_after(used, before, stay.last_event, charged.placed_until)
    credentials.charge(tx.conn, charged.credential.id, share)
    tx.memory.charge(charged.credential.id, share)
    if not charged.is_open:
        return
    charged.credential.use.octets += share
    remains = left(tx.house.plans[charged.credential.plan], charged.credential.use, tx.now)
    standing = tx.read_standing(stay.mac, network) if remains.is_over else None
    if standing is not None:
        end_by_limit(
            tx, standing, Reason.DATA_USED_UP if remains.binds is Binds.DATA else Reason.TIME_USED_UP, wake
        )


def end_by_limit(tx: Tx, standing: Standing, reason: Reason, wake: Wake) -> None:
    """A limit is reached: the stay is over, and the log says why."""
    end_stay(tx, standing, reason, wake)
    tx.hear(
        "limit_reached",
        mac=standing.mac,
        network=standing.network,
        access_device=standing.access_device,
        facts={"reason": reason},
    )


def _stopped(tx: Tx, standing: Standing, stay: Stay) -> None:
    """A Stop: the device has left; what it was admitted by outlives that (rulings 4.6)."""
    if standing.session_id not in (None, stay.session_id) or standing.access_device != stay.access_device:
        return  # it is somewhere else by now
    if standing.admission is not None:
        admissions.free_seat(tx.conn, standing.admission)
    admissions.end_placement(tx.conn, standing.mac, standing.network, tx.now)
    # A Stop after our Disconnect confirms it (rulings 4.7); a device that left needs no moving.
    wanted.drop(tx.conn, standing.mac, standing.network)
    standing.going = standing.session_id = standing.ends = None
    standing.last_heard = tx.now
    enter(standing, State.LEFT, tx.now)
    tx.write_standing(standing)
    tx.hear(
        "stay_ended",
        mac=stay.mac,
        network=standing.network,
        access_device=stay.access_device,
        facts={"cause": stay.end_cause, "octets": stay.octets_in.total + stay.octets_out.total},
    )


def _close_all(tx: Tx, heard: Heard, at: float) -> None:
    """An access device started or stops: its stays begun before are over (rulings 4.7)."""
    closed = 0
    for stay in stays.open_stays_at(tx.conn, heard.access_device, at):
        if heard.nas_identifier and stay.nas_identifier != heard.nas_identifier:
            continue
        _end(tx, stay, max(at, stay.last_event), "device_restarted")
        standing = _standing_of(tx, stay)
        if standing is not None:
            _stopped(tx, standing, stay)
        closed += 1
    tx.hear("device_" + heard.event, access_device=heard.access_device, facts={"closed": closed})


def next_interval(tx: Tx, standing: Standing, octets_left: int | None) -> int:
    """Seconds until the next interim update should come, from the rate of the stay so far."""
    if octets_left is None:
        return INTERIM_S
    rate = tx.memory.rates.get(standing.mac)
    if rate is None:
        session = standing.session_id
        stay = stays.open_stay(tx.conn, standing.mac, session, standing.access_device) if session else None
        octets, seconds = (
            (stay.octets_in.total + stay.octets_out.total, stay.session_time) if stay else (0, 0)
        )
        tx.memory.note_rate(standing.mac, octets, seconds)
        rate = tx.memory.rates[standing.mac]
    return interim_interval(octets_left, rate)
