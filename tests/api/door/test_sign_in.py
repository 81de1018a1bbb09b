"""Signing in: guesses by many hands at once, cookies, and what ends with a session."""

import asyncio
import time
from collections.abc import AsyncIterator
from pathlib import Path
from typing import Any

import httpx
import pytest
from starlette.requests import Request
from starlette.responses import Response

from lauschen.api.door.gate import forget_session, session_token, set_session
from lauschen.api.door.tries import BY_NAME, BY_PAIR, BY_SOURCE, SLOWEST_S, SignInTries
from lauschen.core.errors import Unavailable
from lauschen.demo import site
from lauschen.road.clock import MovableClock
from lauschen.serve.service import Options, Service
from lauschen.store.first_sign_in import FIRST_SIGN_IN
from lauschen.store.people import staff
from tests.place import T0

SIGN_IN = {"name": site.STAFF_NAME, "password": site.STAFF_PASSWORD}
WRONG = {**SIGN_IN, "password": "no"}


class House:
    """A running service, and browsers at any address."""

    def __init__(self, service: Service) -> None:
        self.service = service
        self.opened: list[httpx.AsyncClient] = []

    def browser(self, address: str = "127.0.0.1") -> httpx.AsyncClient:
        transport = httpx.AsyncHTTPTransport(local_address=address)
        base = f"http://127.0.0.1:{self.service.ports['staff']}"
        self.opened.append(httpx.AsyncClient(transport=transport, base_url=base, timeout=20))
        return self.opened[-1]

    async def signed_in(self, who: dict[str, str] = SIGN_IN) -> httpx.AsyncClient:
        browser = self.browser()
        answer = await browser.post("/api/session", json=who)
        browser.headers["X-Lauschen-Form"] = answer.json()["csrf"]
        return browser

    async def log(self) -> list[str]:
        browser = await self.signed_in()
        return [line["text"] for line in (await browser.get("/api/log")).json()]


@pytest.fixture
async def house(data: Path) -> AsyncIterator[House]:
    options = Options(data, ("127.0.0.1", 0), ("127.0.0.1", 0), "127.0.0.1", 0, 0)
    made = House(Service(options, MovableClock(T0)))
    await made.service.start()
    yield made
    for browser in made.opened:
        await browser.aclose()
    await made.service.close()


async def test_forty_tries_at_once_are_eight_tries(house: House, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("lauschen.api.door.guards.SIGN_INS_AT_FIRST", 100)
    browser, asked = house.browser(), 0
    matches = house.service._office.passwords.matches

    async def counted(*args: Any) -> bool:
        nonlocal asked
        asked += 1
        return await matches(*args)

    monkeypatch.setattr(house.service._office.gate.passwords, "matches", counted)
    answers = await asyncio.gather(*(browser.post("/api/session", json=WRONG) for _ in range(10)))
    house.service.clock.advance(10)  # type: ignore[attr-defined]
    answers += await asyncio.gather(*(browser.post("/api/session", json=WRONG) for _ in range(10)))
    assert asked == BY_PAIR
    assert {a.status_code for a in answers} <= {422, 429, 503}
    assert (await browser.post("/api/session", json=SIGN_IN)).status_code in (429, 503)
    # The right person, somewhere else, is not locked out by that.
    assert (await house.browser("127.0.0.5").post("/api/session", json=SIGN_IN)).status_code == 200


def test_a_source_that_tries_many_names_has_its_share_too() -> None:
    tries = SignInTries()
    for number in range(BY_SOURCE):
        tries.begin(f"name-{number}", "a", T0)
    with pytest.raises(Unavailable):
        tries.begin("another", "a", T0 + 1)
    tries.begin("another", "b", T0 + 1)
    tries.begin("another", "a", T0 + 601)


def test_of_too_many_names_those_tried_longest_ago_are_forgotten(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("lauschen.api.door.tries.MOST_KEYS", 6)
    tries = SignInTries()
    for _ in range(8):
        tries.begin("ada", "a", T0)
    tries.begin("grace", "b", T0)
    with pytest.raises(Unavailable, match="Try again in ten minutes"):
        tries.begin("ada", "a", T0)
    tries.begin("mary", "c", T0)
    tries.begin("ada", "a", T0)


def test_right_passwords_are_no_guesses_and_a_name_only_becomes_slower() -> None:
    tries = SignInTries()
    for _ in range(100):
        guess = tries.begin("ada", "a", T0)
        assert guess.wait_s == 0
        tries.was_right(guess)
    waits = [tries.begin("ada", f"source-{n}", T0).wait_s for n in range(BY_NAME + 40)]
    assert waits[: BY_NAME + 1] == [0.0] * (BY_NAME + 1)
    assert waits[BY_NAME + 1] == pytest.approx(0.1)
    assert waits[-1] == SLOWEST_S


async def test_guesses_of_the_old_password_count_too(house: House) -> None:
    browser = await house.signed_in()
    body = {"old": "wrong-password", "new": "another-password"}
    answers = [(await browser.post("/api/password", json=body)).status_code for _ in range(BY_PAIR + 1)]
    assert answers == [422] * BY_PAIR + [503]


async def test_sign_ins_and_wrong_passwords_are_in_the_log(house: House) -> None:
    browser = house.browser("127.0.0.7")
    await browser.post("/api/session", json=WRONG)
    await browser.post("/api/session", json={**WRONG, "name": "my password, by mistake"})
    texts = await house.log()
    assert texts[:3] == [
        "gatehouse signed in from 127.0.0.1",
        "127.0.0.7 tried to sign in with a name that does not exist",
        "127.0.0.7 tried to sign in as gatehouse with a wrong password",
    ]


async def test_a_live_view_ends_with_its_session(house: House) -> None:
    browser = await house.signed_in()
    async with browser.stream("GET", "/api/feed") as feed:
        lines = feed.aiter_lines()
        assert await anext(lines) == "event: now"
        other = house.browser()
        other.cookies, other.headers = browser.cookies, browser.headers
        assert (await other.delete("/api/session")).status_code == 204
        began = time.monotonic()
        async with asyncio.timeout(30):
            async for _ in lines:
                pass  # it comes to its end
        assert time.monotonic() - began < 4  # not only with the next thing that is heard


async def test_nothing_is_read_of_a_body_before_the_sign_in_was_looked_at(house: House) -> None:
    sent = 0

    async def endless() -> AsyncIterator[bytes]:
        nonlocal sent
        for _ in range(3000):
            sent += 1
            yield b"x" * 100_000
            await asyncio.sleep(0)

    for path in ("/api/batches", "/api/session", "/api/nothing"):
        try:
            answer = await house.browser().post(path, content=endless())
        except httpx.NetworkError:
            continue  # it was cut off while it sent
        assert answer.status_code in (401, 413)
    assert sent < 600  # what the sockets hold, and no more


async def test_who_is_signed_in_may_not_send_too_much_either(house: House) -> None:
    browser = await house.signed_in()

    async def chunks() -> AsyncIterator[bytes]:
        for _ in range(8):
            yield b"x" * 10_000

    answer = await browser.post(
        "/api/batches", content=chunks(), headers={"Content-Type": "application/json"}
    )
    assert (answer.status_code, answer.json()["code"]) == (413, "too_large")
    assert (await browser.get("/api/session")).status_code == 200


async def test_a_first_password_that_was_changed_leaves_no_file_behind(house: House) -> None:
    file = house.service.options.data / FIRST_SIGN_IN
    file.write_text("First sign-in")
    hashed = await house.service._office.passwords.hash("first-password")
    await house.service.road.act(
        lambda tx: staff.put_first_password(tx.conn, "admin", hashed, until=tx.now + 60)
    )
    browser = house.browser()
    answer = await browser.post("/api/session", json={"name": "admin", "password": "first-password"})
    browser.headers["X-Lauschen-Form"] = answer.json()["csrf"]
    assert file.exists()
    body = {"old": "first-password", "new": "another-password"}
    assert (await browser.post("/api/password", json=body)).status_code == 200
    assert not file.exists()


def request_of(scheme: str, cookies: str = "") -> Request:
    headers = [(b"host", b"x"), (b"cookie", cookies.encode())]
    return Request(
        {"type": "http", "scheme": scheme, "method": "GET", "path": "/api/now", "headers": headers}
    )


def test_cookies_are_the_consoles_alone() -> None:
    """Browsers do not tell ports apart: the guest page of the same host must not get them."""
    plain, secured = Response(), Response()
    set_session(request_of("http"), plain, "t")
    set_session(request_of("https"), secured, "t")
    flags = {"HttpOnly", "SameSite=strict", "Max-Age=43200"}
    assert set(plain.headers["set-cookie"].split("; ")) == {"lauschen-office=t", "Path=/api", *flags}
    assert set(secured.headers["set-cookie"].split("; ")) == {
        "__Host-lauschen-office=t", "Path=/", "Secure", *flags,
    }  # fmt: skip
    both = "lauschen-office=a; __Host-lauschen-office=b"
    assert session_token(request_of("http", both)) == "a"
    assert session_token(request_of("https", both)) == "b"
    gone = Response()
    forget_session(request_of("https"), gone)
    assert "Secure" in gone.headers["set-cookie"]
    assert "Path=/;" in gone.headers["set-cookie"] + ";"


async def test_a_listed_proxy_says_whether_there_is_tls_and_who_asks(data: Path) -> None:
    options = Options(
        data, ("127.0.0.1", 0), ("127.0.0.1", 0), "127.0.0.1", 0, 0, proxies=("127.0.0.9",)
    )  # fmt: skip
    house = House(Service(options, MovableClock(T0)))
    await house.service.start()
    said = {"X-Forwarded-Proto": "https", "X-Forwarded-For": "192.0.2.7"}
    by_proxy = await house.browser("127.0.0.9").post("/api/session", json=SIGN_IN, headers=said)
    assert by_proxy.headers["set-cookie"].startswith("__Host-")
    by_stranger = await house.browser("127.0.0.8").post("/api/session", json=SIGN_IN, headers=said)
    assert by_stranger.headers["set-cookie"].startswith("lauschen-office=")
    texts = await house.log()
    assert texts[1:3] == ["gatehouse signed in from 127.0.0.8", "gatehouse signed in from 192.0.2.7"]
    said["X-Forwarded-For"] = "::ffff:192.0.2.8"
    await house.browser("127.0.0.9").post("/api/session", json=SIGN_IN, headers=said)
    assert (await house.log())[1] == "gatehouse signed in from 192.0.2.8"
    for browser in house.opened:
        await browser.aclose()
    await house.service.close()
