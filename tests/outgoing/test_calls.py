"""Where our own requests may go, how long they may take, and what is said of those that could not be made."""

import asyncio
import socket
from collections.abc import AsyncIterator
from dataclasses import replace

import pytest
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import PlainTextResponse, RedirectResponse, Response, StreamingResponse
from starlette.routing import Route

from lauschen.core.config.checks import check_dialect
from lauschen.core.config.dialect import Call, Dialect, Move
from lauschen.core.errors import Invalid, Unavailable
from lauschen.core.ids import DialectId
from lauschen.http.server import HttpServer, listen
from lauschen.outgoing import calls
from lauschen.outgoing.calls import Caller
from lauschen.outgoing.reach import Reach, check_host, check_target, read_reach
from tests.odd_server import odd_server

EVERYWHERE = read_reach(["0.0.0.0/0", "::/0"])


def leads_to(*addresses: str) -> "calls.Resolve":
    async def look_up(host: str, port: int) -> list[str]:
        return list(addresses)

    return look_up


@pytest.mark.parametrize(
    "address",
    [
        "127.0.0.1",
        "169.254.169.254",
        "0.0.0.0",
        "224.0.0.1",
        "192.0.0.8",
        "192.0.0.170",
        "192.88.99.1",
        "::1",
        "fe80::1",
        "fec0::1",
        "::ffff:10.0.0.1",
        "::10.0.0.1",
        "64:ff9b::a00:1",
        "64:ff9b::7f00:1",
        "64:ff9b:1::a00:1",
        "2002:a00:1::",
        "2002:7f00:1::1",
        "2001:0:a00:1::",
    ],
)
async def test_some_addresses_are_refused_whatever_was_listed(address: str) -> None:
    """Those that lead to another address as well: it would have to be judged itself."""
    with pytest.raises(Invalid, match="may not be reached"):
        await check_target("https://controller.example/", EVERYWHERE, leads_to(address))


@pytest.mark.parametrize(
    ("address", "option"),
    [
        ("10.0.0.25", "10.0.0.25"),
        ("fd00::25", "fd00::25"),
        ("127.0.0.1", "http://127.0.0.1:25"),
        ("::1", "http://[::1]:25"),
        ("169.254.1.1", "http://169.254.1.1:25"),
    ],
)
async def test_the_option_that_is_named_is_the_one_that_helps(address: str, option: str) -> None:
    with pytest.raises(Invalid, match="may not be reached") as caught:
        await check_host("mail.example", 25, Reach(), leads_to(address))
    assert caught.value.mend.endswith(f": --reach {option} lists it.")
    assert await check_host("mail.example", 25, read_reach([option]), leads_to(address)) == address


@pytest.mark.parametrize("address", ["10.0.0.1", "100.64.0.1", "192.168.1.1", "fd00::1"])
async def test_private_ones_must_be_listed(address: str) -> None:
    with pytest.raises(Invalid, match="may not be reached"):
        await check_target("https://controller.example/", Reach(), leads_to(address))
    target = await check_target("https://controller.example/", EVERYWHERE, leads_to(address))
    assert target.ip == address


async def test_a_name_that_cannot_be_one_leads_nowhere() -> None:
    with pytest.raises(Unavailable, match="leads nowhere"):
        await check_host("x" * 64, 25, EVERYWHERE)


async def test_one_bad_address_among_several_is_enough() -> None:
    with pytest.raises(Invalid):
        await check_target("https://controller.example/", Reach(), leads_to("9.9.9.9", "127.0.0.1"))


@pytest.mark.parametrize(
    ("url", "said"),
    [
        ("https://controller.example:99999/", "Port out of range"),
        ("https://controller.example:x/", "Port could not be cast"),
        ("https://" + "a" * 64 + ".example/", "longer than 63 letters"),
        ("https://a..example/", "empty or longer"),
        ("https://[bad/", "Invalid IPv6 URL"),
        ("ftp://controller.example/", "https:// address is needed"),
    ],
)
async def test_an_address_that_is_none_is_told_and_never_a_traceback(url: str, said: str) -> None:
    answer = await Caller(Reach(), leads_to("9.9.9.9")).call(Call(url=url), {})
    assert answer.startswith("http:")
    assert said in answer


@pytest.mark.parametrize(
    "url",
    [
        "https://controller.example:99999/",
        "https://controller.example:x/",
        "https://" + "a" * 64 + ".example/",
    ],
)
def test_it_is_told_where_it_is_typed_too(url: str) -> None:
    call = Call(url=url)
    dialect = Dialect(DialectId(1), "controller", login_move=Move.CALLED, end_move=Move.CALLED)
    with pytest.raises(Invalid) as caught:
        check_dialect(replace(dialect, call_in=call, call_out=call))
    assert caught.value.field == "call_in"


@pytest.mark.parametrize(
    ("scheme", "says", "said"),
    [
        ("http", b"220 no web server\r\n", "what it answered is not HTTP, or was broken off"),
        (
            "http",
            b"HTTP/1.1 200 OK\r\nContent-Length: 90\r\n\r\nhalf",
            "what it answered is not HTTP, or was",
        ),
        ("https", b"220 no web server\r\n", "it is not to be trusted: wrong version number"),
    ],
)
async def test_what_kept_us_from_an_answer_is_said_in_words(scheme: str, says: bytes, said: str) -> None:
    async with odd_server(says) as port:
        assert (await posted(scheme, port)).startswith(said)


async def test_nobody_at_the_port_is_said() -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))  # and does not listen
        assert await posted("http", taken.getsockname()[1]) == "connection refused"


async def posted(scheme: str, port: int) -> str:
    caller = Caller(Reach(plain=frozenset({("127.0.0.1", port)})))
    heard = await caller.post(f"{scheme}://127.0.0.1:{port}/", {}, b"")
    await caller.close()
    return heard.words()


class Controller:
    """Something that is called, and answers in several ways."""

    def __init__(self) -> None:
        self.cookies: list[str] = []

    async def good(self, request: Request) -> Response:
        self.cookies.append(request.headers.get("cookie", ""))
        answer = PlainTextResponse("done")
        answer.set_cookie("session", "kept")
        return answer

    async def away(self, _: Request) -> Response:
        return RedirectResponse("/good", 302)

    async def slow(self, _: Request) -> Response:
        async def pieces() -> AsyncIterator[bytes]:
            for _ in range(200):
                yield b"x"
                await asyncio.sleep(0.02)

        return StreamingResponse(pieces())

    def app(self) -> Starlette:
        paths = {"/good": self.good, "/away": self.away, "/slow": self.slow}
        return Starlette(routes=[Route(path, endpoint, methods=["POST"]) for path, endpoint in paths.items()])


@pytest.fixture
async def heard() -> AsyncIterator[tuple[Controller, str, Caller]]:
    controller, (sock,) = Controller(), listen(["127.0.0.1"], 0)
    server = HttpServer(controller.app(), [sock])
    await server.begin()
    root = f"http://127.0.0.1:{sock.getsockname()[1]}"
    caller = Caller(read_reach([root]), leads_to("127.0.0.1"))
    yield controller, root, caller
    await caller.close()
    await server.stop()


async def test_one_client_serves_all_calls_and_carries_nothing_between_them(
    heard: tuple[Controller, str, Caller],
) -> None:
    controller, root, caller = heard
    for _ in range(3):
        assert await caller.call(Call(url=f"{root}/good", good_text="done"), {}) == "accepted"
    assert controller.cookies == ["", "", ""]
    client = caller._http
    assert await caller.call(Call(url=f"{root}/away"), {}) == "http:it answered with status 302"
    assert caller._http is client


async def test_the_seconds_are_for_the_whole_call(
    heard: tuple[Controller, str, Caller], monkeypatch: pytest.MonkeyPatch
) -> None:
    """An answer that comes an octet at a time never ran into a time-out of single reads."""
    monkeypatch.setattr(calls, "TIMEOUT_S", 0.3)
    _, root, caller = heard
    assert await caller.call(Call(url=f"{root}/slow"), {}) == "silent"

    async def never(host: str, port: int) -> list[str]:
        await asyncio.Event().wait()
        return []

    assert await Caller(Reach(), never).call(Call(url="https://controller.example/"), {}) == "silent"
