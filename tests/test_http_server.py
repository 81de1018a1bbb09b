"""Who does not come to the end of a request's head is cut off; others are not."""

import asyncio
from collections.abc import AsyncIterator

import pytest
from starlette.responses import PlainTextResponse

from lauschen import http_server
from lauschen.http_server import HttpServer, listen

GET = b"GET / HTTP/1.1\r\nHost: x\r\n\r\n"
Ends = tuple[asyncio.StreamReader, asyncio.StreamWriter]


@pytest.fixture
async def port(monkeypatch: pytest.MonkeyPatch) -> AsyncIterator[int]:
    monkeypatch.setattr(http_server, "HEAD_S", 0.2)
    sock = listen("127.0.0.1", 0)
    server = HttpServer(PlainTextResponse("here"), sock)
    await server.begin()
    yield sock.getsockname()[1]
    await server.stop()


async def rest(ends: Ends) -> bytes:
    """All that comes until the server closes."""
    said = await asyncio.wait_for(ends[0].read(), 5)
    ends[1].close()
    await ends[1].wait_closed()
    return said


@pytest.mark.parametrize("beginning", [b"", b"GET / HTTP/1.1\r\nHost: x\r\nX-Slow: "])
async def test_a_head_that_does_not_end_is_cut_off(port: int, beginning: bytes) -> None:
    ends = await asyncio.open_connection("127.0.0.1", port)
    ends[1].write(beginning)
    assert await rest(ends) == b""


async def test_a_second_head_on_the_same_connection_too(port: int) -> None:
    ends = await asyncio.open_connection("127.0.0.1", port)
    ends[1].write(GET)
    assert await asyncio.wait_for(ends[0].readuntil(b"here"), 5)
    ends[1].write(GET[:10])
    assert await rest(ends) == b""


async def test_a_connection_that_is_only_idle_between_requests_stays(port: int) -> None:
    ends = await asyncio.open_connection("127.0.0.1", port)
    for _ in range(2):
        ends[1].write(GET)
        assert b"200" in await asyncio.wait_for(ends[0].readuntil(b"here"), 5)
        await asyncio.sleep(0.4)
    ends[1].close()
    await ends[1].wait_closed()
