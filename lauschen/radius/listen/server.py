"""The authentication and accounting sockets: drained in turns, duplicates recognised, replies sent after COMMIT."""

import asyncio
import socket
import time
from collections import deque
from collections.abc import Sequence

import structlog

from lauschen.core.words.ip import in_url, plain_ip
from lauschen.radius.listen.duplicates import Address, Duplicates
from lauschen.radius.listen.floodgate import FloodGate
from lauschen.radius.listen.intake import Intake, PacketJob
from lauschen.radius.wire.codec import LONGEST_PACKET, BadPacket, parse
from lauschen.radius.wire.numbers import Code

DRAINED = 64
DRAINED_S = 0.002
"""So long the socket is emptied at once: what a flood leaves in it would push out what others send."""
WAITING_PER_DEVICE = 64
MOST_WAITING = 4096
"""In all: a range has many addresses, and anybody can send under each of them."""
RECEIVE_BUFFER = 4 << 20
FLOOD_SHARE = 8
"""Packets of flooding devices in one group."""

_NOBODY: deque[tuple[bytes, Address]] = deque()
logger = structlog.get_logger()


class UdpServer:
    """One listening socket for one code of requests (RFC 2865, RFC 2866), and Status-Server (RFC 5997)."""

    def __init__(self, intake: Intake, *, hears: Code, status_reply: Code) -> None:
        self.intake = intake
        self.registry = intake.registry
        self.road = intake.road
        self._hears = hears
        self._status_reply = status_reply
        self._name = "authentication" if hears == Code.ACCESS_REQUEST else "accounting"
        self._duplicates = Duplicates()
        self._waiting: dict[str, deque[tuple[bytes, Address]]] = {}
        self._waits = 0
        """Packets in all lines together."""
        self._flooding: set[str] = set()
        """Addresses whose line was full since it was last empty."""
        self._gates: dict[socket.socket, FloodGate] = {}
        self._by_length: dict[int, socket.socket] = {}
        """Which socket answers: addresses of IPv4 come as two values, of IPv6 as four."""
        self._heard_at = 0.0
        """When the socket was last emptied (monotonic): near enough for every packet of a group."""
        self.road.when_room(self._serve_in_turn)

    def open(self, hosts: Sequence[str], port: int) -> int:
        """Binds and listens on each address, one of each version of IP at most; returns the port, which the system
        chose if 0 was asked for."""
        for host in hosts:
            port = self._open(host, port)
        return port

    def _open(self, host: str, port: int) -> int:
        is_6 = ":" in host
        sock = socket.socket(socket.AF_INET6 if is_6 else socket.AF_INET, socket.SOCK_DGRAM)
        if is_6:
            sock.setsockopt(socket.IPPROTO_IPV6, socket.IPV6_V6ONLY, 1)
        sock.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, RECEIVE_BUFFER)
        sock.setblocking(False)
        try:
            sock.bind((host, port))
        except OSError as exc:
            sock.close()
            raise OSError(exc.errno, f"{exc.strerror} (UDP {in_url(host)}:{port})") from exc
        self._gates[sock] = FloodGate(sock)
        self._by_length[4 if is_6 else 2] = sock
        asyncio.get_running_loop().add_reader(sock.fileno(), self._readable, sock)
        return int(sock.getsockname()[1])

    def close(self) -> None:
        for sock in self._gates:
            asyncio.get_running_loop().remove_reader(sock.fileno())
            sock.close()
        self._gates.clear()
        self._by_length.clear()

    def answered(self, job: PacketJob) -> None:
        """After COMMIT: the reply leaves, and is kept for repetitions."""
        slot, source = job.context
        slot.reply = job.reply
        slot.replied_at = self._heard_at
        self._send(job.reply, source)
        recorder = self.registry.recorder
        if recorder.wants(source[0], self._heard_at):
            recorder.answered(source[0], job.packet, job.reply, self.road.clock.now(), self._heard_at)

    def not_stored(self, job: PacketJob) -> None:
        self._duplicates.forget(job.context[1], job.packet.octets)

    def now(self) -> float:
        return self.road.clock.now()

    def _readable(self, sock: socket.socket) -> None:
        """Empties the socket into one line per access device, so that a flood fills its own line only."""
        self._heard_at = self.road.clock.monotonic()
        gate = self._gates[sock]
        if gate.shut:
            for address, count in gate.look(self._heard_at).items():
                self.registry.flooded(address, count)
        until = time.perf_counter() + DRAINED_S
        is_empty = False
        while not is_empty and time.perf_counter() < until:
            is_empty = self._drain(sock, gate)
            if not self._flooding:
                self._serve_in_turn()
        # During a flood, whoever is behind it in the socket is found first.
        self._serve_in_turn()

    def _drain(self, sock: socket.socket, gate: FloodGate) -> bool:
        """Takes up to 64 datagrams; True when there were no more."""
        for _ in range(DRAINED):
            try:
                unverified_octets, source = sock.recvfrom(LONGEST_PACKET + 1)
            except BlockingIOError:
                return True
            except OSError as exc:  # an ICMP error of an earlier reply
                logger.info("receive", error=str(exc))
                continue
            if len(source) > 2:
                source = (plain_ip(source[0]), *source[1:])
            if self.registry.find(source[0]) is None:
                self.registry.note_unknown(source[0], unverified_octets, self._name, self.road.clock.now())
                gate.dropped(source[0], self._heard_at)
                continue
            line = self._waiting.get(source[0], _NOBODY)
            if len(line) >= WAITING_PER_DEVICE or self._waits >= MOST_WAITING:
                self.registry.flooded(source[0])
                self._flooding.add(source[0])
                gate.dropped(source[0], self._heard_at)
                continue
            if line is _NOBODY:
                line = self._waiting[source[0]] = deque()
            line.append((unverified_octets, source))
            self._waits += 1
        return False

    def _serve_in_turn(self) -> None:
        """One packet of each access device after the other, while the road has room.

        One that sends more than its line holds comes last: a few of its packets for each group of the others'.
        """
        of_floods = FLOOD_SHARE
        while self._waiting and self.road.has_room:
            is_served = False
            for address in list(self._waiting):
                if address in self._flooding:
                    if of_floods == 0:
                        continue
                    of_floods -= 1
                is_served = True
                line = self._waiting[address]
                self._waits -= 1
                self._take(*line.popleft())
                if not line:
                    del self._waiting[address]
                    self._flooding.discard(address)
            if is_served:
                continue
            if not self.road.is_idle:
                return  # it calls again after its group
            of_floods = FLOOD_SHARE

    def _take(self, unverified_octets: bytes, source: Address) -> None:
        try:
            if len(unverified_octets) >= 20:
                slot = self._duplicates.find(source, unverified_octets, self._heard_at)
                if slot is not None:
                    self.registry.drops[source[0], "repeated"] += 1
                    if slot.reply is not None:
                        self._send(slot.reply, source)
                    return
            packet = parse(unverified_octets)
            peer = self.registry.find(source[0])
            if peer is None:  # removed while its packet waited
                return
            if packet.code == self._hears:
                job = self.intake.take(self, packet, peer, source[0])
                job.context = (self._duplicates.keep(source, packet.octets), source)
                self.intake.put(job)
            elif packet.code == Code.STATUS_SERVER:
                reply = self.intake.status(packet, peer, source[0], self._status_reply)
                if reply is not None:
                    self._send(reply, source)
            else:
                raise BadPacket("unknown_code")
        except BadPacket as exc:
            self.registry.drop(source[0], exc.reason, unverified_octets, self.road.clock.now())

    def _send(self, octets: bytes, source: Address) -> None:
        sock = self._by_length.get(len(source))
        if sock is None:
            return
        try:
            sock.sendto(octets, source)
        except OSError as exc:
            logger.info("send", error=str(exc))


def authentication_server(intake: Intake) -> UdpServer:
    """RFC 2865: Access-Request."""
    return UdpServer(intake, hears=Code.ACCESS_REQUEST, status_reply=Code.ACCESS_ACCEPT)


def accounting_server(intake: Intake) -> UdpServer:
    """RFC 2866: Accounting-Request, answered only once stored."""
    return UdpServer(intake, hears=Code.ACCOUNTING_REQUEST, status_reply=Code.ACCOUNTING_RESPONSE)
