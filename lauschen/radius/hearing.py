"""From verified packets to what was heard, in our words: who asks, where, and what is reported."""

from functools import lru_cache
from ipaddress import IPv4Address

from lauschen.core.ids import AccessDeviceId, Mac
from lauschen.core.mac import read_mac
from lauschen.core.picture import Arrival, Medium, Reason
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


def read_access_request(packet: Packet, secret: Secret, device: AccessDeviceId) -> Arrival:
    """Who asks (rulings 3.3). The device is always Calling-Station-Id; a typed MAC never becomes one."""
    spelled = packet.opaque(Kind.CALLING_STATION_ID) or ""
    mac = read_mac(spelled)
    arrival = Arrival(
        Medium.ASKED,
        mac if mac is not None else _NOBODY,
        device,
        ssid=_ssid(packet),
        spelled=spelled,
        session_id=packet.opaque(Kind.ACCT_SESSION_ID),
        framed_ip=_address(packet),
    )
    if packet.first(Kind.EAP_MESSAGE) is not None:
        arrival.refusal = Reason.EAP
    elif mac is None:
        arrival.refusal = Reason.CONTRADICTORY
    elif packet.integer(Kind.SERVICE_TYPE) == ServiceType.AUTHORIZE_ONLY:
        arrival.medium = Medium.REAUTHORISED
    else:
        arrival.refusal = _fault_of_asking(packet, secret, mac)
    return arrival


def read_accounting(packet: Packet, device: AccessDeviceId) -> Heard:
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
        _ssid(packet),
        packet.opaque(Kind.ACCT_SESSION_ID) or "",
        packet.integer(Kind.ACCT_SESSION_TIME) or 0,
        packet.integer(Kind.ACCT_INPUT_OCTETS) or 0,
        packet.integer(Kind.ACCT_OUTPUT_OCTETS) or 0,
        packet.integer(Kind.ACCT_INPUT_GIGAWORDS),
        packet.integer(Kind.ACCT_OUTPUT_GIGAWORDS),
        _address(packet),
        None if cause is None else TERMINATE_CAUSES.get(cause, f"cause_{cause}"),
    )


def _fault_of_asking(packet: Packet, secret: Secret, mac: Mac) -> Reason | None:
    hidden, chap = packet.first(Kind.USER_PASSWORD), packet.first(Kind.CHAP_PASSWORD)
    if hidden is not None and chap is not None:
        return Reason.CONTRADICTORY
    if packet.integer(Kind.SERVICE_TYPE) == ServiceType.CALL_CHECK:
        return None
    name = packet.first(Kind.USER_NAME) or b""
    named = read_mac(name.decode("utf-8", "replace"))
    if named is None:
        return Reason.NO_WAY_IN  # a person; ways in by name and password are not built yet
    if named != mac:
        return Reason.CONTRADICTORY
    if hidden is not None:
        proves = secret.reveal(hidden, packet.authenticator) == name
    elif chap is not None:
        challenge = packet.first(Kind.CHAP_CHALLENGE) or packet.authenticator
        proves = chap_matches(chap, challenge, name)
    else:
        proves = False
    return None if proves else Reason.NO_WAY_IN


def _ssid(packet: Packet) -> bytes | None:
    called = packet.first(Kind.CALLED_STATION_ID)
    return None if called is None else _ssid_of(called)


@lru_cache(4096)
def _ssid_of(called: bytes) -> bytes | None:
    """Rulings 3.9: twelve hex digits in any spelling, one colon, and the rest is the SSID as octets."""
    digits = 0
    for at, octet in enumerate(called):
        if digits == 12:
            return called[at + 1 :] if octet == 0x3A and at + 1 < len(called) else None
        if octet in b"0123456789abcdefABCDEF":
            digits += 1
        elif octet not in b"-:. ":
            return None
    return None


def _address(packet: Packet) -> str | None:
    value = packet.first(Kind.FRAMED_IP_ADDRESS)
    return str(IPv4Address(value)) if value is not None and len(value) == 4 else None
