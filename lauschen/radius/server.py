"""The authentication and accounting servers: sockets, duplicates, verification, and jobs for the road."""

import asyncio
import socket
from collections import Counter, deque
from dataclasses import dataclass

import structlog

from lauschen.core.decision import Answer
from lauschen.core.house import AccessDevice, House
from lauschen.core.limits import INTERIM_S
from lauschen.core.picture import Arrival, Medium, Reason
from lauschen.radius import attributes
from lauschen.radius.answers import Answers
from lauschen.radius.codec import LONGEST_PACKET, BadPacket, Packet, parse
from lauschen.radius.duplicates import Duplicates, Slot
from lauschen.radius.dynauth import Reauthorisations
from lauschen.radius.hearing import read_access_request, read_accounting
from lauschen.radius.numbers import Code, Kind
from lauschen.radius.signing import Secret
from lauschen.road.accounting import Heard, hear_accounting, next_interval
from lauschen.road.arrivals import answer_arrival
from lauschen.road.moves import Wake
from lauschen.road.road import Road
from lauschen.road.tx import Tx

DRAINED = 64
ROUNDS = 8
WAITING_PER_DEVICE = 64
RECEIVE_BUFFER = 4 << 20
MOST_KNOCKS = 256
MOST_PROXY_STATE = 3000

Source = tuple[str, int]
logger = structlog.get_logger()


@dataclass(slots=True)
class Knock:
    """Packets from an address that is no access device."""

    first: float
    last: float
    packets: int


class Registry:
    """Access devices with their secrets and prepared answers, made anew when the configuration changed;
    and what was dropped, by reason.
    """

    def __init__(self, house: House, token_key: bytes) -> None:
        self._token_key = token_key
        self.drops: Counter[tuple[str, str]] = Counter()
        """(address, reason) -> packets."""
        self.knocks: dict[str, Knock] = {}
        self.load(house)

    def load(self, house: House) -> None:
        self.house = house
        self.secrets = {d.address: Secret(d.secret) for d in house.access_devices.values()}
        self.answers = Answers(house, self._token_key)

    def knock(self, address: str, now: float) -> None:
        """Never answered (rulings 3.14); at most 256 sources in memory."""
        known = self.knocks.pop(address, None)
        if known is None and len(self.knocks) >= MOST_KNOCKS:
            self.knocks.pop(next(iter(self.knocks)))
        self.knocks[address] = Knock(known.first if known else now, now, known.packets + 1 if known else 1)
        self.drops[address, "unknown_source"] += 1


class RadiusServer:
    """One listening socket. Subclasses say how a verified packet becomes a job."""

    def __init__(self, road: Road, registry: Registry) -> None:
        self.road = road
        self.registry = registry
        self._duplicates = Duplicates()
        self._waiting: dict[str, deque[tuple[bytes, Source]]] = {}
        self._socket: socket.socket | None = None
        road.when_room(self._serve_in_turn)

    def open(self, host: str, port: int) -> int:
        """Binds and listens; returns the port, which the system chose if 0 was asked for."""
        sock = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
        sock.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, RECEIVE_BUFFER)
        sock.setblocking(False)
        sock.bind((host, port))
        self._socket = sock
        asyncio.get_running_loop().add_reader(sock.fileno(), self._readable)
        return int(sock.getsockname()[1])

    def close(self) -> None:
        if self._socket is not None:
            asyncio.get_running_loop().remove_reader(self._socket.fileno())
            self._socket.close()
            self._socket = None

    def _readable(self) -> None:
        """Empties the socket into one line per access device, so that a flood fills its own line only."""
        for _ in range(ROUNDS):
            is_empty = self._drain()
            self._serve_in_turn()
            if is_empty:
                return

    def _drain(self) -> bool:
        """Takes up to 64 datagrams; True when there were no more."""
        sock = self._socket
        if sock is None:
            return True
        for _ in range(DRAINED):
            try:
                unverified_octets, source = sock.recvfrom(LONGEST_PACKET + 1)
            except BlockingIOError:
                return True
            except OSError as exc:  # an ICMP error of an earlier reply
                logger.info("receive", error=str(exc))
                continue
            if source[0] not in self.registry.secrets:
                self.registry.knock(source[0], self.road.clock.now())
                continue
            line = self._waiting.setdefault(source[0], deque())
            if len(line) >= WAITING_PER_DEVICE:
                self.registry.drops[source[0], "flooded"] += 1
                continue
            line.append((unverified_octets, source))
        return False

    def _serve_in_turn(self) -> None:
        """One packet of each access device after the other, while the road has room."""
        while self._waiting and self.road.has_room:
            for address in list(self._waiting):
                line = self._waiting[address]
                self._take(*line.popleft())
                if not line:
                    del self._waiting[address]

    def _take(self, unverified_octets: bytes, source: Source) -> None:
        try:
            if len(unverified_octets) >= 20:
                slot = self._duplicates.find(source, unverified_octets, self.road.clock.monotonic())
                if slot is not None:
                    self.registry.drops[source[0], "repeated"] += 1
                    if slot.reply is not None:
                        self._send(slot.reply, source)
                    return
            packet = parse(unverified_octets)
            device = self.registry.house.device_by_address[source[0]]
            self._hear(packet, device, self.registry.secrets[source[0]], source)
        except BadPacket as exc:
            self.registry.drops[source[0], exc.reason] += 1

    def _hear(self, packet: Packet, device: AccessDevice, secret: Secret, source: Source) -> None:
        raise NotImplementedError

    def _status(self, packet: Packet, secret: Secret, source: Source, code: Code) -> None:
        """Status-Server (RFC 5997): not stored, and not answered while nothing can be committed."""
        if not packet.signed_at or not secret.is_signed(packet):
            raise BadPacket("wrong_secret" if packet.signed_at else "unsigned")
        if self.road.trouble is None:
            self._send(secret.reply(code, packet, b""), source)

    def _send(self, octets: bytes, source: Source) -> None:
        if self._socket is None:
            return
        try:
            self._socket.sendto(octets, source)
        except OSError as exc:
            logger.info("send", error=str(exc))

    def answered(self, job: "PacketJob") -> None:
        """After COMMIT: the reply leaves, and is kept for repetitions."""
        job.slot.reply = job.reply
        job.slot.replied_at = self.road.clock.monotonic()
        self._send(job.reply, job.source)

    def not_stored(self, job: "PacketJob") -> None:
        self._duplicates.forget(job.source, job.packet.octets)


class PacketJob:
    """A verified request on its way along the road."""

    is_packet = True

    __slots__ = ("device", "packet", "reply", "secret", "server", "slot", "source")

    def __init__(
        self,
        server: RadiusServer,
        packet: Packet,
        device: AccessDevice,
        secret: Secret,
        source: Source,
        slot: Slot,
    ) -> None:
        self.server = server
        self.packet = packet
        self.device = device
        self.secret = secret
        self.source = source
        self.slot = slot
        self.reply = b""

    def run(self, tx: Tx) -> None:
        raise NotImplementedError

    def done(self) -> None:
        self.server.answered(self)

    def failed(self) -> None:
        self.server.not_stored(self)


class AuthenticationServer(RadiusServer):
    """RFC 2865: Access-Request and Status-Server."""

    def __init__(self, road: Road, registry: Registry, reauthorisations: Reauthorisations) -> None:
        super().__init__(road, registry)
        self._reauthorisations = reauthorisations

    def _hear(self, packet: Packet, device: AccessDevice, secret: Secret, source: Source) -> None:
        if packet.code == Code.STATUS_SERVER:
            self._status(packet, secret, source, Code.ACCESS_ACCEPT)
            return
        if packet.code != Code.ACCESS_REQUEST:
            raise BadPacket("unknown_code")
        if not packet.signed_at:
            raise BadPacket("unsigned")  # rulings 3.1
        if not secret.is_signed(packet):
            raise BadPacket("wrong_secret")
        if sum(len(value) + 2 for value in packet.all(Kind.PROXY_STATE)) > MOST_PROXY_STATE:
            raise BadPacket("proxy_state")  # it goes back whole, and the reply must fit
        arrival = read_access_request(packet, secret, device.id)
        if arrival.medium is Medium.REAUTHORISED:
            state = packet.first(Kind.STATE)
            if not self._reauthorisations.redeem(state, arrival.mac, self.road.clock.monotonic()):
                arrival.refusal = Reason.FOREIGN_STATE
        slot = self._duplicates.keep(source, packet.octets)
        self.road.put(AccessJob(self, packet, device, secret, source, slot, arrival))


class AccessJob(PacketJob):
    """An Access-Request."""

    __slots__ = ("arrival",)

    def __init__(
        self,
        server: RadiusServer,
        packet: Packet,
        device: AccessDevice,
        secret: Secret,
        source: Source,
        slot: Slot,
        arrival: Arrival,
    ) -> None:
        super().__init__(server, packet, device, secret, source, slot)
        self.arrival = arrival

    def run(self, tx: Tx) -> None:
        decision, picture = answer_arrival(tx, self.arrival)
        # RFC 2865 section 5.33: Proxy-State goes back unchanged and in order.
        proxies = b"".join(attributes.octets(Kind.PROXY_STATE, v) for v in self.packet.all(Kind.PROXY_STATE))
        if decision.answer is Answer.REFUSE:
            body = self._eap_failure() + proxies
            self.reply = self.secret.reply(Code.ACCESS_REJECT, self.packet, body)
            return
        interim_s = INTERIM_S
        if decision.answer is Answer.ADMIT and decision.left is not None and picture.standing is not None:
            interim_s = next_interval(tx, picture.standing, decision.left.octets)
        body = self.server.registry.answers.accept(
            self.device, self.arrival, decision, picture.admission, interim_s, tx.now
        )
        self.reply = self.secret.reply(Code.ACCESS_ACCEPT, self.packet, body + proxies)

    def _eap_failure(self) -> bytes:
        """RFC 3579 section 2.6.3 asks for one in the Reject of an EAP request."""
        message = self.packet.first(Kind.EAP_MESSAGE)
        if self.arrival.refusal is not Reason.EAP or not message:
            return b""
        identifier = message[1] if len(message) > 1 else 0
        return attributes.octets(Kind.EAP_MESSAGE, bytes((4, identifier, 0, 4)))


class AccountingServer(RadiusServer):
    """RFC 2866: Accounting-Request and Status-Server; answered only once stored."""

    def __init__(self, road: Road, registry: Registry, wake: Wake) -> None:
        super().__init__(road, registry)
        self.wake = wake

    def _hear(self, packet: Packet, device: AccessDevice, secret: Secret, source: Source) -> None:
        if packet.code == Code.STATUS_SERVER:
            self._status(packet, secret, source, Code.ACCOUNTING_RESPONSE)
            return
        if packet.code != Code.ACCOUNTING_REQUEST:
            raise BadPacket("unknown_code")
        if not secret.is_accounting(packet):
            raise BadPacket("wrong_secret")
        heard = read_accounting(packet, device.id)
        slot = self._duplicates.keep(source, packet.octets)
        self.road.put(ReportJob(self, packet, device, secret, source, slot, heard, self.wake))


class ReportJob(PacketJob):
    """An Accounting-Request."""

    __slots__ = ("heard", "wake")

    def __init__(
        self,
        server: RadiusServer,
        packet: Packet,
        device: AccessDevice,
        secret: Secret,
        source: Source,
        slot: Slot,
        heard: Heard,
        wake: Wake,
    ) -> None:
        super().__init__(server, packet, device, secret, source, slot)
        self.heard = heard
        self.wake = wake

    def run(self, tx: Tx) -> None:
        hear_accounting(tx, self.heard, self.wake)
        # Rulings 3.1: no Message-Authenticator in an Accounting-Response.
        self.reply = self.secret.reply(Code.ACCOUNTING_RESPONSE, self.packet, b"", signed=False)
