"""The whole of it, in one process: real sockets, stand-in access points, phones with proxies, guests that browse."""

import asyncio
import re
import shutil
from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager
from dataclasses import replace
from functools import cache
from pathlib import Path
from tempfile import mkdtemp
from typing import Any

import httpx

from lauschen.core.config.dialect import Dialect
from lauschen.core.decide.standing import State
from lauschen.core.ids import Mac
from lauschen.demo import site
from lauschen.demo.crowd import NO_TLS
from lauschen.demo.run import Demo, start_demo
from lauschen.road.clock import MovableClock
from lauschen.standins.access_device.device import AccessPoint, Phone
from lauschen.standins.access_device.habits import Habits
from lauschen.store import devices
from lauschen.store.config.dialects import save_dialect
from lauschen.store.db import DATABASE_NAME, migrate, open_writer

PATIENCE_S = 30.0
FIRST_STOP = "http://score-of-the-day.example/"
PAGE = f"http://{site.PAGE_HOST}"
_CSRF = re.compile(r'name="csrf" value="([0-9a-f]+)"')


class Guest:
    """A browser behind a phone's proxy that follows redirects and remembers the page it is on."""

    def __init__(self, phone: Phone, proxy_port: int) -> None:
        self.phone = phone
        transport = httpx.AsyncHTTPTransport(proxy=f"http://127.0.0.1:{proxy_port}", verify=NO_TLS)
        self.http = httpx.AsyncClient(transport=transport, timeout=PATIENCE_S)
        self.url = ""
        self.html = ""

    async def open(self, url: str = FIRST_STOP) -> httpx.Response:
        answer = await self.http.get(url, follow_redirects=True)
        self.url, self.html = str(answer.url).partition("?")[0], answer.text
        return answer

    async def type_code(self, code: str, **headers: str) -> httpx.Response:
        return await self.post("by/code", {"code": code, "csrf": self.csrf()}, **headers)

    async def log_out(self) -> httpx.Response:
        return await self.post("leave", {"csrf": self.csrf()})

    async def post(self, what: str, fields: dict[str, str], **headers: str) -> httpx.Response:
        answer = await self.http.post(
            f"{self.url}/{what}", data=fields, headers={"Origin": PAGE, **headers}, follow_redirects=True
        )
        self.html = answer.text
        return answer

    async def get(self, url: str) -> httpx.Response:
        return await self.http.get(url)

    def csrf(self) -> str:
        found = _CSRF.search(self.html)
        return found[1] if found else ""

    @property
    def heading(self) -> str:
        found = re.search(r"<h1>([^<]+)</h1>", self.html)
        return found[1] if found else ""


class Garden:
    """A running demo without its crowd, and words for what tests do with it."""

    def __init__(self, demo: Demo) -> None:
        self.demo = demo
        self.road = demo.service.road
        self.clock = demo.clock
        self.point: AccessPoint = demo.points[0]
        self.guests = [Guest(p, x.port) for p, x in zip(demo.phones, demo.proxies, strict=False)]

    @property
    def student(self) -> Guest:
        """Whose phone joins the Ensemble."""
        return self.guests[4]

    @property
    def player(self) -> Guest:
        """Whose device is plugged into the wall of a practice room."""
        return self.guests[5]

    async def speak(self, habits: Habits, **changes: Any) -> Dialect:
        """The access points behave so from now on, and the house's dialect says so."""
        dialect = next(iter(self.road.config.dialects.values()))
        changed = replace(dialect, **changes)
        await self.road.act(lambda tx: save_dialect(tx.conn, tx.keys, changed))
        await self.demo.service.reload()
        for point in self.demo.points:
            point.habits = habits
        return changed

    async def staff(self) -> httpx.AsyncClient:
        """Somebody at the desk, signed in."""
        base = f"http://127.0.0.1:{self.demo.service.ports['staff']}"
        http = httpx.AsyncClient(base_url=base, timeout=PATIENCE_S, verify=NO_TLS)
        answer = await http.post(
            "/api/session", json={"name": site.STAFF_NAME, "password": site.STAFF_PASSWORD}
        )
        assert answer.status_code == 200, answer.text
        http.headers["X-Lauschen-Form"] = answer.json()["csrf"]
        return http

    def state(self, guest: Guest) -> tuple[State, State | None]:
        standing = devices.find_standing(self.demo.service.reader, guest.phone.mac, 1)  # type: ignore[arg-type]
        assert standing is not None
        return standing.state, standing.going

    async def until(self, condition: Callable[[], bool]) -> None:
        """Waits for committed groups until something holds."""
        async with asyncio.timeout(PATIENCE_S):
            while not condition():
                await self.road.feed.changed.wait()

    async def until_state(self, guest: Guest, state: State) -> None:
        await self.until(lambda: self.state(guest) == (state, None))

    async def until_filter(self, guest: Guest, name: str) -> None:
        """Waits until the access point itself has placed the phone so."""
        phone = guest.phone
        async with asyncio.timeout(PATIENCE_S):
            await self.point.until(
                lambda: phone.session is not None and phone.session.placement.filter_name == name
            )

    async def let_in(self, guest: Guest, code: str) -> None:
        await self.point.join(guest.phone)
        await guest.open()
        await guest.type_code(code)
        await self.until_filter(guest, "visitor")
        await self.until_state(guest, State.INSIDE)
        await guest.open(guest.url)

    def path(self, guest: Guest) -> str:
        mac: Mac = guest.phone.mac
        return f"/api/guests/{mac:012x}/1"


@cache
def _empty_database() -> Path:
    """With its tables and nothing in them, made once in each process: making them takes a quarter of a second."""
    path = Path(mkdtemp(prefix="lauschen-tests-")) / DATABASE_NAME
    conn = open_writer(path)
    migrate(conn)
    conn.close()
    return path


@asynccontextmanager
async def open_garden(data: Path) -> AsyncIterator[Garden]:
    shutil.copy(_empty_database(), data)
    demo = await start_demo(data, MovableClock(), use_free_ports=True, crowd_phones=0)
    garden = Garden(demo)
    try:
        yield garden
    finally:
        for guest in garden.guests:
            await guest.http.aclose()
        await demo.close()
