"""RADIUS over TLS (RFC 6614) on TCP 2083: certificates both ways, all codes on one port, the same road behind it."""

import asyncio
import hashlib
import socket
import ssl
from asyncio import StreamReader, StreamWriter
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

import structlog

from lauschen.core.ids import AccessDeviceId
from lauschen.core.words.ip import plain_ip
from lauschen.radius.answer.dynauth import RADSEC
from lauschen.radius.listen.intake import Intake, PacketJob
from lauschen.radius.listen.registry import Peer
from lauschen.radius.wire.codec import LONGEST_PACKET, SHORTEST_PACKET, BadPacket, Packet, parse
from lauschen.radius.wire.numbers import Code

IN_FLIGHT = 64
IDLE_S = 3600.0
HANDSHAKE_S = 10.0
MOST_CONNECTIONS = 256
MOST_EACH = 16
"""Of one address, handshakes included."""
ACCEPT_AGAIN_S = 0.5
_ANSWERS = (Code.COA_ACK, Code.COA_NAK, Code.DISCONNECT_ACK, Code.DISCONNECT_NAK)

logger = structlog.get_logger()


@dataclass(frozen=True, slots=True)
class Certificates:
    """Files in PEM: ours with its key, and those of the authorities (or single devices) that we believe."""

    own: Path
    key: Path
    authorities: Path

    def context(self) -> ssl.SSLContext:
        context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        context.minimum_version = ssl.TLSVersion.TLSv1_2
        context.load_cert_chain(self.own, self.key)
        context.load_verify_locations(self.authorities)
        # A device's own certificate may stand in the file instead of an authority's.
        context.verify_flags |= ssl.VERIFY_X509_PARTIAL_CHAIN
        context.verify_mode = ssl.CERT_REQUIRED
        return context


class TlsServer:
    """Listens, and ties each connection to the access device that its certificate names."""

    def __init__(self, intake: Intake, certificates: Certificates) -> None:
        self._intake = intake
        self._certificates = certificates
        self._context: ssl.SSLContext | None = None
        self._sockets: Sequence[socket.socket] = ()
        self._accepting: list[asyncio.Task[None]] = []
        self._open: set[asyncio.Task[None]] = set()
        self._each: Counter[str] = Counter()
        """Connections of each address, also while they shake hands."""

    async def open(self, listening: Sequence[socket.socket]) -> int:
        """Accepts connections of sockets that listen, which are ours from now on; returns their port."""
        self._context = self._certificates.context()
        self._sockets = listening
        self._accepting = [asyncio.create_task(self._accept(sock)) for sock in listening]
        return int(listening[0].getsockname()[1])

    async def close(self) -> None:
        for task in (*self._accepting, *self._open):
            task.cancel()
        await asyncio.gather(*self._accepting, *self._open, return_exceptions=True)
        for sock in self._sockets:
            sock.close()

    async def _accept(self, listening: socket.socket) -> None:
        """Connections are counted before anything is spent on a handshake."""
        loop = asyncio.get_running_loop()
        while True:
            try:
                sock, peer = await loop.sock_accept(listening)
            except OSError as exc:  # it was gone before we came to it, or descriptors are short
                self._intake.road.faults.note("reading", exc)
                await asyncio.sleep(ACCEPT_AGAIN_S)
                continue
            address = plain_ip(str(peer[0]))
            if len(self._open) >= MOST_CONNECTIONS or self._each[address] >= MOST_EACH:
                sock.close()
                continue
            self._each[address] += 1
            task = loop.create_task(self._serve(sock, address))
            self._open.add(task)
            task.add_done_callback(partial(self._left, address))

    def _left(self, address: str, task: "asyncio.Task[None]") -> None:
        self._open.discard(task)
        self._each[address] -= 1
        if not self._each[address]:
            del self._each[address]
        if not task.cancelled() and (error := task.exception()) is not None:
            self._intake.road.faults.note("request", error)

    async def _shake_hands(self, sock: socket.socket) -> tuple[StreamReader, StreamWriter] | None:
        """None when the other side is no device of ours, or not in time."""
        loop = asyncio.get_running_loop()
        reader = StreamReader(loop=loop)
        protocol = asyncio.StreamReaderProtocol(reader, loop=loop)
        try:
            transport, _ = await loop.connect_accepted_socket(
                lambda: protocol, sock, ssl=self._context, ssl_handshake_timeout=HANDSHAKE_S
            )
        except (OSError, ssl.SSLError, TimeoutError):
            sock.close()
            return None
        return reader, StreamWriter(transport, protocol, reader, loop)

    async def _serve(self, sock: socket.socket, address: str) -> None:
        streams = await self._shake_hands(sock)
        if streams is None:
            return
        reader, writer = streams
        registry = self._intake.registry
        device = self._device_of(writer)
        try:
            if device is None:
                registry.note_unknown(address, b"", "TLS", self._intake.road.clock.now())
                return
            await Connection(self._intake, device, address, reader, writer).run()
        except (ConnectionError, asyncio.IncompleteReadError, TimeoutError, asyncio.CancelledError):
            pass  # it went away, or we do
        except BadPacket as exc:
            # RFC 6613 section 2.6.4: after a bad packet nobody knows where the next one begins.
            registry.drop(address, exc.reason, b"", self._intake.road.clock.now())
        finally:
            writer.close()

    def _device_of(self, writer: StreamWriter) -> AccessDeviceId | None:
        """By the fingerprint of the certificate, or by a name in it."""
        secured: ssl.SSLObject = writer.get_extra_info("ssl_object")
        whole = secured.getpeercert(binary_form=True)
        if whole is None:
            return None
        known = {hashlib.sha256(whole).hexdigest()}
        certificate: dict[str, Any] = secured.getpeercert() or {}
        known |= {str(value).lower() for _, value in certificate.get("subjectAltName", ())}
        for peer in self._intake.registry.peers.values():
            identity = peer.device.tls_identity
            if identity and (identity.lower() in known or identity.replace(":", "").lower() in known):
                return peer.device.id
        return None


class Connection:
    """One device's connection: requests come in, and changes go out, over the same stream."""

    def __init__(
        self,
        intake: Intake,
        device: AccessDeviceId,
        address: str,
        reader: StreamReader,
        writer: StreamWriter,
    ) -> None:
        self._intake = intake
        self._device = device
        self._address = address
        self._reader = reader
        self._writer = writer
        self._room = asyncio.Semaphore(IN_FLIGHT)
        self._asked: dict[int, tuple[bytes, asyncio.Future[Packet]]] = {}
        self._next_id = 0

    async def run(self) -> None:
        links = self._intake.registry.links
        links[self._device] = self
        try:
            while True:
                octets = await asyncio.wait_for(self._read(), IDLE_S)
                await self._take(octets)
        finally:
            if links.get(self._device) is self:
                del links[self._device]
            for _, future in self._asked.values():
                future.cancel()

    async def ask(self, build: Callable[[int], bytes], wait_s: float) -> Packet | None:
        """Sends a request over this connection; no retransmission inside TLS (RFC 6614 section 2.4)."""
        for _ in range(256):
            self._next_id = (self._next_id + 1) & 0xFF
            if self._next_id not in self._asked:
                break
        else:
            return None
        packet_id, octets = self._next_id, build(self._next_id)
        future: asyncio.Future[Packet] = asyncio.get_running_loop().create_future()
        self._asked[packet_id] = (octets[4:20], future)
        try:
            self._writer.write(octets)
            return await asyncio.wait_for(future, wait_s)
        except (TimeoutError, ConnectionError, asyncio.CancelledError):
            return None
        finally:
            self._asked.pop(packet_id, None)

    def answered(self, job: PacketJob) -> None:
        """After COMMIT."""
        self._room.release()
        if not self._writer.is_closing():
            self._writer.write(job.reply)
        recorder, clock = self._intake.registry.recorder, self._intake.road.clock
        if recorder.wants(self._address, clock.monotonic()):
            recorder.answered(self._address, job.packet, job.reply, clock.now(), clock.monotonic())

    def not_stored(self, job: PacketJob) -> None:
        """Nothing is kept of it: the device asks again when its own time is over."""
        self._room.release()

    def now(self) -> float:
        return self._intake.road.clock.now()

    async def _read(self) -> bytes:
        head = await self._reader.readexactly(4)
        length = (head[2] << 8) | head[3]
        if not SHORTEST_PACKET <= length <= LONGEST_PACKET:
            raise BadPacket("length_lies")
        return head + await self._reader.readexactly(length - 4)

    async def _take(self, unverified_octets: bytes) -> None:
        packet = parse(unverified_octets)
        if packet.code in _ANSWERS:
            authenticator, future = self._asked.get(packet.id, (b"", None))
            if future is not None and not future.done() and RADSEC.is_reply_to(packet, authenticator):
                future.set_result(packet)
            return
        peer = self._peer()
        if peer is None:
            raise ConnectionAbortedError  # removed, or its certificate is another one's now
        if packet.code == Code.STATUS_SERVER:
            reply = self._intake.status(packet, peer, self._address, Code.ACCESS_ACCEPT)
            if reply is not None:
                self._writer.write(reply)
            return
        job = self._intake.take(self, packet, peer, self._address)
        await self._room.acquire()
        self._intake.put(job)

    def _peer(self) -> Peer | None:
        known = self._intake.registry.peers.get(self._device)
        if known is None or not known.device.tls_identity:
            return None
        return Peer(known.device, RADSEC, None, known.shared_password, False, known.handshake, known.sources)
