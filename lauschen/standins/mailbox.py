"""A mail server that keeps what it gets: real SMTP with STARTTLS, and habits of bad servers for tests."""

import asyncio
import base64
import email
import email.policy
import logging
from collections import Counter
from dataclasses import dataclass, field
from email.message import EmailMessage
from enum import StrEnum
from typing import Any, cast

from aiosmtpd.smtp import SMTP, AuthResult, Envelope, LoginPassword, Session

from lauschen.standins.authority import StandInTls

LARGEST = 1 << 20
logging.getLogger("mail.log").setLevel(logging.ERROR)  # it warns of itself at each log-in


class Habit(StrEnum):
    """How it behaves."""

    GOOD = "good"
    GREYLISTS = "greylists"
    """Asks strangers to come again: the first try of each message is refused for now."""
    REFUSES = "refuses"
    """Says that there is no such address."""
    DISTRUSTS = "distrusts"
    """Takes no message from us."""
    CLOSES = "closes"
    """Accepts the connection, and closes it."""
    CLOSES_LATE = "closes_late"
    """Takes the message, and closes before it says so."""
    HANGS = "hangs"
    """Accepts the connection, and says nothing."""


@dataclass(frozen=True, slots=True)
class Mail:
    """One that was taken."""

    to: str
    octets: bytes
    parsed: EmailMessage

    @property
    def subject(self) -> str:
        return str(self.parsed["Subject"])

    @property
    def mark(self) -> str:
        return str(self.parsed["Message-ID"])

    def part(self, kind: str) -> str:
        """Its text as `plain` or `html`; empty when it has none."""
        body = self.parsed.get_body((cast("Any", kind),))
        return "" if body is None else str(body.get_content()).replace("\r\n", "\n")

    def shown(self) -> str:
        """Its HTML with its pictures inside, as a mail program shows it."""
        text = self.part("html")
        for part in self.parsed.walk():
            if part.get_content_maintype() == "image":
                picture = base64.b64encode(cast(bytes, part.get_payload(decode=True))).decode()
                cid = str(part["Content-ID"]).strip("<>")
                text = text.replace(f"cid:{cid}", f"data:{part.get_content_type()};base64,{picture}")
        return text


@dataclass
class Mailbox:
    """`open` begins to listen. `user`, `password`: asked for when they are not empty."""

    tls: StandInTls
    user: str = ""
    password: str = ""
    is_tls_from_start: bool = False
    habit: Habit = Habit.GOOD
    mails: list[Mail] = field(default_factory=list)
    tries: Counter[str] = field(default_factory=Counter)
    """Of each recipient, how often somebody began to send."""
    came: asyncio.Event = field(default_factory=asyncio.Event)
    """Set whenever a mail was taken or refused, or somebody has gone."""
    port: int = 0
    _server: asyncio.Server | None = None
    _open: set["_Session | _Rude"] = field(default_factory=set)

    async def open(self, host: str = "127.0.0.1", port: int = 0) -> int:
        self._server = await asyncio.get_running_loop().create_server(
            self._protocol, host, port, ssl=self.tls.context if self.is_tls_from_start else None
        )
        self.port = int(self._server.sockets[0].getsockname()[1])
        return self.port

    async def close(self) -> None:
        if self._server is not None:
            self._server.close()
        for one in list(self._open):
            await one.end()
        await asyncio.sleep(0)  # so that their sockets are closed

    async def until(self, count: int, *, within: float = 20.0) -> list[Mail]:
        """All mails, once there are so many."""
        async with asyncio.timeout(within):
            while len(self.mails) < count:
                self.came.clear()
                await self.came.wait()
        return self.mails

    def enter(self, client: "_Session | _Rude") -> None:
        self._open.add(client)

    def leave(self, client: "_Session | _Rude") -> None:
        self._open.discard(client)
        self.came.set()

    # What aiosmtpd calls; the names are its own.

    async def handle_RCPT(  # noqa: N802
        self, server: SMTP, session: Session, envelope: Envelope, address: str, options: list[str]
    ) -> str:
        self.tries[address] += 1
        self.came.set()
        if self.habit is Habit.REFUSES:
            return "550 5.1.1 No such mailbox here"
        if self.habit is Habit.GREYLISTS and self.tries[address] == 1:
            return "451 4.7.1 Greylisted, come again in five minutes"
        envelope.rcpt_tos.append(address)
        return "250 2.1.5 OK"

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:  # noqa: N802
        if self.habit is Habit.DISTRUSTS:
            return "554 5.7.1 Refused by policy"
        octets = envelope.content if isinstance(envelope.content, bytes) else b""
        parsed = email.message_from_bytes(octets, policy=email.policy.default)
        for to in envelope.rcpt_tos:
            self.mails.append(Mail(to, octets, parsed))
        self.came.set()
        if self.habit is Habit.CLOSES_LATE:
            cast(asyncio.Transport, server.transport).abort()
        return f"250 2.0.0 OK: kept as number {len(self.mails)}"

    def authenticate(
        self, server: SMTP, session: Session, envelope: Envelope, mechanism: str, data: Any
    ) -> AuthResult:
        asked = data if isinstance(data, LoginPassword) else LoginPassword(b"", b"")
        is_right = (asked.login.decode(), asked.password.decode()) == (self.user, self.password)
        return AuthResult(success=is_right, handled=is_right)

    def _protocol(self) -> asyncio.BaseProtocol:
        if self.habit in (Habit.HANGS, Habit.CLOSES):
            return _Rude(self.habit is Habit.CLOSES, self)
        return _Session(
            self,
            data_size_limit=LARGEST,
            hostname="mailbox.hollerau.example",
            tls_context=None if self.is_tls_from_start else self.tls.context,
            require_starttls=not self.is_tls_from_start,
            auth_required=bool(self.user),
            auth_require_tls=not self.is_tls_from_start,
            authenticator=self.authenticate if self.user else None,
            loop=asyncio.get_running_loop(),
        )


class _Session(SMTP):
    """One client; known until it is gone, so that `close` leaves nobody behind."""

    def __init__(self, box: Mailbox, **settings: Any) -> None:
        super().__init__(box, **settings)
        self._box = box

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        super().connection_made(transport)
        self._box.enter(self)

    def connection_lost(self, error: Exception | None) -> None:
        super().connection_lost(error)
        self._box.leave(self)

    async def end(self) -> None:
        """Also one whose handshake failed, which is never told that its connection is lost."""
        for transport in (self.transport, self._original_transport):
            if transport is not None:
                cast(asyncio.Transport, transport).abort()
        if self._handler_coroutine is not None:
            self._handler_coroutine.cancel()
            await asyncio.gather(self._handler_coroutine, return_exceptions=True)


class _Rude(asyncio.Protocol):
    """One that gets no answer."""

    def __init__(self, closes: bool, box: "Mailbox") -> None:
        self._closes, self._box = closes, box
        self.transport: asyncio.BaseTransport | None = None

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        self.transport = transport
        self._box.enter(self)
        if self._closes:
            transport.close()

    def connection_lost(self, error: Exception | None) -> None:
        self._box.leave(self)

    async def end(self) -> None:
        if self.transport is not None:
            cast(asyncio.Transport, self.transport).abort()
