"""HTTP listeners: uvicorn on sockets of ours, inside our loop, and no patience with slow clients."""

import asyncio
import contextlib
import socket
import ssl
from collections import Counter
from collections.abc import Iterator, Sequence
from functools import partial
from typing import Any

import h11
import uvicorn
from starlette.types import ASGIApp
from uvicorn.protocols.http.h11_impl import H11Protocol

from lauschen.core.words.ip import group_of, in_url, plain_ip
from lauschen.http.limits import BODY_S, Crowd

HEAD_S = 10.0
"""So long a client may take to send a request's head (rulings 6.13)."""
HANDSHAKE_S = 10.0
MOST_HANDSHAKES, HANDSHAKES_EACH = 200, 16
"""Under way at once; of one address."""
TICK_S = 0.1
ACCEPT_AGAIN_S = 0.5
GRACE_S = 1.0
"""A body that comes too slowly is answered first, and then cut off."""


class PatientProtocol(H11Protocol):
    """Closes a connection whose request does not come to the end of its head, or of its body, in time.

    Also one whose body nobody reads any more, because the request was refused already.
    """

    def __init__(self, crowd: Crowd, body_s: float, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self._crowd, self._body_s = crowd, body_s
        self._late: asyncio.TimerHandle | None = None
        self._waits_for: Any = None

    @property
    def is_idle(self) -> bool:
        return self.conn.their_state is h11.IDLE

    def cut(self) -> None:
        self.transport.abort()

    def connection_made(self, transport: Any) -> None:
        super().connection_made(transport)
        address = self.client[0] if self.client else ""
        if not self._crowd.enter(self, address):
            transport.abort()
            return
        self._wait_for(h11.IDLE)

    def data_received(self, data: bytes) -> None:
        super().data_received(data)
        state = self.conn.their_state
        self._wait_for(state if state is h11.SEND_BODY or (state is h11.IDLE and data) else None)

    def connection_lost(self, exc: Exception | None) -> None:
        self._crowd.leave(self)
        self._wait_for(None)
        super().connection_lost(exc)

    def _wait_for(self, state: Any) -> None:
        """Gives the head (IDLE) or the body its time; pieces of it do not begin that anew."""
        if state is self._waits_for and self._late is not None:
            return
        if self._late is not None:
            self._late.cancel()
            self._late = None
        self._waits_for = state
        if state is not None:
            seconds = HEAD_S if state is h11.IDLE else self._body_s + GRACE_S
            self._late = self.loop.call_later(seconds, self._cut_off)

    def _cut_off(self) -> None:
        self._late = None
        if self.conn.their_state is self._waits_for:
            self.transport.close()


class HttpServer:
    """uvicorn on a socket of ours, inside our loop, without its signal handlers."""

    def __init__(
        self,
        app: ASGIApp,
        socks: Sequence[socket.socket],
        crowd: Crowd | None = None,
        *,
        proxies: tuple[str, ...] = (),
        tls: ssl.SSLContext | None = None,
        body_s: float = BODY_S,
    ) -> None:
        """`proxies`: addresses whose forwarded headers are believed (rulings 6.3). `tls`: HTTPS and nothing else."""
        config = uvicorn.Config(
            app,
            loop="none",
            lifespan="off",
            log_config=None,
            access_log=False,
            server_header=False,
            h11_max_incomplete_event_size=8192,
            http=partial(PatientProtocol, crowd or Crowd(1000, 1000), body_s),  # type: ignore[arg-type]
            ws="none",
            timeout_keep_alive=10,
            timeout_graceful_shutdown=1,
            proxy_headers=bool(proxies),
            forwarded_allow_ips=list(proxies),
        )
        self._server = _QuietServer(config)
        self._sockets = [] if tls is not None else list(socks)
        self._task: asyncio.Task[None] | None = None
        self._doors = (
            [_TlsDoor(sock, tls, self._server, frozenset(proxies)) for sock in socks]
            if tls is not None
            else []
        )

    async def begin(self) -> None:
        self._task = asyncio.create_task(self._server.serve(sockets=self._sockets))
        while not self._server.started:
            if self._task.done():
                await self._task
                raise RuntimeError("the HTTP listener did not start")
            await asyncio.sleep(0.005)
        for door in self._doors:
            door.open()

    async def stop(self) -> None:
        for door in self._doors:
            await door.close()
        self._server.end()
        if self._task is not None:
            await self._task


class _TlsDoor:
    """Handshakes before a connection is uvicorn's: counted, and with no patience, like connections themselves."""

    def __init__(
        self, sock: socket.socket, tls: ssl.SSLContext, server: uvicorn.Server, exempt: frozenset[str]
    ) -> None:
        self._socket, self._tls, self._server, self._exempt = sock, tls, server, exempt
        self._accepting: asyncio.Task[None] | None = None
        self._shaking: set[asyncio.Task[None]] = set()
        self._each: Counter[str] = Counter()

    def open(self) -> None:
        self._accepting = asyncio.create_task(self._accept())

    async def close(self) -> None:
        tasks = [task for task in (self._accepting, *self._shaking) if task is not None]
        for task in tasks:
            task.cancel()
        await asyncio.gather(*tasks, return_exceptions=True)
        self._socket.close()

    async def _accept(self) -> None:
        loop = asyncio.get_running_loop()
        while True:
            try:
                conn, address = await loop.sock_accept(self._socket)
            except OSError:  # no descriptor left: some come free again
                await asyncio.sleep(ACCEPT_AGAIN_S)
                continue
            client = plain_ip(str(address[0]))
            who = group_of(client)
            if len(self._shaking) >= MOST_HANDSHAKES or (
                self._each[who] >= HANDSHAKES_EACH and client not in self._exempt
            ):
                conn.close()
                continue
            self._each[who] += 1
            task = asyncio.create_task(self._shake(conn, who))
            self._shaking.add(task)
            task.add_done_callback(self._shaking.discard)

    async def _shake(self, conn: socket.socket, who: str) -> None:
        loop = asyncio.get_running_loop()
        try:
            await loop.connect_accepted_socket(
                self._protocol, conn, ssl=self._tls, ssl_handshake_timeout=HANDSHAKE_S
            )
        except (OSError, ssl.SSLError):
            conn.close()
        finally:
            self._each[who] -= 1
            if not self._each[who]:
                del self._each[who]

    def _protocol(self) -> asyncio.Protocol:
        config = self._server.config
        return config.http_protocol_class(  # type: ignore[call-arg]
            config=config, server_state=self._server.server_state, app_state=self._server.lifespan.state
        )


class _QuietServer(uvicorn.Server):
    def __init__(self, config: uvicorn.Config) -> None:
        super().__init__(config)
        self._ends = asyncio.Event()

    def end(self) -> None:
        self.should_exit = True
        self._ends.set()

    async def main_loop(self) -> None:
        """Ticks ten times a second, as it does without us, but ends at once."""
        counter = 0
        while not await self.on_tick(counter):
            counter = (counter + 1) % 864_000
            with contextlib.suppress(TimeoutError):
                await asyncio.wait_for(self._ends.wait(), TICK_S)

    @contextlib.contextmanager
    def capture_signals(self) -> Iterator[None]:
        """Signals are the command line's business."""
        yield


def listen(hosts: Sequence[str], port: int) -> list[socket.socket]:
    """A listening socket for each address, all with the same port, which the system chooses where 0 is asked for.

    OSError that says which address and port could not be had.
    """
    socks = list[socket.socket]()
    for host in hosts:
        socks.append(_listen(host, socks[0].getsockname()[1] if socks else port))
    return socks


def _listen(host: str, port: int) -> socket.socket:
    sock = socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET, socket.SOCK_STREAM)
    if sock.family is socket.AF_INET6:
        sock.setsockopt(socket.IPPROTO_IPV6, socket.IPV6_V6ONLY, 1)
    sock.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    # Connections have it from here, whatever loop accepts them: a body after its head waits for no acknowledgement.
    sock.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
    try:
        sock.bind((host, port))
    except OSError as exc:
        sock.close()
        raise OSError(exc.errno, f"{exc.strerror} (TCP {in_url(host)}:{port})") from exc
    sock.listen(512)
    sock.setblocking(False)
    return sock
