"""The load: a fixed window of distinct packets in flight, prepared beforehand (rulings 7)."""

import asyncio
import time
from dataclasses import dataclass

import uvloop

WINDOW = 64
PATIENCE_S = 60.0


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


def drive(packets: list[bytes], port: int, source: str) -> Measured:
    """Sends all packets, 64 in flight, and waits for every answer. The second octet of a packet is its id."""
    return uvloop.run(_drive(packets, port, source))


async def _drive(packets: list[bytes], port: int, source: str) -> Measured:
    started = time.perf_counter()
    transport, client = await asyncio.get_running_loop().create_datagram_endpoint(
        lambda: _Client(packets), local_addr=(source, 0), remote_addr=("127.0.0.1", port)
    )
    async with asyncio.timeout(PATIENCE_S):
        await client.over
    took = time.perf_counter() - started
    transport.close()
    waits = sorted(client.waits)
    return Measured(len(waits) / took, waits[len(waits) // 2] * 1000, waits[int(len(waits) * 0.99)] * 1000)
