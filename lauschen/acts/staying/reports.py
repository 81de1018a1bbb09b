"""What access devices report: stays begin, grow and end, each octet counted once (rulings 4)."""

from dataclasses import dataclass
from enum import StrEnum

from lauschen.acts.passphrases.joining import joined
from lauschen.acts.staying import doubles, roaming
from lauschen.acts.staying.charging import charge
from lauschen.acts.staying.comings import came, goes_on, gone, learn_address, let_go_of
from lauschen.acts.staying.endings import end
from lauschen.acts.staying.restarting import catch_up, close_all
from lauschen.core.ids import AccessDeviceId, Mac, StayId
from lauschen.core.limits.counters import CEILING, Count, Reading, read_counter
from lauschen.road.tx import Tx
from lauschen.store import addresses, stays
from lauschen.store.config import access_devices
from lauschen.store.log import Facts
from lauschen.store.stays import GONE, LOST, RESTARTED, ROAMED, Stay

SAME_START_S = 3.0
LATE_S = 10.0
"""A report that comes so soon after its session was ended may have been sent before."""
LATEST_DELAY_S = 86_400
LEAST_RATED_S = 1.0
"""Reports that come closer say nothing of how fast a device is."""
LONGEST_STAY_S = 366 * 86_400
"""A device that says more of a stay whose Start was lost is not believed."""


class Event(StrEnum):
    """Acct-Status-Type, RFC 2866 section 5.1."""

    START = "start"
    INTERIM = "interim"
    STOP = "stop"
    ON = "on"
    OFF = "off"


@dataclass(slots=True)
class Report:
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
    multi_session_id: str | None = None
    user: str | None = None
    """Class or Chargeable-User-Identity, which we gave in the Accept."""
    port_id: str | None = None
    port_type: int | None = None
    bssid: str = ""
    """Twelve hex digits of Called-Station-Id."""
    nas_address: str = ""
    """NAS-IP-Address, else the source of the packet."""
    addresses6: tuple[str, ...] = ()
    """IPv6 addresses and prefixes (RFC 3162, RFC 4818, RFC 6911)."""
    packets: int | None = None
    """Both ways together."""


def take_report(tx: Tx, report: Report) -> None:
    """Stores what one packet says; saying it again changes nothing."""
    # Rulings 4.2: the event's time is the receipt less the delay the device admits.
    at = tx.now - min(max(report.delay, 0), LATEST_DELAY_S)
    if report.event in (Event.ON, Event.OFF):
        said: Facts = {
            "bssid": report.bssid, "nas_identifier": report.nas_identifier, "nas_address": report.nas_address,
        }  # fmt: skip
        close_all(tx, report.access_device, report.event, at, said)
    elif report.mac is None:
        tx.log("accounting_without_device", access_device=report.access_device)
    else:
        if report.access_device in tx.memory.restarting:
            catch_up(tx, report.mac, report.access_device)
        if report.event is Event.START:
            _start(tx, report, report.mac, at)
        else:
            _report(tx, report, report.mac, at)
        if report.framed_ip is not None or report.addresses6:
            _note_addresses(tx, report, report.mac)


def _start(tx: Tx, report: Report, mac: Mac, at: float) -> None:
    known = _find(tx, report, mac)
    if known is not None and abs(known.started - at) <= SAME_START_S and not _is_after(at, known):
        return  # rulings 4.1: this Start is the one we know
    if known is not None and known.ended is None:
        end(tx, known, at, "began_anew")
    stay = _begin(tx, report, mac, at)
    came(tx, stay)
    joined(tx, stay)
    tx.log("stay_began", mac=mac, network=stay.network, access_device=report.access_device)


def _note_addresses(tx: Tx, report: Report, mac: Mac) -> None:
    found = report.addresses6 if report.framed_ip is None else (report.framed_ip, *report.addresses6)
    if tx.memory.is_news(mac, found, tx.now):
        addresses.note_addresses(tx.conn, mac, found, addresses.ACCOUNTING, tx.now)


def _is_after(at: float, stay: Stay) -> bool:
    """It had ended by then: the device is back within seconds, under the same session id."""
    return stay.ended is not None and at >= stay.ended


def _report(tx: Tx, report: Report, mac: Mac, at: float) -> None:
    stay = _find(tx, report, mac)
    if stay is None:
        # Its Start was lost.
        stay = _begin(tx, report, mac, at - min(report.session_time, LONGEST_STAY_S))
        if report.event is Event.INTERIM:
            came(tx, stay)
    elif stay.end_cause in (LOST, GONE) or _goes_on_after_restart(report, stay, at):
        stays.reopen(tx.conn, stay)
        tx.memory.keep_stay(stay)
        came(tx, stay, was_lost=True)
    if stay.session_time == 0 and stay.root is not None:
        roaming.go_on_counting(tx, stay, report.session_time, _raw(report))
    before = stay.last_event
    used = _count(tx, stay, report, at)
    if stay.end_cause == ROAMED and report.event is Event.INTERIM:
        goes_on(tx, stay, used)
    is_late = stay.ended is not None
    if before < at and before > stay.started:
        stay.gap = at - before
    stay.last_event = max(before, at)
    stay.session_time = max(stay.session_time, report.session_time)
    if report.framed_ip is not None and report.framed_ip != stay.framed_ip:
        doubles.look_at_address(tx, stay, report.framed_ip)
        stay.framed_ip = report.framed_ip
        learn_address(tx, stay)
    tx.save_report(stay)
    tx.memory.note_rate(mac, stay.octets_in.total + stay.octets_out.total, stay.session_time)
    if stay.network is not None and stay.counts:
        _note_use(tx, stay, used, before)
        charge(tx, stay, stay.network, used, before)
    if (
        used
        and tx.memory.elsewhere
        and report.event is Event.INTERIM
        and (found := tx.memory.elsewhere.get(mac))
    ):
        doubles.look_elsewhere(tx, stay, found)
    if report.event is Event.STOP and not is_late:
        end(tx, stay, stay.last_event, report.cause or "not_said")
        gone(tx, stay)
    elif report.event is Event.STOP and stay.network is not None:
        let_go_of(tx, stay)


def _goes_on_after_restart(report: Report, stay: Stay, at: float) -> bool:
    """Accounting-On ended it, and it grows all the same: that was about another part of the access device."""
    return (
        stay.end_cause == RESTARTED
        and report.event is Event.INTERIM
        and stay.ended is not None
        and at > stay.ended + LATE_S
        and report.session_time > stay.session_time
    )


def _note_use(tx: Tx, stay: Stay, used: int, before: float) -> None:
    """How fast it is now, and what it used today: shown, and decides nothing."""
    elapsed = stay.last_event - before
    if elapsed >= LEAST_RATED_S:
        stay.octets_per_s = min(int(used / elapsed), CEILING)
    day = tx.memory.day_of(stay.last_event, tx.config.zone)
    if used == 0 or day.number < stay.day:
        return
    if day.number > stay.day:
        stays.begin_day(tx.conn, stay, day.number)
    stay.day_octets = min(stay.day_octets + day.share(used, before, stay.last_event), CEILING)


def _begin(tx: Tx, report: Report, mac: Mac, started: float) -> Stay:
    network = tx.config.recognise(
        report.access_device, report.ssid, report.nas_identifier or None, report.port_id, report.port_type
    )
    if network is not None and not tx.config.serves(report.access_device, network.id):
        # Told of devices there it would be believed, and what they use charged to guests.
        access_devices.note_not_served(tx.conn, report.access_device, network.id, tx.now)
        network = None
    stay = Stay(
        id=StayId(0),
        mac=mac,
        network=network.id if network else None,
        access_device=report.access_device,
        nas_identifier=report.nas_identifier,
        session_id=report.session_id,
        started=started,
        last_event=started,
        session_time=0,
        octets_in=Count(),
        octets_out=Count(),
        saw_gigawords=False,
        framed_ip=report.framed_ip,
        ended=None,
        end_cause=None,
        root=None,
        multi_session_id=report.multi_session_id,
        user=report.user,
        counts=True,
        gap=0.0,
        bssid=report.bssid,
        nas_address=report.nas_address,
        packets=0,
    )
    tx.settle()
    for old in roaming.join(tx, stay):
        end(tx, old, max(started, old.last_event), ROAMED)
    stays.add_stay(tx.conn, stay)
    tx.memory.keep_stay(stay)
    return stay


def _find(tx: Tx, report: Report, mac: Mac) -> Stay | None:
    key = mac, report.session_id, report.access_device, report.nas_identifier
    stay = tx.memory.find_stay(key)
    if stay is None:
        tx.settle()
        stay = stays.find_stay(tx.conn, *key)
        if stay is not None and stay.ended is None:
            tx.memory.keep_stay(stay)
    return stay


def _raw(report: Report) -> tuple[int, int]:
    return (
        report.octets_in + ((report.gigawords_in or 0) << 32),
        report.octets_out + ((report.gigawords_out or 0) << 32),
    )


def _count(tx: Tx, stay: Stay, report: Report, at: float) -> int:
    """Takes the new counters into the stay; returns the octets they add, both ways."""
    passed_s = 0.0 if report.session_time else at - stay.last_event
    grown_s, saw = report.session_time - stay.session_time, stay.saw_gigawords
    fell = report.packets is not None and report.packets < stay.packets
    down, of_down = read_counter(
        stay.octets_out,
        report.octets_out,
        report.gigawords_out,
        grown_s,
        saw_gigawords=saw,
        packets_fell=fell,
        passed_s=passed_s,
    )
    up, of_up = read_counter(
        stay.octets_in,
        report.octets_in,
        report.gigawords_in,
        grown_s,
        saw_gigawords=saw,
        packets_fell=fell,
        passed_s=passed_s,
    )
    if of_down is Reading.IMPOSSIBLE or of_up is Reading.IMPOSSIBLE:
        tx.log("impossible_count", mac=stay.mac, network=stay.network, access_device=stay.access_device)
    if report.packets is not None and grown_s >= 0:
        stay.packets = report.packets
    if report.gigawords_in or report.gigawords_out:
        stay.saw_gigawords = True
    return down + up
