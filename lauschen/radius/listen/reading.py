"""From verified packets to what was heard, in our words: who asks, where, and what is reported."""

from functools import lru_cache
from hmac import compare_digest
from ipaddress import IPv4Address, IPv6Address

from lauschen.acts.staying.reports import Event, Report
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.reason import Reason
from lauschen.core.ids import AccessDeviceId, Mac
from lauschen.core.ways.offers.person import NameAndPassword
from lauschen.core.words.ip import plain_ip
from lauschen.core.words.mac import read_mac
from lauschen.radius.wire.attributes import read_prefix6
from lauschen.radius.wire.codec import BadPacket, Packet
from lauschen.radius.wire.numbers import TERMINATE_CAUSES, ServiceType, StatusType
from lauschen.radius.wire.signing import Secret, chap_matches

_EVENTS: dict[int, Event] = {
    StatusType.START: Event.START,
    StatusType.STOP: Event.STOP,
    StatusType.INTERIM_UPDATE: Event.INTERIM,
    StatusType.ON: Event.ON,
    StatusType.OFF: Event.OFF,
}
_NOBODY = Mac(0)
_HEX_DIGITS = b"0123456789abcdefABCDEF"
# Plain numbers: a member of an enumeration costs a look-up more, for each attribute of each packet.
_USER, _PASSWORD, _CHAP, _NAS_IP, _SERVICE, _CHALLENGE, _NAS_V6 = 1, 2, 3, 4, 6, 60, 95
_FRAMED_IP, _CLASS, _CALLED, _CALLING, _NAS_ID = 8, 25, 30, 31, 32
_STATUS, _DELAY, _IN, _OUT, _SESSION, _TIME, _CAUSE, _MULTI = 40, 41, 42, 43, 44, 46, 49, 50
_IN_PACKETS, _OUT_PACKETS = 47, 48
_IN_HIGH, _OUT_HIGH, _PORT_TYPE, _EAP, _PORT_ID, _CUI = 52, 53, 61, 79, 87, 89
_PREFIX, _DELEGATED, _FRAMED_V6 = 97, 123, 168
_V6 = {_PREFIX, _DELEGATED, _FRAMED_V6}
_CALL_CHECK, _AUTHORIZE_ONLY = int(ServiceType.CALL_CHECK), int(ServiceType.AUTHORIZE_ONLY)


def read_access_request(
    packet: Packet, secret: Secret, device: AccessDeviceId, source: str = "", shared_password: str = ""
) -> Arrival:
    """Who asks (rulings 3.3). The device is always Calling-Station-Id; a typed MAC never becomes one.

    `shared_password` is what this dialect sends in requests for devices, if not the MAC.
    """
    firsts, opaque, number = packet.firsts, packet.opaque, packet.integer
    spelled = firsts.get(_CALLING, b"").decode("latin-1")
    mac = _mac_of(spelled)
    arrival = Arrival(
        Medium.ASKED,
        mac if mac is not None else _NOBODY,
        device,
        _ssid_of(firsts.get(_CALLED, b"")),
        None,
        spelled,
        opaque(_SESSION),
        _ipv4(firsts.get(_FRAMED_IP)),
        opaque(_NAS_ID),
        opaque(_PORT_ID),
        number(_PORT_TYPE),
        source,
    )
    if _EAP in firsts:
        arrival.refusal = Reason.EAP
        return arrival
    service = number(_SERVICE)
    if mac is None:
        arrival.refusal = Reason.CONTRADICTORY
    elif service == _AUTHORIZE_ONLY:
        arrival.medium = Medium.REAUTHORISED
    elif service == _CALL_CHECK and not (_PASSWORD in firsts and _CHAP in firsts):
        pass  # it asks for a device, whatever the password
    else:
        _hear_who(arrival, packet, secret, mac, shared_password.encode())
    return arrival


def read_report(packet: Packet, device: AccessDeviceId, source: str = "") -> Report:
    """What an Accounting-Request reports; BadPacket when it does not say what it is."""
    firsts, opaque, number = packet.firsts, packet.opaque, packet.integer
    event = _EVENTS.get(number(_STATUS) or 0)
    if event is None:
        raise BadPacket("status_type")
    cause = number(_CAUSE)
    called = firsts.get(_CALLED, b"")
    # By position, as the request above: names cost time, and this runs for each packet (rulings 1.3).
    return Report(
        event,
        device,
        opaque(_NAS_ID) or "",
        number(_DELAY) or 0,
        _mac_of(firsts.get(_CALLING, b"").decode("latin-1")),
        _ssid_of(called),
        opaque(_SESSION) or "",
        number(_TIME) or 0,
        number(_IN) or 0,
        number(_OUT) or 0,
        number(_IN_HIGH),
        number(_OUT_HIGH),
        _ipv4(firsts.get(_FRAMED_IP)),
        None if cause is None else TERMINATE_CAUSES.get(cause, f"cause_{cause}"),
        opaque(_MULTI),
        opaque(_CLASS) or opaque(_CUI),
        opaque(_PORT_ID),
        number(_PORT_TYPE),
        _bssid_of(called),
        _ipv4(firsts.get(_NAS_IP)) or _ipv6(firsts.get(_NAS_V6)) or source,
        _addresses6(packet) if _V6 & firsts.keys() else (),
        _packets(packet),
    )


def _hear_who(arrival: Arrival, packet: Packet, secret: Secret, mac: Mac, shared: bytes) -> None:
    """A device, a person, or neither."""
    firsts = packet.firsts
    hidden, chap = firsts.get(_PASSWORD), firsts.get(_CHAP)
    if hidden is not None and chap is not None:
        arrival.refusal = Reason.CONTRADICTORY
        return
    name = firsts.get(_USER, b"")
    plain = None if hidden is None else secret.reveal(hidden, packet.authenticator)

    def proves(password: bytes) -> bool:
        if chap is not None:
            challenge = firsts.get(_CHALLENGE) or packet.authenticator
            return chap_matches(chap, challenge, password)
        return plain is not None and compare_digest(plain, password)

    called = name.decode("utf-8", "replace")
    named = read_mac(called)
    if named is None and name and (chap is not None or plain is not None):
        password = None if plain is None else plain.decode("utf-8", "replace")
        arrival.medium = Medium.PERSON
        arrival.offer = NameAndPassword(called, password, proves)
    elif named is not None and named != mac:
        arrival.refusal = Reason.CONTRADICTORY
    elif named is None or (plain is None and chap is None):
        arrival.refusal = Reason.NO_WAY_IN
    elif not (proves(name) or (shared and proves(shared))):
        arrival.refusal = Reason.MAC_PASSWORD


def read_bssid(packet: Packet) -> str:
    """Twelve hex digits of Called-Station-Id; empty when it has none."""
    return _bssid_of(packet.firsts.get(_CALLED, b""))


def read_ssid(packet: Packet) -> bytes | None:
    """The SSID that Called-Station-Id names (rulings 3.9)."""
    return _ssid_of(packet.firsts.get(_CALLED, b""))


@lru_cache(4096)
def _ssid_of(called: bytes) -> bytes | None:
    """Rulings 3.9: twelve hex digits in any spelling, one colon, and the rest is the SSID as octets."""
    digits = 0
    for at, octet in enumerate(called):
        if digits == 12:
            return called[at + 1 :] if octet == 0x3A and at + 1 < len(called) else None
        if octet in _HEX_DIGITS:
            digits += 1
        elif octet not in b"-:. ":
            return None
    return None


@lru_cache(4096)
def _bssid_of(called: bytes) -> str:
    digits = bytes(octet for octet in called[:17] if octet in _HEX_DIGITS)
    return digits[:12].decode().lower() if len(digits) >= 12 else ""


@lru_cache(4096)
def _ipv4(value: bytes | None) -> str | None:
    return str(IPv4Address(value)) if value is not None and len(value) == 4 else None


@lru_cache(4096)
def _ipv6(value: bytes | None) -> str | None:
    """NAS-IPv6-Address (RFC 3162 section 2.1)."""
    return plain_ip(str(IPv6Address(value))) if value is not None and len(value) == 16 else None


_mac_of = lru_cache(32_768)(read_mac)


def _addresses6(packet: Packet) -> tuple[str, ...]:
    """What is malformed is left out: it harms nobody, and the report counts."""
    found = [str(IPv6Address(v)) for v in packet.all(_FRAMED_V6) if len(v) == 16]
    found += [text for kind in (_PREFIX, _DELEGATED) for v in packet.all(kind) if (text := read_prefix6(v))]
    return tuple(found)


def _packets(packet: Packet) -> int | None:
    up, down = packet.integer(_IN_PACKETS), packet.integer(_OUT_PACKETS)
    return None if up is None and down is None else (up or 0) + (down or 0)
