"""The measure: a bare UDP echo on asyncio and uvloop. Prints its port."""

import asyncio

import uvloop


class Echo(asyncio.DatagramProtocol):
    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        self.transport = transport

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        self.transport.sendto(data, addr)  # type: ignore[attr-defined]


async def main() -> None:
    loop = asyncio.get_running_loop()
    transport, _ = await loop.create_datagram_endpoint(Echo, ("127.0.0.1", 0))
    print(transport.get_extra_info("sockname")[1], flush=True)
    await asyncio.Event().wait()


if __name__ == "__main__":
    uvloop.run(main())
