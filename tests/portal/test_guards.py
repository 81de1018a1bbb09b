"""What no guest may do too much of."""

import asyncio
from collections.abc import AsyncIterator

import httpx
import pytest
from starlette.requests import Request
from starlette.responses import PlainTextResponse, Response
from starlette.types import Receive, Scope, Send

from lauschen.portal.guards import AT_ONCE, FORMS_GO, GETS_AT_FIRST, POSTS_PER_S, Guards


class Slow:
    """An application that answers when it is told to."""

    def __init__(self) -> None:
        self.go = asyncio.Event()
        self.arrived: asyncio.Queue[str] = asyncio.Queue()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["method"] == "POST":
            await Request(scope, receive).body()
        self.arrived.put_nowait(scope["client"][0])
        await self.go.wait()
        await PlainTextResponse("done")(scope, receive, send)


def refuse(_: Request, status: int) -> Response:
    return PlainTextResponse("busy", status)


def client(app: Guards, address: str = "127.77.1.1") -> httpx.AsyncClient:
    transport = httpx.ASGITransport(app, client=(address, 1))
    return httpx.AsyncClient(transport=transport, base_url="http://welcome.hollerau.example")


async def test_one_client_has_twenty_requests_at_once_and_others_theirs() -> None:
    slow = Slow()
    guards = Guards(slow, style_hash="x", monotonic=lambda: 0.0, refuse=refuse)
    async with client(guards) as one, client(guards, "127.77.1.2") as other:
        waiting = [asyncio.create_task(one.get("/")) for _ in range(AT_ONCE)]
        for _ in range(AT_ONCE):
            assert await slow.arrived.get() == "127.77.1.1"
        assert (await one.get("/")).status_code == 503
        beside = asyncio.create_task(other.get("/"))
        assert await slow.arrived.get() == "127.77.1.2"
        slow.go.set()
        assert {(await w).status_code for w in (*waiting, beside)} == {200}
        assert (await one.get("/")).status_code == 200


async def test_the_count_of_what_is_answered_goes_down_again_and_budgets_are_each_clients_own() -> None:
    slow = Slow()
    slow.go.set()
    guards = Guards(slow, style_hash="x", monotonic=lambda: 0.0, refuse=refuse)
    async with client(guards) as one, client(guards, "127.77.1.2") as other:
        for _ in range(GETS_AT_FIRST):
            assert (await one.get("/")).status_code == 200
        assert not guards._open
        refused = await one.get("/")
        assert (refused.status_code, refused.headers["Connection"]) == (429, "close")
        assert (await one.post("/")).status_code == 200  # forms have a budget of their own
        assert (await other.get("/")).status_code == 200


async def test_behind_one_address_a_visit_that_floods_leaves_the_others_their_budget() -> None:
    slow = Slow()
    slow.go.set()
    guards = Guards(
        slow, style_hash="x", monotonic=lambda: 0.0, refuse=refuse, is_visit={"ada", "zora"}.__contains__
    )
    async with client(guards) as one:

        async def last_of(path: str) -> int:
            return [(await one.post(path)).status_code for _ in range(POSTS_PER_S + 1)][-1]

        assert await last_of("/visit/ada/by/code") == 429
        assert (await one.post("/visit/ada/again")).status_code == 429  # of one visit all forms together
        assert (await one.post("/visit/zora/by/code")).status_code == 200
        # Made-up visits, and those who have none yet, have the budget of the address.
        for n in range(POSTS_PER_S):
            assert (await one.post(f"/visit/none-{n}/by/code")).status_code == 200
        assert (await one.post("/visit/none/by/code")).status_code == 429
        assert (await one.post("/")).status_code == 429
        slow.go.clear()
        slow.arrived = asyncio.Queue()
        waiting = [asyncio.create_task(one.get("/visit/ada")) for _ in range(AT_ONCE)]
        for _ in waiting:
            await slow.arrived.get()
        assert (await one.get("/visit/ada")).status_code == 503
        beside = asyncio.create_task(one.get("/visit/zora"))
        slow.go.set()
        assert {(await w).status_code for w in (*waiting, beside)} == {200}
        assert not guards._open


async def test_every_answer_says_what_a_browser_may_do_with_it() -> None:
    async def paged(scope: Scope, receive: Receive, send: Send) -> None:
        headers = {FORMS_GO: "http://10.0.0.1:8080"} if scope["path"] == "/leaves" else {}
        await PlainTextResponse("page", headers=headers)(scope, receive, send)

    guards = Guards(paged, style_hash="sha256-x", monotonic=lambda: 0.0, refuse=refuse)
    async with client(guards) as one:
        for path, forms in (("/", "'self'"), ("/leaves", "http://10.0.0.1:8080")):
            headers = (await one.get(path)).headers
            assert headers["Content-Security-Policy"] == (
                f"default-src 'none'; style-src 'sha256-x'; img-src 'self'; form-action {forms};"
                " base-uri 'none'; frame-ancestors 'none'"
            )
            assert headers["X-Content-Type-Options"] == "nosniff"
            assert headers["Referrer-Policy"] == "same-origin"
            assert headers["Cache-Control"] == "no-store"
            assert FORMS_GO not in headers
            assert "Connection" not in headers


async def test_what_fails_is_told_once_and_answered_unless_the_answer_has_begun() -> None:
    async def failing(scope: Scope, receive: Receive, send: Send) -> None:
        if scope["path"] == "/midway":
            await send({"type": "http.response.start", "status": 200, "headers": []})
        raise ValueError(scope["path"])

    faults: list[str] = []
    guards = Guards(
        failing,
        style_hash="x",
        monotonic=lambda: 0.0,
        refuse=refuse,
        on_fault=lambda fault: faults.append(str(fault)),
    )
    async with client(guards) as one:
        assert (await one.get("/at-once")).status_code == 500
    sent: list[object] = []

    async def send(message: object) -> None:
        sent.append(message)

    async def receive() -> dict[str, object]:
        return {"type": "http.request"}

    scope: Scope = {"type": "http", "method": "GET", "path": "/midway", "headers": [], "client": None}
    await guards(scope, receive, send)  # type: ignore[arg-type]
    assert len(sent) == 1
    assert faults == ["/at-once", "/midway"]


async def test_what_is_left_of_a_body_that_nobody_reads_is_not_received() -> None:
    async def at_once(scope: Scope, receive: Receive, send: Send) -> None:
        if scope["path"] == "/read":
            await Request(scope, receive).body()
        await PlainTextResponse("no", 403)(scope, receive, send)

    async def pieces() -> AsyncIterator[bytes]:
        yield b"piece"

    guards = Guards(at_once, style_hash="x", monotonic=lambda: 0.0, refuse=refuse)
    async with client(guards) as one:
        answers = [
            await one.post("/unread", content=b"code=7K4M"),
            await one.post("/unread", content=pieces()),
            await one.post("/read", content=b"code=7K4M"),
            await one.post("/unread"),
        ]
    assert [answer.headers.get("connection") for answer in answers] == ["close", "close", None, None]


async def test_a_request_that_says_its_end_in_two_ways_is_refused_and_its_connection_ends() -> None:
    slow = Slow()
    slow.go.set()
    guards = Guards(slow, style_hash="x", monotonic=lambda: 0.0, refuse=refuse)
    async with client(guards) as one:
        both = {"Content-Length": "4", "Transfer-Encoding": "chunked"}
        refused = await one.post("/", content=b"code", headers=both)
        assert (refused.status_code, refused.headers["Connection"]) == (400, "close")
        assert slow.arrived.empty()
        assert (await one.post("/", content=b"code")).status_code == 200


async def test_a_body_that_does_not_come_is_given_up(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("lauschen.http.limits.BODY_S", 0.01)
    guards = Guards(Slow(), style_hash="x", monotonic=lambda: 0.0, refuse=refuse)
    scope: Scope = {"type": "http", "method": "POST", "path": "/", "headers": [], "client": ("127.77.1.1", 1)}
    sent: list[int] = []

    async def never() -> dict[str, object]:
        await asyncio.Event().wait()
        return {}

    async def send(message: dict[str, object]) -> None:
        if message["type"] == "http.response.start":
            sent.append(int(str(message["status"])))

    await guards(scope, never, send)  # type: ignore[arg-type]
    assert sent == [408]
