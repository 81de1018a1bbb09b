"""The guest page beside a bare "hello" of the same HTTP server: GETs of a page, and codes that let somebody in.

Each guest comes from an address of its own, as in a house: what one address may ask is limited.
"""

import asyncio
import re
import time
from dataclasses import dataclass

from bench.load import Measured
from bench.packets import GARDEN, GUEST, INSIDE, WEST
from lauschen.core.words.tokens import PortalToken, sign_token
from lauschen.demo.site import PAGE_HOST

GUESTS, EACH, AT_ONCE, ROUNDS = 240, 4, 16, 9
_CSRF = re.compile(rb'name="csrf" value="([0-9a-f]+)"')
_LENGTH = re.compile(rb"content-length: (\d+)", re.IGNORECASE)
_LOCATION = re.compile(rb"location: \S*?(/visit/\S+)", re.IGNORECASE)


@dataclass
class Visitor:
    """A guest with a connection kept open, and the page it is on."""

    number: int
    reader: asyncio.StreamReader
    writer: asyncio.StreamWriter
    path: str = "/"
    csrf: str = ""

    async def come_again(self, port: int) -> None:
        """A connection that waited too long for its next request was closed."""
        self.writer.close()
        self.reader, self.writer = await _connect(port, self.number)

    async def ask(self, path: str, form: str | None = None) -> tuple[int, bytes, bytes]:
        """Status, head and body of an answer."""
        host = f"Host: {PAGE_HOST}\r\n"
        if form is None:
            self.writer.write(f"GET {path} HTTP/1.1\r\n{host}\r\n".encode())
        else:
            kind = f"Origin: http://{PAGE_HOST}\r\nContent-Type: application/x-www-form-urlencoded\r\n"
            length = f"Content-Length: {len(form)}\r\n"
            self.writer.write(f"POST {path} HTTP/1.1\r\n{host}{kind}{length}\r\n{form}".encode())
        head = await self.reader.readuntil(b"\r\n\r\n")
        found = _LENGTH.search(head)
        body = await self.reader.readexactly(int(found[1])) if found else b""
        return int(head[9:12]), head, body


async def _connect(port: int, number: int) -> tuple[asyncio.StreamReader, asyncio.StreamWriter]:
    source = f"127.78.{number // 250}.{number % 250 + 1}"
    return await asyncio.open_connection("127.0.0.1", port, local_addr=(source, 0))


async def come(port: int, number: int) -> Visitor:
    return Visitor(number, *await _connect(port, number))


async def open_page(visitor: Visitor, key: bytes) -> None:
    """By the address that its access device handed out."""
    token = PortalToken(type(GUEST)(GUEST + INSIDE + visitor.number), WEST, GARDEN, int(time.time()) + 900)
    _, head, _ = await visitor.ask(f"/?t={sign_token(token, key)}")
    found = _LOCATION.search(head)
    assert found is not None, head
    visitor.path = found[1].decode()
    _, _, body = await visitor.ask(visitor.path)
    csrf = _CSRF.search(body)
    assert csrf is not None
    visitor.csrf = csrf[1].decode()


async def measure(requests: list[tuple[Visitor, str, str | None]]) -> Measured:
    """A fixed number at once, one at a time for each visitor."""
    waits: list[float] = []
    lines = [[one for one in requests if one[0].number % AT_ONCE == n] for n in range(AT_ONCE)]

    async def work(line: list[tuple[Visitor, str, str | None]]) -> None:
        for visitor, path, form in line:
            began = time.perf_counter()
            status, _, body = await visitor.ask(path, form)
            assert status in (200, 303), (status, body[:200])
            waits.append(time.perf_counter() - began)

    began = time.perf_counter()
    await asyncio.gather(*(work(line) for line in lines))
    took = time.perf_counter() - began
    waits.sort()
    return Measured(len(waits) / took, waits[len(waits) // 2] * 1000, waits[len(waits) * 99 // 100] * 1000)


async def log_in(guests: list[Visitor], codes: list[str], part: int) -> Measured:
    """A third of the guests."""
    third = GUESTS // 3
    typing = guests[part * third : (part + 1) * third]
    forms = [
        (v, f"{v.path}/by/code", f"csrf={v.csrf}&code={code}")
        for v, code in zip(typing, codes[part * third :], strict=False)
    ]
    return await measure(forms)


async def pages(hello: int, portal: int, key: bytes, codes: list[str]) -> dict[str, list[Measured]]:
    """Short rounds, alternating, since a machine's rate drifts: at the door, where each guest types a code, and
    inside; `hello` and `hello_inside` are the bare rounds beside the one and the other."""
    runs: dict[str, list[Measured]] = {"login": []}
    guests = []
    for first in range(
        0, GUESTS, AT_ONCE
    ):  # quickly: a connection that waits for seconds without a word is closed
        some = await asyncio.gather(*(come(portal, first + n) for n in range(AT_ONCE)))
        await asyncio.gather(*(open_page(one, key) for one in some))
        guests += some
    bare = [await come(hello, number) for number in range(GUESTS)]

    async def alternate(least: str, what: str) -> None:
        for _ in range(ROUNDS):
            for guest in guests:
                await guest.come_again(portal)
            both = (least, [(v, "/") for v in bare]), (what, [(v, v.path) for v in guests])
            for name, asked in both:
                found = await measure([(v, path, None) for v, path in asked for _ in range(EACH)])
                runs.setdefault(name, []).append(found)

    await alternate("hello", "page")
    for part in range(3):
        for guest in guests:
            await guest.come_again(portal)
        runs["login"].append(await log_in(guests, codes, part))
    await alternate("hello_inside", "inside")
    for visitor in bare + guests:
        visitor.writer.close()
    return runs
