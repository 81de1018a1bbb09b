"""The client that moves devices: Disconnect- and CoA-Requests (RFC 5176) with the timing of RFC 5080."""

import asyncio
import os
import socket
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import structlog

from lauschen.acts.moving.errands import Errand, Saw, Seen
from lauschen.core.config.access_device import AccessDevice
from lauschen.core.config.dialect import Dialect, Move
from lauschen.core.decide.standing import Standing
from lauschen.core.decide.wanted import ACCEPTED, SILENT
from lauschen.core.ids import DialectId, Mac
from lauschen.core.words.ip import plain_ip
from lauschen.radius.listen.registry import Link, Registry
from lauschen.radius.wire import attributes
from lauschen.radius.wire.codec import LONGEST_PACKET, SHORTEST_PACKET, BadPacket, parse
from lauschen.radius.wire.numbers import Code, ErrorCause, Kind, ServiceType
from lauschen.radius.wire.signing import Secret
from lauschen.road.clock import Clock

FIRST_WAIT_S = 2.0
LONGEST_WAIT_S = 16.0
SENDS = 5
GIVE_UP_S = 30.0
LAST_WAIT_S = 2.0
STATE_GOOD_FOR_S = 60.0
GONE = "nak:503"
"""Session-Context-Not-Found (RFC 5176 section 3.5): there is no such session any more."""
UNSUPPORTED = ("nak:402", "nak:405")
"""Missing-Attribute and Unsupported-Service (RFC 5176 section 3.5), to a re-authorisation."""
RADSEC = Secret(b"radsec")
"""RFC 6614 section 2.3: the secret inside TLS."""
DRAINED = 64
"""Packets that are read in one go."""
ID_REST_S = 300.0
"""An id is not used again on its socket for so long."""

logger = structlog.get_logger()


class Reauthorisations:
    """States that we sent in a CoA-Request and wait to see again in the Access-Request that follows."""

    def __init__(self) -> None:
        self._open: dict[bytes, tuple[Mac, float]] = {}

    def issue(self, state: bytes, mac: Mac, now: float) -> None:
        for old in [s for s, (_, until) in self._open.items() if until <= now]:
            del self._open[old]
        self._open[state] = (mac, now + STATE_GOOD_FOR_S)

    def redeem(self, unverified_state: bytes | None, mac: Mac, now: float) -> bool:
        """True once, for the device that it was made for."""
        entry = self._open.get(unverified_state or b"")
        if entry is None or entry[0] != mac or entry[1] <= now:
            return False
        del self._open[unverified_state or b""]
        return True


_IDENTIFY = {
    "calling_station_id": Kind.CALLING_STATION_ID,
    "acct_session_id": Kind.ACCT_SESSION_ID,
    "nas_ip_address": Kind.NAS_IP_ADDRESS,
    "framed_ip_address": Kind.FRAMED_IP_ADDRESS,
}
"""What a dialect may add to identify a session; all of them are ANDed (RFC 5176 section 3)."""


def move_attributes(errand: Errand, how: Move, event_time: int, state: bytes, outcome: bytes) -> bytes:
    """What identifies the session, and what is to become of it (rulings 2.4 and 2.5)."""
    standing = errand.standing
    parts = [_identity(standing, errand.dialect)]
    parts.append(attributes.integer(Kind.EVENT_TIMESTAMP, event_time))
    if how is Move.REAUTHORISE:
        # RFC 5176 section 3: Authorize-Only needs a State, which comes back in the Access-Request.
        parts.append(attributes.integer(Kind.SERVICE_TYPE, ServiceType.AUTHORIZE_ONLY))
        parts.append(attributes.octets(Kind.STATE, state))
    elif how is Move.ATTRIBUTES:
        parts.append(outcome)
    return b"".join(parts)


def _identity(standing: Standing, dialect: Dialect) -> bytes:
    known = {
        "calling_station_id": standing.spelled,
        "acct_session_id": standing.session_id or "",
        "nas_ip_address": standing.source,
        "framed_ip_address": standing.framed_ip or "",
    }
    first = "acct_session_id" if standing.session_id else "calling_station_id"
    names = dict.fromkeys((first, *(name for name in dialect.identify if known[name])))
    return b"".join(_identifier(name, known[name]) for name in names)


def _identifier(name: str, value: str) -> bytes:
    if not name.endswith("address"):
        return attributes.opaque(_IDENTIFY[name], value)
    if ":" not in value:
        return attributes.address(_IDENTIFY[name], value)
    return attributes.address6(Kind.NAS_IPV6_ADDRESS, value)


def waits(jitter: Callable[[], float]) -> list[float]:
    """Seconds to wait after each send: doubled, +-10 %, at most 16 s, 30 s in all (RFC 5080 section 2.2.1).

    Something of the 30 s is kept for the answer to the last send.
    """
    planned: list[float] = []
    for number in range(SENDS - 1):
        wait = FIRST_WAIT_S * 2**number * (0.9 + 0.2 * jitter())
        planned.append(min(wait, LONGEST_WAIT_S, GIVE_UP_S - LAST_WAIT_S - sum(planned)))
    return [*planned, GIVE_UP_S - sum(planned)]


@dataclass(slots=True)
class _Asked:
    """A request that waits for its answer."""

    destination: tuple[str, int]
    secret: Secret
    authenticator: bytes
    answer: "asyncio.Future[str]"


class _Port:
    """One source port with its 256 ids."""

    def __init__(self, family: socket.AddressFamily) -> None:
        self.socket = socket.socket(family, socket.SOCK_DGRAM)
        self.socket.setblocking(False)
        # Answers come to wherever requests leave from.
        self.socket.bind(("::" if family is socket.AF_INET6 else "0.0.0.0", 0))  # noqa: S104
        self.asked: dict[int, _Asked] = {}
        self._rests_until = [0.0] * 256
        self._next = 0

    def take_id(self, now: float) -> int | None:
        for offset in range(256):
            candidate = (self._next + offset) & 0xFF
            if candidate not in self.asked and self._rests_until[candidate] <= now:
                self._next = (candidate + 1) & 0xFF
                self._rests_until[candidate] = now + ID_REST_S
                return candidate
        return None


class MoveClient:
    """Sends a request with identical octets until it is answered or given up."""

    def __init__(
        self,
        clock: Clock,
        registry: Registry,
        reauthorisations: Reauthorisations,
        jitter: Callable[[], float],
    ) -> None:
        self._clock = clock
        self._registry = registry
        self._reauthorisations = reauthorisations
        self._jitter = jitter
        self._ports: list[_Port] = []
        self.dropped = registry.change_drops
        self.without_reauthorise: set[DialectId] = set()
        """Dialects whose devices said that they do not support it; Disconnect is used instead."""

    def takes(self, errand: Errand) -> bool:
        return errand.how is not Move.CALLED

    async def bring_about(self, errand: Errand) -> Saw:
        """The answer is `accepted`, `nak:<Error-Cause>` or `silent`.

        Only new attributes are seen to hold by it, where the dialect says so; a Disconnect is not yet an end.
        """
        how, dialect = errand.how, errand.dialect
        if how is Move.REAUTHORISE and dialect.id in self.without_reauthorise:
            how = Move.DISCONNECT
        answer = await self._move(errand, how)
        if how is Move.REAUTHORISE and answer in UNSUPPORTED:
            self.without_reauthorise.add(dialect.id)
            how = Move.DISCONNECT
            answer = await self._move(errand, how)
        if answer == ACCEPTED and how is Move.ATTRIBUTES and dialect.ack_confirms:
            return Saw(answer, Seen.HOLDS, how)
        return Saw(answer, Seen.GONE if answer == GONE else Seen.NOTHING, how)

    async def _move(self, errand: Errand, how: Move) -> str:
        state = os.urandom(16)
        if how is Move.REAUTHORISE:
            self._reauthorisations.issue(state, errand.standing.mac, self._clock.monotonic())
        link = self._registry.links.get(errand.device.id)
        if link is not None:
            return await self._move_by_link(errand, how, link, state)
        destination = destination_of(errand.device, errand.standing)
        secret = self._registry.secret_in_use(errand.device, destination[0])
        port, packet_id = self._take_id(socket.AF_INET6 if ":" in destination[0] else socket.AF_INET)
        octets = self._request(errand, how, secret, packet_id, state)
        future: asyncio.Future[str] = asyncio.get_running_loop().create_future()
        port.asked[packet_id] = _Asked(destination, secret, octets[4:20], future)
        peer = self._registry.peers[errand.device.id]
        answer = SILENT
        try:
            for wait in waits(self._jitter):
                _send(port.socket, octets, destination)
                sent = self._clock.monotonic()
                heard = await self._wait(future, wait)
                if heard is not None:
                    answer, peer.change_trip_s = heard, self._clock.monotonic() - sent
                    break
        finally:
            del port.asked[packet_id]
        peer.changes[answer] += 1
        return answer

    async def _move_by_link(self, errand: Errand, how: Move, link: Link, state: bytes) -> str:
        """Over the device's own TLS connection."""
        sent = self._clock.monotonic()
        reply = await link.ask(
            lambda packet_id: self._request(errand, how, RADSEC, packet_id, state), GIVE_UP_S
        )
        peer = self._registry.peers[errand.device.id]
        answer = SILENT
        if reply is not None:
            answer = _meaning(reply.code, reply.first(Kind.ERROR_CAUSE))
            peer.change_trip_s = self._clock.monotonic() - sent
        peer.changes[answer] += 1
        return answer

    def _request(self, errand: Errand, how: Move, secret: Secret, packet_id: int, state: bytes) -> bytes:
        now = self._clock.now()
        outcome = b""
        if how is Move.ATTRIBUTES:
            outcome = self._registry.answers.change(
                errand.device, errand.arrival, errand.decision, errand.admission, errand.began, now
            )
        code = Code.DISCONNECT_REQUEST if how is Move.DISCONNECT else Code.COA_REQUEST
        body = move_attributes(errand, how, int(now), state, outcome)
        return secret.change_request(code, packet_id, body, signed=errand.dialect.signs_changes)

    def close(self) -> None:
        for port in self._ports:
            asyncio.get_running_loop().remove_reader(port.socket.fileno())
            port.socket.close()
        self._ports.clear()

    async def _wait(self, future: "asyncio.Future[str]", seconds: float) -> str | None:
        over = asyncio.ensure_future(self._clock.sleep(seconds))
        try:
            await asyncio.wait((future, over), return_when=asyncio.FIRST_COMPLETED)
        finally:
            over.cancel()
        return future.result() if future.done() else None

    def _take_id(self, family: socket.AddressFamily) -> tuple[_Port, int]:
        for port in self._ports:
            if port.socket.family is not family:
                continue
            packet_id = port.take_id(self._clock.monotonic())
            if packet_id is not None:
                return port, packet_id
        port = _Port(family)
        self._ports.append(port)
        asyncio.get_running_loop().add_reader(port.socket.fileno(), self._readable, port)
        packet_id = port.take_id(self._clock.monotonic())
        assert packet_id is not None
        return port, packet_id

    def _readable(self, port: _Port) -> None:
        """A bounded part of what waits: a flood of strangers' packets must not hold up the rest of the loop."""
        for _ in range(DRAINED):
            try:
                unverified_octets, source = port.socket.recvfrom(LONGEST_PACKET + 1)
            except BlockingIOError:
                return
            except OSError:  # the destination refused an earlier send (ICMP): waiting decides
                continue
            reason = self._take(port, unverified_octets, source)
            if reason is not None:
                self.dropped[reason] += 1

    def _take(self, port: _Port, unverified_octets: bytes, source: tuple[Any, ...]) -> str | None:
        """Why a packet is no answer; whom it comes from is looked at before anything is parsed."""
        asked = port.asked.get(unverified_octets[1]) if len(unverified_octets) >= SHORTEST_PACKET else None
        if asked is None or (plain_ip(source[0]), source[1]) != asked.destination:
            return "stranger"
        if asked.answer.done():
            return "late"
        try:
            packet = parse(unverified_octets)
        except BadPacket as exc:
            return exc.reason
        if not asked.secret.is_reply_to(packet, asked.authenticator):
            return "wrong_secret"
        asked.answer.set_result(_meaning(packet.code, packet.first(Kind.ERROR_CAUSE)))
        return None


def destination_of(device: AccessDevice, standing: Standing) -> tuple[str, int]:
    """Where changes go (rulings 2.4): never something read from a packet, but where a verified one came from."""
    address = device.coa_address or (standing.source if device.is_range else device.address)
    return address, device.coa_port


def _meaning(code: int, error_cause: bytes | None) -> str:
    if code in (Code.COA_ACK, Code.DISCONNECT_ACK):
        return ACCEPTED
    cause = int.from_bytes(error_cause or b"", "big")
    # RFC 5176 section 3.5: 507 says that the Access-Request is on its way, which is what was asked for.
    return ACCEPTED if cause == ErrorCause.REQUEST_INITIATED else f"nak:{cause}"


def _send(sock: socket.socket, octets: bytes, destination: tuple[str, int]) -> None:
    try:
        sock.sendto(octets, destination)
    except OSError as exc:
        logger.info("send", destination=destination[0], error=str(exc))
