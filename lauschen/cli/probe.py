"""`lauschen probe`: sends one request as an access device would, and says the answer in words."""

import os
import socket
from dataclasses import dataclass, field
from enum import StrEnum
from ipaddress import IPv4Address

from lauschen.core.errors import Invalid
from lauschen.core.words.mac import read_mac, spell_mac
from lauschen.radius.wire import attributes
from lauschen.radius.wire.codec import BadPacket, Packet, parse
from lauschen.radius.wire.describing import Line, lines
from lauschen.radius.wire.dictionary import ATTRIBUTES, CODES, NUMBERS, Form
from lauschen.radius.wire.numbers import Code, Kind, ServiceType, StatusType
from lauschen.radius.wire.signing import Secret, chap

WIRELESS_802_11 = 19


class Ask(StrEnum):
    """What the probe plays."""

    MAC = "mac"
    """A device joins: User-Name and User-Password are its MAC."""
    CALL_CHECK = "call-check"
    PERSON = "person"
    START = "start"
    INTERIM = "interim"
    STOP = "stop"
    ON = "on"
    OFF = "off"
    STATUS = "status"


_REPORTS = {
    Ask.START: StatusType.START,
    Ask.INTERIM: StatusType.INTERIM_UPDATE,
    Ask.STOP: StatusType.STOP,
    Ask.ON: StatusType.ON,
    Ask.OFF: StatusType.OFF,
}


@dataclass(frozen=True, slots=True)
class Probe:
    """One request."""

    ask: Ask
    secret: str
    mac: str = "02-00-00-00-00-01"
    ssid: str = ""
    bssid: str = "02-00-00-00-00-00"
    nas: str = "lauschen-probe"
    session: str = "probe"
    name: str = ""
    password: str = ""
    by_chap: bool = False
    signed: bool = True
    extra: list[str] = field(default_factory=list)
    """Further attributes, as `Name=value`."""


def build(probe: Probe) -> tuple[bytes, bytes]:
    """The request as octets, and the authenticator that its answer is checked against."""
    secret, authenticator = Secret(probe.secret.encode()), os.urandom(16)
    if probe.ask in _REPORTS:
        octets = secret.accounting_request(1, _identity(probe) + _report(probe) + _extra(probe))
        return octets, octets[4:20]
    if probe.ask is Ask.STATUS:
        body = attributes.text(Kind.NAS_IDENTIFIER, probe.nas) + _extra(probe)
        return secret.access_request(1, authenticator, body, Code.STATUS_SERVER), authenticator
    body = _identity(probe) + _who(probe, secret, authenticator) + _extra(probe)
    if probe.signed:
        return secret.access_request(1, authenticator, body), authenticator
    return bytes((1, 1)) + (20 + len(body)).to_bytes(2, "big") + authenticator + body, authenticator


def exchange(
    octets: bytes, to: tuple[str, int], *, source: str | None = None, wait_s: float = 3.0
) -> bytes | None:
    """The answer, or None when nobody answered in time."""
    family = socket.AF_INET6 if ":" in to[0] else socket.AF_INET
    with socket.socket(family, socket.SOCK_DGRAM) as sock:
        if source is not None:
            sock.bind((source, 0))
        sock.settimeout(wait_s)
        sock.sendto(octets, to)
        try:
            return sock.recv(4097)
        except TimeoutError:
            return None


def say(packet: Packet) -> list[str]:
    """Every attribute on a line of its own."""

    def sentence(line: Line) -> str:
        return f"  {line.name}: {line.words}"

    return [CODES.get(packet.code, f"code {packet.code}"), *map(sentence, lines(packet))]


def judge(reply: bytes, probe: Probe, authenticator: bytes) -> tuple[Packet | None, str]:
    """The answer as a packet, and whether it was made with the same secret."""
    try:
        packet = parse(reply)
    except BadPacket as exc:
        return None, f"the answer is no RADIUS packet: {exc.reason}"
    if not Secret(probe.secret.encode()).is_reply_to(packet, authenticator):
        return packet, "the answer is signed with another secret"
    return packet, "the answer is genuine"


def _identity(probe: Probe) -> bytes:
    parts = attributes.text(Kind.NAS_IDENTIFIER, probe.nas)
    parts += attributes.integer(Kind.NAS_PORT_TYPE, WIRELESS_802_11)
    if probe.ask in (Ask.ON, Ask.OFF):
        return parts
    parts += attributes.text(Kind.CALLING_STATION_ID, probe.mac)
    parts += attributes.text(Kind.ACCT_SESSION_ID, probe.session)
    called = f"{probe.bssid}:{probe.ssid}" if probe.ssid else probe.bssid
    return parts + attributes.text(Kind.CALLED_STATION_ID, called)


def _who(probe: Probe, secret: Secret, authenticator: bytes) -> bytes:
    if probe.ask is Ask.CALL_CHECK:
        return attributes.integer(Kind.SERVICE_TYPE, ServiceType.CALL_CHECK)
    name, password = probe.name, probe.password
    if probe.ask is Ask.MAC:
        mac = read_mac(probe.mac)
        if mac is None:
            raise Invalid("mac", field="mac", mend=f"{probe.mac} is no MAC address.")
        name = password = spell_mac(mac).replace("-", "").lower()
    named = attributes.text(Kind.USER_NAME, name)
    if probe.by_chap:
        return named + attributes.octets(Kind.CHAP_PASSWORD, chap(1, password, authenticator))
    return named + attributes.octets(Kind.USER_PASSWORD, secret.hide(password.encode(), authenticator))


def _report(probe: Probe) -> bytes:
    parts = attributes.integer(Kind.ACCT_STATUS_TYPE, _REPORTS[probe.ask])
    return parts + attributes.integer(Kind.ACCT_DELAY_TIME, 0)


def _extra(probe: Probe) -> bytes:
    return b"".join(_attribute(text) for text in probe.extra)


def _attribute(text: str) -> bytes:
    name, _, value = text.partition("=")
    number = NUMBERS.get(name.strip().lower())
    if number is None:
        raise Invalid("attribute", field="attribute", mend=f"There is no attribute {name}.")
    known = ATTRIBUTES[number]
    try:
        if known.form is Form.INTEGER:
            named = {word.lower(): n for n, word in known.values.items()}
            return attributes.integer(
                number, named.get(value.lower(), -1) if not value.isdigit() else int(value)
            )
        if known.form is Form.ADDRESS:
            return attributes.octets(number, IPv4Address(value).packed)
        if known.form is Form.ADDRESS6:
            return attributes.address6(number, value)
        if known.form in (Form.OCTETS, Form.VENDOR, Form.EXTENDED):
            return attributes.octets(number, bytes.fromhex(value))
        return attributes.text(number, value)
    except (ValueError, OverflowError) as exc:
        raise Invalid("attribute", field="attribute", mend=f"{name}: {value} does not fit ({exc}).") from exc
