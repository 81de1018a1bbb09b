"""The RADIUS side of the stand-in: requests with retransmission, and a socket that hears CoA and Disconnect."""

import asyncio
import os
import socket
from collections.abc import Callable
from dataclasses import dataclass

from lauschen.radius.wire import attributes
from lauschen.radius.wire.codec import LONGEST_PACKET, Packet, parse
from lauschen.radius.wire.numbers import Code, Kind
from lauschen.radius.wire.signing import Secret
from lauschen.road.clock import Clock

RETRANSMIT_AFTER_S = (3.0, 6.0, 12.0)

Source = tuple[str, int]
ChangeHandler = Callable[[Packet], tuple[Code, int | None]]


@dataclass(slots=True)
class Manners:
    """How the stand-in treats what Lauschen asks of it; tests and the demo set these."""

    answer: str = "normal"
    """`normal`, `nak` (Error-Cause 504 to everything) or `silence`."""
    lose_requests: int = 0
    """So many of the next packets that it sends are lost."""
    lose_replies: int = 0
    """So many of the next packets that it would hear are lost."""


class Radio:
    """One access device's address on the wire."""

    def __init__(
        self,
        address: str,
        secret: bytes,
        *,
        clock: Clock,
        on_change: ChangeHandler,
    ) -> None:
        self.address = address
        self.manners = Manners()
        self.changes_heard: list[Packet] = []
        self._secret = Secret(secret)
        self._auth: Source = ("", 0)
        self._acct: Source = ("", 0)
        self._clock = clock
        self._on_change = on_change
        self._next_id = 0
        self._open: dict[tuple[int, int], tuple[bytes, asyncio.Future[Packet]]] = {}
        self._client = _socket(address, 0)
        self._listener = _socket(address, 0)
        self.coa_port = int(self._listener.getsockname()[1])

    def start(self, auth: Source, acct: Source) -> None:
        self._auth, self._acct = auth, acct
        loop = asyncio.get_running_loop()
        loop.add_reader(self._client.fileno(), self._hear_reply)
        loop.add_reader(self._listener.fileno(), self._hear_change)

    def close(self) -> None:
        loop = asyncio.get_running_loop()
        for sock in (self._client, self._listener):
            loop.remove_reader(sock.fileno())
            sock.close()

    async def ask(self, body: bytes, authenticator: bytes | None = None) -> Packet | None:
        """Sends an Access-Request; None when nobody answered. A hidden password needs its own authenticator."""
        packet_id, authenticator = self._take_id(), authenticator or os.urandom(16)
        octets = self._secret.access_request(packet_id, authenticator, body)
        return await self._exchange(self._auth, Code.ACCESS_REQUEST, packet_id, authenticator, octets)

    async def report(self, body: bytes) -> Packet | None:
        """Sends an Accounting-Request; None when nobody answered."""
        packet_id = self._take_id()
        octets = self._secret.accounting_request(packet_id, body)
        return await self._exchange(self._acct, Code.ACCOUNTING_REQUEST, packet_id, octets[4:20], octets)

    def hide(self, password: bytes, authenticator: bytes) -> bytes:
        return self._secret.hide(password, authenticator)

    def salt_reveal(self, value: bytes, authenticator: bytes) -> bytes | None:
        """A passphrase in an answer to a request with this authenticator."""
        return self._secret.salt_reveal(value, authenticator)

    async def _exchange(
        self, to: Source, code: Code, packet_id: int, authenticator: bytes, octets: bytes
    ) -> Packet | None:
        future: asyncio.Future[Packet] = asyncio.get_running_loop().create_future()
        key = (to[1], packet_id)
        self._open[key] = (authenticator, future)
        try:
            for wait in RETRANSMIT_AFTER_S:
                self._send(self._client, octets, to)
                over = asyncio.ensure_future(self._clock.sleep(wait))
                await asyncio.wait((future, over), return_when=asyncio.FIRST_COMPLETED)
                over.cancel()
                if future.done():
                    return future.result()
            return None
        finally:
            self._open.pop(key, None)

    def _hear_reply(self) -> None:
        for octets, source in _drain(self._client):
            if self._is_not_heard():
                continue
            packet = parse(octets)
            entry = self._open.get((source[1], packet.id))
            if entry and not entry[1].done() and self._secret.is_reply_to(packet, entry[0]):
                entry[1].set_result(packet)

    def _hear_change(self) -> None:
        for octets, source in _drain(self._listener):
            if self._is_not_heard():
                continue
            packet = parse(octets)
            if not self._secret.is_change_request(packet):
                continue
            self.changes_heard.append(packet)
            if self.manners.answer == "silence":
                continue
            if self.manners.answer == "nak":
                code = Code.COA_NAK if packet.code == Code.COA_REQUEST else Code.DISCONNECT_NAK
                cause: int | None = 504
            else:
                code, cause = self._on_change(packet)
            body = attributes.integer(Kind.ERROR_CAUSE, cause) if cause is not None else b""
            self._send(self._listener, self._secret.reply(code, packet, body), source)

    def _take_id(self) -> int:
        self._next_id = (self._next_id + 1) & 0xFF
        return self._next_id

    def _send(self, sock: socket.socket, octets: bytes, to: Source) -> None:
        if self.manners.lose_requests > 0:
            self.manners.lose_requests -= 1
            return
        sock.sendto(octets, to)

    def _is_not_heard(self) -> bool:
        if self.manners.lose_replies > 0:
            self.manners.lose_replies -= 1
            return True
        return False


def _socket(address: str, port: int) -> socket.socket:
    sock = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
    sock.setblocking(False)
    sock.bind((address, port))
    return sock


def _drain(sock: socket.socket) -> list[tuple[bytes, Source]]:
    packets = []
    while True:
        try:
            packets.append(sock.recvfrom(LONGEST_PACKET))
        except (BlockingIOError, ConnectionRefusedError):
            return packets
