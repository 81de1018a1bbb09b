"""From a parsed packet of an access device to a job for the road: verified, understood, or a BadPacket with a reason.

The same for UDP and for TLS.
"""

import asyncio
from dataclasses import dataclass, field
from typing import Any, Protocol

from lauschen.acts.arriving.admitting import who_is_in
from lauschen.acts.arriving.arrivals import answer_arrival
from lauschen.acts.staying.charging import next_interval
from lauschen.acts.staying.reports import Report, take_report
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.steps import is_served, network_of
from lauschen.core.errors import Unavailable
from lauschen.core.limits.left import INTERIM_S
from lauschen.proofs.prove import Proofs
from lauschen.radius.answer.dynauth import Reauthorisations
from lauschen.radius.answer.refusals import refusal
from lauschen.radius.listen.handshakes import hear_handshake
from lauschen.radius.listen.reading import read_access_request, read_bssid, read_report
from lauschen.radius.listen.registry import Peer, Registry, verify_report, verify_request
from lauschen.radius.wire import attributes
from lauschen.radius.wire.codec import LONGEST_PACKET, BadPacket, Packet
from lauschen.radius.wire.numbers import Code, Kind, ServiceType
from lauschen.radius.wire.signing import Secret
from lauschen.road.road import Road
from lauschen.road.tx import Tx

MOST_PROXY_STATE = 3000
MOST_PROVING = 256
"""Requests that wait for a proof at once; an access device asks again for others."""
# Looked up once: a member of an enumeration costs a call, for each packet (rulings 1.3).
_PROXY_STATE, _EVENT_TIMESTAMP = int(Kind.PROXY_STATE), int(Kind.EVENT_TIMESTAMP)
_ACCESS_REQUEST, _ACCOUNTING_REQUEST = int(Code.ACCESS_REQUEST), int(Code.ACCOUNTING_REQUEST)
_ACCESS_ACCEPT, _ACCOUNTING_RESPONSE = int(Code.ACCESS_ACCEPT), int(Code.ACCOUNTING_RESPONSE)
_ADMIT, _REFUSE = Answer.ADMIT, Answer.REFUSE
_FIRST_SALT, _SALTS = 0x8000, 0x8000
LONGEST_BODY = LONGEST_PACKET - 38
"""Octets of attributes in a signed reply: all but the header and the Message-Authenticator."""


class Front(Protocol):
    """Where a packet came from and its answer goes."""

    def answered(self, job: "PacketJob") -> None:
        """After COMMIT."""

    def not_stored(self, job: "PacketJob") -> None:
        """After a rollback: the same packet, when it comes again, is heard anew."""

    def now(self) -> float:
        """UTC epoch seconds."""


@dataclass(slots=True)
class Intake:
    """What every listener needs to make jobs of packets."""

    road: Road
    registry: Registry
    reauthorisations: Reauthorisations
    proofs: Proofs = field(default_factory=Proofs)
    _proving: set["asyncio.Task[None]"] = field(default_factory=set)

    def put(self, job: "PacketJob") -> None:
        """On the road; what is offered is proved first, if that must be awaited. Its slot is kept meanwhile."""
        # Nothing waits in most houses, and this runs for each packet: that is asked first.
        if type(job) is not AccessJob or not self._is_to_prove(job.arrival):
            self.road.put(job)
        elif len(self._proving) >= MOST_PROVING:
            job.failed(Unavailable("proof", meanwhile="The access device asks again."))
        else:
            assert isinstance(job, AccessJob)
            task = asyncio.get_running_loop().create_task(self._prove(job))
            self._proving.add(task)
            task.add_done_callback(self._proving.discard)

    def _is_to_prove(self, arrival: Arrival) -> bool:
        """Whether what it offers must be proved first: never for a network that its access device does not serve."""
        if arrival.offer is None:
            return False
        network = network_of(self.road.config, arrival)
        return (
            network is not None
            and is_served(arrival, self.road.config, network)
            and self.proofs.waits(arrival.offer)
        )

    def close(self) -> None:
        """Nobody waits for proofs any more."""
        for task in self._proving:
            task.cancel()

    async def _prove(self, job: "AccessJob") -> None:
        assert job.arrival.offer is not None
        try:
            job.arrival.refusal = await self.proofs.prove(job.arrival.offer)
        except Exception as exc:
            if not isinstance(exc, Unavailable):
                self.road.faults.note("proof", exc)
            job.failed(exc)
        else:
            self.road.put(job)

    def take(self, front: Front, packet: Packet, peer: Peer, address: str) -> "PacketJob":
        """A job for the road; BadPacket for what no access device may send."""
        if packet.code == _ACCESS_REQUEST:
            return self._access(front, packet, peer, address)
        if packet.code == _ACCOUNTING_REQUEST:
            return self._report(front, packet, peer, address)
        raise BadPacket("unknown_code")

    def status(self, packet: Packet, peer: Peer, address: str, code: Code) -> bytes | None:
        """Status-Server (RFC 5997): not stored, and not answered while nothing can be committed."""
        if not packet.signed_at:
            raise BadPacket("unsigned")
        secret = verify_request(peer, packet, address, self.road.clock.now())
        return secret.reply(code, packet, b"") if self.road.trouble is None else None

    def _access(self, front: Front, packet: Packet, peer: Peer, address: str) -> "AccessJob":
        if not packet.signed_at:
            _check_unsigned(packet)
        now = self.road.clock.now()
        secret = verify_request(peer, packet, address, now)
        stamp = packet.firsts.get(_EVENT_TIMESTAMP)
        if stamp is not None:
            _note_clock(peer, address, stamp, now)
        if packet.signed_at and peer.hears_unsigned:
            peer.hears_unsigned = False
            self.registry.now_signed.add(peer.device.id)
        if _PROXY_STATE in packet.firsts and _proxy_octets(packet) > MOST_PROXY_STATE:
            raise BadPacket("proxy_state")  # it goes back whole, and the reply must fit
        arrival = read_access_request(packet, secret, peer.device.id, address, peer.shared_password)
        arrival.is_signed = bool(packet.signed_at)
        if peer.handshake is not None and arrival.medium is Medium.ASKED and arrival.refusal is None:
            hear_handshake(arrival, packet, peer.handshake, read_bssid(packet))
        if arrival.medium is Medium.REAUTHORISED:
            state = packet.first(Kind.STATE)
            if not self.reauthorisations.redeem(state, arrival.mac, self.road.clock.monotonic()):
                arrival.refusal = Reason.FOREIGN_STATE
        return AccessJob(front, packet, peer, secret, address, self.registry, arrival)

    def _report(self, front: Front, packet: Packet, peer: Peer, address: str) -> "ReportJob":
        now = self.road.clock.now()
        secret = verify_report(peer, packet, address, now)
        report = read_report(packet, peer.device.id, address)
        stamp = packet.firsts.get(_EVENT_TIMESTAMP)
        if stamp is not None:
            _note_clock(peer, address, stamp, now - report.delay)
        return ReportJob(front, packet, peer, secret, address, self.registry, report)


def _note_clock(peer: Peer, address: str, stamp: bytes, event_at: float) -> None:
    """Shown and no more: the time that counts is ours (rulings 4.2)."""
    if len(stamp) == 4:
        peer.source(address).clock_error_s = int.from_bytes(stamp, "big") - event_at


def _proxy_octets(packet: Packet) -> int:
    return sum(len(value) + 2 for value in packet.all(Kind.PROXY_STATE))


def _check_unsigned(packet: Packet) -> None:
    """Dropped whatever the policy: with EAP, Authorize-Only or Proxy-State (rulings 3.1 and 3.2)."""
    if packet.first(Kind.EAP_MESSAGE) is not None or packet.first(Kind.PROXY_STATE) is not None:
        raise BadPacket("unsigned")
    if packet.integer(Kind.SERVICE_TYPE) == ServiceType.AUTHORIZE_ONLY:
        raise BadPacket("unsigned")


class PacketJob:
    """A verified request on its way along the road."""

    is_packet = True

    __slots__ = ("address", "context", "front", "packet", "peer", "registry", "reply", "secret")

    def __init__(
        self, front: Front, packet: Packet, peer: Peer, secret: Secret, address: str, registry: Registry
    ) -> None:
        self.registry = registry
        self.front = front
        self.packet = packet
        self.peer = peer
        self.secret = secret
        self.address = address
        self.reply = b""
        self.context: Any = None
        """What the front wants back with the answer."""

    def run(self, tx: Tx) -> None:
        raise NotImplementedError

    def done(self) -> None:
        self.front.answered(self)

    def failed(self, error: Exception) -> bool:
        self.front.not_stored(self)
        if not isinstance(error, BadPacket):
            return False
        # It was understood, but nothing that could be sent would answer it.
        self.registry.drop(self.address, error.reason, self.packet.octets, self.front.now())
        return True

    def proxies(self) -> bytes:
        """RFC 2865 section 5.33, RFC 2866 section 5.12: Proxy-State goes back unchanged and in order."""
        if _PROXY_STATE not in self.packet.firsts:
            return b""
        found = self.packet.all(Kind.PROXY_STATE)
        return b"".join(attributes.octets(Kind.PROXY_STATE, value) for value in found)


class AccessJob(PacketJob):
    """An Access-Request."""

    __slots__ = ("arrival",)

    def __init__(
        self,
        front: Front,
        packet: Packet,
        peer: Peer,
        secret: Secret,
        address: str,
        registry: Registry,
        arrival: Arrival,
    ) -> None:
        super().__init__(front, packet, peer, secret, address, registry)
        self.arrival = arrival

    def run(self, tx: Tx) -> None:
        decision, picture = answer_arrival(tx, self.arrival)
        proxies = self.proxies()
        if decision.answer is _REFUSE:
            # A MAC request has nobody to read it.
            shown = refusal(decision.reason) if self.arrival.medium in (Medium.PERSON, Medium.POSTED) else b""
            body = self._eap_failure() + shown + proxies
            self.reply = self.secret.reply(Code.ACCESS_REJECT, self.packet, body)
            return
        interim_s = INTERIM_S
        if decision.answer is _ADMIT and decision.left is not None and picture.standing is not None:
            interim_s = next_interval(tx, picture.standing, decision.left.octets)
        body = self.registry.answers.accept(
            self.peer.device,
            self.arrival,
            decision,
            picture.admission,
            interim_s,
            tx.now,
            lambda: who_is_in(tx, self.arrival.mac),
        )
        if picture.keys:
            body += self._hidden(tx, picture.keys)
        if len(body) + len(proxies) > LONGEST_BODY:
            raise BadPacket("reply_too_long")  # filter rules and what a proxy added; nothing of it is kept
        self.reply = self.secret.reply(_ACCESS_ACCEPT, self.packet, body + proxies)

    def _hidden(self, tx: Tx, texts: tuple[str, ...]) -> bytes:
        """A Tunnel-Password for each private passphrase (RFC 2868 section 3.5), every one under a salt of its own."""
        hidden, first = b"", tx.chance.below(_SALTS)
        for number, text in enumerate(texts):
            salt = (_FIRST_SALT + (first + number) % _SALTS).to_bytes(2, "big")
            value = self.secret.salt_hide(text.encode(), self.packet.authenticator, salt)
            hidden += attributes.octets(Kind.TUNNEL_PASSWORD, b"\0" + value)
        return hidden

    def _eap_failure(self) -> bytes:
        """RFC 3579 section 2.6.3 asks for one in the Reject of an EAP request."""
        message = self.packet.first(Kind.EAP_MESSAGE)
        if self.arrival.refusal is not Reason.EAP or not message:
            return b""
        identifier = message[1] if len(message) > 1 else 0
        return attributes.octets(Kind.EAP_MESSAGE, bytes((4, identifier, 0, 4)))


class ReportJob(PacketJob):
    """An Accounting-Request."""

    __slots__ = ("report",)

    def __init__(
        self,
        front: Front,
        packet: Packet,
        peer: Peer,
        secret: Secret,
        address: str,
        registry: Registry,
        report: Report,
    ) -> None:
        super().__init__(front, packet, peer, secret, address, registry)
        self.report = report

    def run(self, tx: Tx) -> None:
        take_report(tx, self.report)
        # Rulings 3.1: no Message-Authenticator in an Accounting-Response.
        self.reply = self.secret.reply(_ACCOUNTING_RESPONSE, self.packet, self.proxies(), signed=False)
