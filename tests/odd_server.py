"""A server that says a few octets, whoever comes, and closes."""

import asyncio
import contextlib
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager


@asynccontextmanager
async def odd_server(says: bytes) -> AsyncIterator[int]:
    """Its port; it ends once the connection of its one guest is over."""
    gone = asyncio.Event()

    async def speak(_: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        writer.write(says)
        writer.close()
        with contextlib.suppress(ConnectionError):
            await writer.wait_closed()
        gone.set()

    server = await asyncio.start_server(speak, "127.0.0.1", 0)
    yield server.sockets[0].getsockname()[1]
    await asyncio.wait_for(gone.wait(), 10)
    server.close()
