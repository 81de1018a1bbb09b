"""A phone's local HTTP forward proxy: whatever browser or curl is pointed at it *is* that phone.

At the door: GET and HEAD of plain HTTP are redirected, other methods get 511, CONNECT gets 403, except to the
walled garden (RFC 8952, RFC 6585 section 6).
"""

import asyncio
import contextlib
from asyncio import StreamReader, StreamWriter
from dataclasses import dataclass
from urllib.parse import parse_qsl, urlsplit

from lauschen.road.clock import Clock
from lauschen.standins.access_device.device import AccessPoint, Phone
from lauschen.standins.access_device.habits import LOGIN_HOST
from lauschen.standins.access_device.internet import answer
from lauschen.standins.access_device.session import Session

LARGEST_HEAD = 16 * 1024
READ = 64 * 1024
REJOINING_S = 10.0


@dataclass(frozen=True, slots=True)
class Asked:
    """One request line and its headers."""

    method: str
    url: str
    host: str
    port: int
    path: str
    headers: list[tuple[str, str]]
    size: int

    @property
    def length(self) -> int:
        value = next((v for n, v in self.headers if n.lower() == "content-length"), "0")
        return int(value) if value.isdigit() else 0


class PhoneProxy:
    """One listening port on loopback."""

    def __init__(
        self,
        point: AccessPoint,
        phone: Phone,
        clock: Clock,
        page_hosts: dict[str, tuple[str, int]],
        garden: set[str],
    ) -> None:
        self._point = point
        self.phone = phone
        self.port = 0
        self._clock = clock
        self._page_hosts = page_hosts
        """Names that lead to the guest portal, on which address it really listens."""
        self._garden = garden
        """Hosts that may be reached before login."""
        self._server: asyncio.Server | None = None
        self._open: set[asyncio.Task[None]] = set()

    async def start(self, port: int = 0) -> int:
        self._server = await asyncio.start_server(self._serve, "127.0.0.1", port)
        self.port = int(self._server.sockets[0].getsockname()[1])
        return self.port

    async def close(self) -> None:
        if self._server is not None:
            self._server.close()
            for flow in list(self._open):
                flow.cancel()
            await asyncio.gather(*self._open, return_exceptions=True)
            await self._server.wait_closed()

    async def _serve(self, reader: StreamReader, writer: StreamWriter) -> None:
        task = asyncio.current_task()
        if task is not None:
            self._open.add(task)
            task.add_done_callback(self._open.discard)
        try:
            asked = await _read_head(reader)
            if asked is not None:
                await self._carry(asked, reader, writer)
        except (ConnectionError, asyncio.IncompleteReadError, asyncio.CancelledError):
            pass  # a flow that was cut, or a browser that went away
        finally:
            writer.close()
            with contextlib.suppress(ConnectionError, asyncio.CancelledError):
                await writer.wait_closed()

    async def _carry(self, asked: Asked, reader: StreamReader, writer: StreamWriter) -> None:
        if self.phone.session is None and self.phone.wants_in:
            # Between two associations a phone repeats its packets for a while.
            with contextlib.suppress(TimeoutError):
                await asyncio.wait_for(self.phone.came.wait(), REJOINING_S)
        session = self.phone.session
        if session is None:
            await _say(writer, "502 Bad Gateway", "This phone is not on the Wi-Fi.")
            return
        session.last_traffic = self._clock.monotonic()
        session.octets_in += asked.size
        if asked.host == LOGIN_HOST and self._point.habits.has_own_login:
            await self._log_in(asked, reader, writer)
            return
        is_garden = asked.host in self._garden
        if session.placement.is_door and not is_garden:
            await self._stop_at_door(asked, session, writer)
            return
        task = asyncio.current_task()
        if task is not None and not is_garden:
            session.flows.add(task)
        try:
            if asked.method == "CONNECT":
                await _say(writer, "502 Bad Gateway", "The simulated internet speaks plain HTTP only.")
            elif asked.host in self._page_hosts:
                await self._relay(asked, session, reader, writer)
            else:
                await self._answer(asked, session, writer)
        finally:
            if task is not None:
                session.flows.discard(task)

    async def _stop_at_door(self, asked: Asked, session: Session, writer: StreamWriter) -> None:
        page = self._point.page_for(self.phone, asked.url)
        if asked.method == "CONNECT":
            await _say(writer, "403 Forbidden", "Not before login.")
        elif asked.method in ("GET", "HEAD") and page is not None:
            await _say(writer, "302 Found", "", [("Location", page), ("Cache-Control", "no-store")])
        else:
            headers = [("Cache-Control", "no-store")]
            await _say(
                writer, "511 Network Authentication Required", "Log in to this network first.", headers
            )

    async def _log_in(self, asked: Asked, reader: StreamReader, writer: StreamWriter) -> None:
        """The access device's own login page."""
        body = await reader.readexactly(asked.length) if asked.length else b""
        form = dict(parse_qsl(body.decode()))
        is_in = await self._point.log_in(self.phone, form.get("user", ""), form.get("pass", ""))
        where = form.get("then") if is_in else None
        if where:
            await _say(writer, "302 Found", "", [("Location", where), ("Cache-Control", "no-store")])
        else:
            await _say(writer, "200 OK", "You are in." if is_in else "The entrance does not know you.")

    async def _relay(
        self, asked: Asked, session: Session, reader: StreamReader, writer: StreamWriter
    ) -> None:
        """To the real guest portal, from the phone's own address."""
        host, port = self._page_hosts[asked.host]
        up_reader, up_writer = await asyncio.open_connection(host, port, local_addr=(self.phone.ip, 0))
        try:
            kept = [(n, v) for n, v in asked.headers if n.lower() not in ("proxy-connection", "connection")]
            lines = [
                f"{asked.method} {asked.path} HTTP/1.1",
                *(f"{n}: {v}" for n, v in kept),
                "Connection: close",
            ]
            up_writer.write("\r\n".join([*lines, "", ""]).encode("latin-1"))
            body = await reader.readexactly(asked.length) if asked.length else b""
            up_writer.write(body)
            session.octets_in += len(body)
            await up_writer.drain()
            while piece := await up_reader.read(READ):
                session.octets_out += len(piece)
                writer.write(piece)
                await writer.drain()
        finally:
            up_writer.close()

    async def _answer(self, asked: Asked, session: Session, writer: StreamWriter) -> None:
        answered = answer(asked.host, asked.path)
        head = _head(
            answered.status,
            [
                ("Content-Type", answered.content_type),
                ("Content-Length", str(answered.length)),
                ("Cache-Control", "no-store"),
            ],
        )
        session.octets_out += len(head)
        writer.write(head)
        if asked.method != "HEAD":
            async for piece in answered.body():
                writer.write(piece)
                await writer.drain()
                session.octets_out += len(piece)
        await writer.drain()


async def _read_head(reader: StreamReader) -> Asked | None:
    try:
        octets = await reader.readuntil(b"\r\n\r\n")
    except (asyncio.IncompleteReadError, asyncio.LimitOverrunError):
        return None
    if len(octets) > LARGEST_HEAD:
        return None
    lines = octets.decode("latin-1").split("\r\n")
    parts = lines[0].split(" ")
    if len(parts) != 3:
        return None
    method, target, _ = parts
    headers = [(n, v.strip()) for n, _, v in (line.partition(":") for line in lines[1:] if line)]
    if method == "CONNECT":
        host, _, port = target.partition(":")
        return Asked(method, target, host.lower(), int(port or 443), "", headers, len(octets))
    split = urlsplit(target)
    if split.scheme != "http" or not split.hostname:
        return None
    path = (split.path or "/") + (f"?{split.query}" if split.query else "")
    return Asked(method, target, split.hostname, split.port or 80, path, headers, len(octets))


async def _say(
    writer: StreamWriter, status: str, text: str, headers: list[tuple[str, str]] | None = None
) -> None:
    body = text.encode()
    writer.write(
        _head(
            status,
            [
                *(headers or []),
                ("Content-Type", "text/plain; charset=utf-8"),
                ("Content-Length", str(len(body))),
            ],
        )
        + body
    )
    await writer.drain()


def _head(status: str, headers: list[tuple[str, str]]) -> bytes:
    lines = [f"HTTP/1.1 {status}", *(f"{n}: {v}" for n, v in headers), "Connection: close", "", ""]
    return "\r\n".join(lines).encode("latin-1")
