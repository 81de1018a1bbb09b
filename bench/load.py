"""The load: a fixed window of distinct packets in flight, prepared beforehand (rulings 7)."""

import asyncio
import time
from collections.abc import Callable
from dataclasses import dataclass

import uvloop

WINDOW = 64
PATIENCE_S = 60.0
LARGEST_BURST = 24
"""Of a paced load in one millisecond: catching up all at once would measure the burst."""
AGAIN_S = 0.3
"""An access device asks again too; how long it waited counts from its first request."""


@dataclass(frozen=True)
class Measured:
    """One run."""

    rate: float
    """Answers per second."""
    p50_ms: float
    p99_ms: float


class _Client(asyncio.DatagramProtocol):
    """As bare as the echo: asyncio and uvloop at both ends."""

    def __init__(self, packets: list[bytes]) -> None:
        self._following = iter(packets)
        self._sent_at = [0.0] * 256
        self._left = len(packets)
        self.waits: list[float] = []
        self.over: asyncio.Future[None] = asyncio.get_running_loop().create_future()

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        self._send = transport.sendto  # type: ignore[attr-defined]
        for _ in range(WINDOW):
            self._send_next()

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        self.waits.append(time.perf_counter() - self._sent_at[data[1]])
        self._left -= 1
        if self._left == 0:
            self.over.set_result(None)
        else:
            self._send_next()

    def _send_next(self) -> None:
        packet = next(self._following, None)
        if packet is not None:
            self._sent_at[packet[1]] = time.perf_counter()
            self._send(packet)


class _Patient(_Client):
    """Sends again what was not answered, as access devices do."""

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        self._open: dict[int, bytes] = {}
        self._aside: list[bytes] = []
        super().connection_made(transport)
        self._look()

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        if self._open.pop(data[1], None) is not None:
            super().datagram_received(data, addr)

    def _send_next(self) -> None:
        packet = self._aside.pop() if self._aside else next(self._following, None)
        if packet is not None and packet[1] in self._open:
            self._aside.append(packet)  # its id still waits for an answer
        elif packet is not None:
            self._open[packet[1]] = packet
            self._sent_at[packet[1]] = time.perf_counter()
            self._send(packet)

    def _look(self) -> None:
        for packet in self._open.values():
            if time.perf_counter() - self._sent_at[packet[1]] > AGAIN_S:
                self._send(packet)
        while self._aside and self._aside[-1][1] not in self._open:
            self._send_next()
        if not self.over.done():
            asyncio.get_running_loop().call_later(AGAIN_S, self._look)


def drive_patiently(packets: list[bytes], port: int, source: str) -> Measured:
    """Like `drive`, where packets may be lost."""
    return uvloop.run(_drive(lambda: _Patient(packets), port, source))


class _Paced(_Client):
    """So many packets a second, whether they are answered or not."""

    def __init__(self, packets: list[bytes], rate: float) -> None:
        super().__init__(packets)
        self._packets = packets
        self._rate = rate
        self._sent = 0
        self._open: dict[int, bytes] = {}
        self._sent_again = [0.0] * 256

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        self._send = transport.sendto  # type: ignore[attr-defined]
        self._began = time.perf_counter()
        self._tick()

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        if self._open.pop(data[1], None) is None:
            return
        self.waits.append(time.perf_counter() - self._sent_at[data[1]])
        self._left -= 1
        if self._left == 0:
            self.over.set_result(None)

    def _tick(self) -> None:
        due = min(len(self._packets), int((time.perf_counter() - self._began) * self._rate))
        now, burst_ends = time.perf_counter(), self._sent + LARGEST_BURST
        # An id that still waits is not used again.
        while self._sent < min(due, burst_ends) and self._packets[self._sent][1] not in self._open:
            packet = self._packets[self._sent]
            self._open[packet[1]] = packet
            self._sent_at[packet[1]] = self._sent_again[packet[1]] = now
            self._send(packet)
            self._sent += 1
        for packet_id, packet in self._open.items():
            if now - self._sent_again[packet_id] > AGAIN_S:
                self._sent_again[packet_id] = now
                self._send(packet)
        if not self.over.done():
            asyncio.get_running_loop().call_later(0.001, self._tick)


def drive_paced(packets: dict[str, list[bytes]], port: int, rate: float) -> Measured:
    """Sends what each address has at a steady rate, `rate` in all, and waits for every answer."""
    return uvloop.run(_drive_paced(packets, port, rate))


async def _drive_paced(packets: dict[str, list[bytes]], port: int, rate: float) -> Measured:
    loop, started = asyncio.get_running_loop(), time.perf_counter()
    ends = [
        await loop.create_datagram_endpoint(
            lambda own=own: _Paced(own, rate / len(packets)),  # type: ignore[misc]
            local_addr=(source, 0),
            remote_addr=("127.0.0.1", port),
        )
        for source, own in packets.items()
    ]
    async with asyncio.timeout(PATIENCE_S):
        await asyncio.gather(*(client.over for _, client in ends))
    took = time.perf_counter() - started
    waits = sorted(wait for _, client in ends for wait in client.waits)
    for transport, _ in ends:
        transport.close()
    return Measured(len(waits) / took, waits[len(waits) // 2] * 1000, waits[int(len(waits) * 0.99)] * 1000)


def drive(packets: list[bytes], port: int, source: str) -> Measured:
    """Sends all packets, 64 in flight, and waits for every answer. The second octet of a packet is its id."""
    return uvloop.run(_drive(lambda: _Client(packets), port, source))


async def _drive(make: Callable[[], _Client], port: int, source: str) -> Measured:
    started = time.perf_counter()
    transport, client = await asyncio.get_running_loop().create_datagram_endpoint(
        make, local_addr=(source, 0), remote_addr=("127.0.0.1", port)
    )
    async with asyncio.timeout(PATIENCE_S):
        await client.over
    took = time.perf_counter() - started
    transport.close()
    waits = sorted(client.waits)
    return Measured(len(waits) / took, waits[len(waits) // 2] * 1000, waits[int(len(waits) * 0.99)] * 1000)
