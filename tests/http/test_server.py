"""Who does not come to the end of a request's head is cut off; others are not."""

import asyncio
import contextlib
from collections.abc import AsyncIterator

import pytest
from starlette.responses import PlainTextResponse

from lauschen.http import server as http_server
from lauschen.http.limits import Crowd
from lauschen.http.server import HttpServer, listen

GET = b"GET / HTTP/1.1\r\nHost: x\r\n\r\n"
Ends = tuple[asyncio.StreamReader, asyncio.StreamWriter]


@pytest.fixture
async def port(monkeypatch: pytest.MonkeyPatch) -> AsyncIterator[int]:
    monkeypatch.setattr(http_server, "HEAD_S", 0.2)
    monkeypatch.setattr(http_server, "GRACE_S", 0.1)
    (sock,) = listen(["127.0.0.1"], 0)
    server = HttpServer(PlainTextResponse("here"), [sock], Crowd(6, 4, frozenset({"127.0.0.9"})), body_s=0.2)
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


@pytest.mark.parametrize(
    "heads",
    [
        b"Content-Length: 4\r\nContent-Length: 40\r\n",
        b"Content-Length: 4, 40\r\n",
        b"Content-Length: +4\r\n",
        b"Content-Length: 0x4\r\n",
        b"Content-Length : 4\r\n",
        b"Transfer-Encoding: gzip\r\n",
        b"Transfer-Encoding: chunked, chunked\r\n",
        b"Transfer-Encoding: xchunked\r\n",
        b"Transfer-Encoding: chunked\r\nTransfer-Encoding: chunked\r\n",
        b"X: 1\r\n : 2\r\n \r\nX\r\n",
    ],
)
async def test_a_request_whose_end_two_could_read_differently_is_refused(port: int, heads: bytes) -> None:
    """Else what a proxy takes for its body would be a request of its own to us (RFC 9112 section 11.2)."""
    ends = await asyncio.open_connection("127.0.0.1", port)
    ends[1].write(b"POST / HTTP/1.1\r\nHost: x\r\n" + heads + b"\r\n0\r\n\r\n" + GET)
    said = await rest(ends)
    assert said.startswith((b"HTTP/1.1 400 ", b"HTTP/1.1 501 "))
    assert said.count(b"HTTP/1.1") == 1
    assert b"here" not in said


async def test_a_connection_that_is_only_idle_between_requests_stays(port: int) -> None:
    ends = await asyncio.open_connection("127.0.0.1", port)
    for _ in range(2):
        ends[1].write(GET)
        assert b"200" in await asyncio.wait_for(ends[0].readuntil(b"here"), 5)
        await asyncio.sleep(0.4)
    ends[1].close()
    await ends[1].wait_closed()


async def open_from(port: int, address: str = "127.0.0.1") -> Ends:
    return await asyncio.open_connection("127.0.0.1", port, local_addr=(address, 0))


async def close(*all_ends: Ends) -> None:
    for ends in all_ends:
        ends[1].close()
        with contextlib.suppress(ConnectionError):
            await ends[1].wait_closed()


async def test_a_body_that_comes_by_single_octets_is_cut_off_though_each_comes_soon(port: int) -> None:
    """Also when it was answered long before: the connection stayed open for as long as octets came."""
    ends = await open_from(port)
    ends[1].write(b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 1000\r\n\r\n")
    assert b"200" in await asyncio.wait_for(ends[0].readuntil(b"here"), 5)

    async def trickle() -> None:
        with contextlib.suppress(ConnectionError):
            for _ in range(500):
                ends[1].write(b"x")
                await ends[1].drain()
                await asyncio.sleep(0.02)

    trickling = asyncio.ensure_future(trickle())
    began = asyncio.get_running_loop().time()
    with contextlib.suppress(ConnectionError):
        assert await asyncio.wait_for(ends[0].read(), 5) == b""
    assert asyncio.get_running_loop().time() - began < 3
    trickling.cancel()
    await close(ends)


async def is_served(ends: Ends) -> bool:
    try:
        ends[1].write(GET)
        return b"200" in await asyncio.wait_for(ends[0].readuntil(b"here"), 5)
    except (ConnectionError, asyncio.IncompleteReadError):
        return False


async def test_one_address_has_its_share_of_connections_and_others_theirs(port: int) -> None:
    mine = [await open_from(port) for _ in range(5)]
    assert [await is_served(ends) for ends in mine] == [True] * 4 + [False]
    other = await open_from(port, "127.0.0.2")
    assert await is_served(other)
    await close(*mine, other)


async def test_a_full_listener_lets_go_of_the_one_that_was_idle_longest(port: int) -> None:
    idle = [await open_from(port, f"127.0.0.{2 + n // 3}") for n in range(6)]
    newcomer = await open_from(port, "127.0.0.8")
    assert await is_served(newcomer)
    with contextlib.suppress(ConnectionError):
        assert await asyncio.wait_for(idle[0][0].read(), 5) == b""  # long before its head is late
    assert await is_served(idle[5])
    await close(newcomer, *idle)


async def test_a_listed_proxy_may_have_as_many_as_there_is_room_for(port: int) -> None:
    mine = [await open_from(port, "127.0.0.9") for _ in range(6)]
    assert [await is_served(ends) for ends in mine] == [True] * 6
    await close(*mine)


async def test_a_port_that_is_taken_is_named(port: int) -> None:
    with pytest.raises(OSError, match=rf"TCP 127\.0\.0\.1:{port}"):
        listen(["127.0.0.1"], port)
