"""A device's end of the wire: plain UDP sockets inside the event loop."""

import asyncio
import socket

SILENCE_S = 0.15
PATIENCE_S = 30.0


class Wire:
    """One socket of a device at `address`."""

    def __init__(self, address: str = "127.77.0.11") -> None:
        self.socket = socket.socket(socket.AF_INET6 if ":" in address else socket.AF_INET, socket.SOCK_DGRAM)
        self._to = "::1" if ":" in address else "127.0.0.1"
        self.socket.setblocking(False)
        self.socket.bind((address, 0))
        self.port = int(self.socket.getsockname()[1])

    def send(self, octets: bytes, port: int) -> None:
        self.socket.sendto(octets, (self._to, port))

    async def hear(self) -> bytes:
        octets, _ = await self.hear_from()
        return octets

    async def hear_from(self) -> tuple[bytes, tuple[str, int]]:
        loop = asyncio.get_running_loop()
        octets, source = await asyncio.wait_for(loop.sock_recvfrom(self.socket, 5000), PATIENCE_S)
        return octets, source

    async def exchange(self, octets: bytes, port: int) -> bytes:
        self.send(octets, port)
        return await self.hear()

    def close(self) -> None:
        self.socket.close()
