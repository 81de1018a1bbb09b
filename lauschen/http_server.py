"""HTTP listeners: uvicorn on sockets of ours, inside our loop, and no patience with slow clients."""

import asyncio
import contextlib
import socket
from collections.abc import Iterator
from typing import Any

import h11
import uvicorn
from starlette.types import ASGIApp
from uvicorn.protocols.http.h11_impl import H11Protocol

HEAD_S = 10.0
"""So long a client may take to send a request's head (rulings 6.13); bodies are the guards' business."""


class PatientProtocol(H11Protocol):
    """Closes a connection whose next request does not come to the end of its head in time."""

    _late: asyncio.TimerHandle | None = None

    def connection_made(self, transport: Any) -> None:
        super().connection_made(transport)
        self._late = self.loop.call_later(HEAD_S, self._cut_off)

    def data_received(self, data: bytes) -> None:
        super().data_received(data)
        if self.conn.their_state is not h11.IDLE:
            self._stop_waiting()
        elif self._late is None and data:
            self._late = self.loop.call_later(HEAD_S, self._cut_off)

    def connection_lost(self, exc: Exception | None) -> None:
        self._stop_waiting()
        super().connection_lost(exc)

    def _stop_waiting(self) -> None:
        if self._late is not None:
            self._late.cancel()
            self._late = None

    def _cut_off(self) -> None:
        self._late = None
        if self.conn.their_state is h11.IDLE:
            self.transport.close()


class HttpServer:
    """uvicorn on a socket of ours, inside our loop, without its signal handlers."""

    def __init__(self, app: ASGIApp, sock: socket.socket) -> None:
        config = uvicorn.Config(
            app,
            loop="none",
            lifespan="off",
            log_config=None,
            access_log=False,
            server_header=False,
            h11_max_incomplete_event_size=8192,
            http=PatientProtocol,
            ws="none",
            timeout_keep_alive=10,
            timeout_graceful_shutdown=1,
            proxy_headers=False,
        )
        self._server = _QuietServer(config)
        self._socket = sock
        self._task: asyncio.Task[None] | None = None

    async def begin(self) -> None:
        self._task = asyncio.create_task(self._server.serve(sockets=[self._socket]))
        while not self._server.started:
            if self._task.done():
                await self._task
                raise RuntimeError("the HTTP listener did not start")
            await asyncio.sleep(0.005)

    async def stop(self) -> None:
        self._server.should_exit = True
        if self._task is not None:
            await self._task


class _QuietServer(uvicorn.Server):
    @contextlib.contextmanager
    def capture_signals(self) -> Iterator[None]:
        """Signals are the command line's business."""
        yield


def listen(host: str, port: int) -> socket.socket:
    sock = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    sock.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    sock.bind((host, port))
    sock.listen(512)
    sock.setblocking(False)
    return sock
