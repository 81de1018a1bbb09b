"""From verified packets to what was heard, in our words: who asks, where, and what is reported."""

from functools import lru_cache
from hmac import compare_digest
from ipaddress import IPv4Address

from lauschen.core.ids import AccessDeviceId, Mac
from lauschen.core.mac import read_mac
from lauschen.core.picture import Arrival, Medium, Offered, Reason
from lauschen.radius.codec import BadPacket, Packet
from lauschen.radius.numbers import TERMINATE_CAUSES, Kind, ServiceType, StatusType
from lauschen.radius.signing import Secret, chap_matches
from lauschen.road.accounting import Event, Heard

_EVENTS = {
    StatusType.START: Event.START,
    StatusType.STOP: Event.STOP,
    StatusType.INTERIM_UPDATE: Event.INTERIM,
    StatusType.ON: Event.ON,
    StatusType.OFF: Event.OFF,
}
_NOBODY = Mac(0)
_HEX_DIGITS = b"0123456789abcdefABCDEF"


def read_access_request(
    packet: Packet, secret: Secret, device: AccessDeviceId, source: str = "", shared_password: str = ""
) -> Arrival:
    """Who asks (rulings 3.3). The device is always Calling-Station-Id; a typed MAC never becomes one.

    `shared_password` is what this dialect sends in requests for devices, if not the MAC.
    """
    spelled = packet.opaque(Kind.CALLING_STATION_ID) or ""
    mac = read_mac(spelled)
    arrival = Arrival(
        Medium.ASKED,
        mac if mac is not None else _NOBODY,
        device,
        read_ssid(packet),
        None,
        spelled,
        packet.opaque(Kind.ACCT_SESSION_ID),
        _address(packet),
        packet.opaque(Kind.NAS_IDENTIFIER),
        packet.opaque(Kind.NAS_PORT_ID),
        packet.integer(Kind.NAS_PORT_TYPE),
        source,
    )
    if packet.first(Kind.EAP_MESSAGE) is not None:
        arrival.refusal = Reason.EAP
    elif mac is None:
        arrival.refusal = Reason.CONTRADICTORY
    elif packet.integer(Kind.SERVICE_TYPE) == ServiceType.AUTHORIZE_ONLY:
        arrival.medium = Medium.REAUTHORISED
    else:
        _hear_who(arrival, packet, secret, mac, shared_password.encode())
    return arrival


def read_accounting(packet: Packet, device: AccessDeviceId, source: str = "") -> Heard:
    """What an Accounting-Request reports; BadPacket when it does not say what it is."""
    status = packet.integer(Kind.ACCT_STATUS_TYPE)
    event = _EVENTS.get(status) if status is not None else None  # type: ignore[call-overload]
    if event is None:
        raise BadPacket("status_type")
    cause = packet.integer(Kind.ACCT_TERMINATE_CAUSE)
    return Heard(
        event,
        device,
        packet.opaque(Kind.NAS_IDENTIFIER) or "",
        packet.integer(Kind.ACCT_DELAY_TIME) or 0,
        read_mac(packet.opaque(Kind.CALLING_STATION_ID) or ""),
        read_ssid(packet),
        packet.opaque(Kind.ACCT_SESSION_ID) or "",
        packet.integer(Kind.ACCT_SESSION_TIME) or 0,
        packet.integer(Kind.ACCT_INPUT_OCTETS) or 0,
        packet.integer(Kind.ACCT_OUTPUT_OCTETS) or 0,
        packet.integer(Kind.ACCT_INPUT_GIGAWORDS),
        packet.integer(Kind.ACCT_OUTPUT_GIGAWORDS),
        _address(packet),
        None if cause is None else TERMINATE_CAUSES.get(cause, f"cause_{cause}"),
        packet.opaque(Kind.ACCT_MULTI_SESSION_ID),
        packet.opaque(Kind.CLASS) or packet.opaque(Kind.CHARGEABLE_USER_IDENTITY),
        packet.opaque(Kind.NAS_PORT_ID),
        packet.integer(Kind.NAS_PORT_TYPE),
        _bssid(packet),
        _ipv4(packet.first(Kind.NAS_IP_ADDRESS)) or source,
    )


def _hear_who(arrival: Arrival, packet: Packet, secret: Secret, mac: Mac, shared: bytes) -> None:
    """A device, a person, or neither."""
    hidden, chap = packet.first(Kind.USER_PASSWORD), packet.first(Kind.CHAP_PASSWORD)
    if hidden is not None and chap is not None:
        arrival.refusal = Reason.CONTRADICTORY
        return
    if packet.integer(Kind.SERVICE_TYPE) == ServiceType.CALL_CHECK:
        return
    name = packet.first(Kind.USER_NAME) or b""
    plain = None if hidden is None else secret.reveal(hidden, packet.authenticator)

    def proves(password: bytes) -> bool:
        if chap is not None:
            challenge = packet.first(Kind.CHAP_CHALLENGE) or packet.authenticator
            return chap_matches(chap, challenge, password)
        return plain is not None and compare_digest(plain, password)

    named = read_mac(name.decode("utf-8", "replace"))
    if named is None and name and (chap is not None or plain is not None):
        password = None if plain is None else plain.decode("utf-8", "replace")
        arrival.medium = Medium.PERSON
        arrival.offered = Offered(name.decode("utf-8", "replace"), password, proves)
    elif named is not None and named != mac:
        arrival.refusal = Reason.CONTRADICTORY
    elif named is None or not (proves(name) or (shared and proves(shared))):
        arrival.refusal = Reason.NO_WAY_IN


def read_ssid(packet: Packet) -> bytes | None:
    """The SSID that Called-Station-Id names (rulings 3.9)."""
    called = packet.first(Kind.CALLED_STATION_ID)
    return None if called is None else _ssid_of(called)


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


def _bssid(packet: Packet) -> str:
    called = packet.first(Kind.CALLED_STATION_ID)
    return "" if called is None else _bssid_of(called)


def _address(packet: Packet) -> str | None:
    value = packet.first(Kind.FRAMED_IP_ADDRESS)
    return None if value is None else _ipv4(value)


@lru_cache(4096)
def _ipv4(value: bytes | None) -> str | None:
    return str(IPv4Address(value)) if value is not None and len(value) == 4 else None
