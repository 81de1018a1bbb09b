"""What both listeners do around each request: refuse, count the body, add headers, catch what raises."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from starlette.datastructures import MutableHeaders
from starlette.requests import Request
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from lauschen.core.words.ip import plain_ip
from lauschen.http.limits import LARGEST_BODY, Body, fault_of_head


class Guard:
    """ASGI middleware; each listener says what it refuses, what it adds and how it words an error."""

    def __init__(self, app: ASGIApp, *, on_fault: Callable[[Exception], None]) -> None:
        self._app = app
        self._on_fault = on_fault

    def status_of_refusal(self, scope: Scope) -> int | None:
        """Why nothing of a request is read."""
        raise NotImplementedError

    def largest(self, scope: Scope) -> int:
        """Octets of a body that is taken, once `status_of_refusal` has nothing against the request."""
        return LARGEST_BODY

    def answer(self, request: Request, status: int) -> Response:
        """What is said in place of the application."""
        raise NotImplementedError

    def add_headers(self, headers: MutableHeaders, scope: Scope) -> None:
        """What every answer carries."""
        raise NotImplementedError

    @contextmanager
    def while_answered(self, scope: Scope) -> Iterator[None]:
        """Around the application."""
        yield

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        if scope.get("client"):
            # As a proxy wrote it, perhaps as an IPv4 address within an IPv6 one.
            scope["client"] = (plain_ip(scope["client"][0]), scope["client"][1])
        body, has_begun = Body(receive, self.largest(scope)), False

        async def send_guarded(message: Message) -> None:
            nonlocal has_begun
            if body.fault is not None and not has_begun:
                return  # what the application makes of half a body is not the answer
            if message["type"] == "http.response.start":
                has_begun = True
                headers = MutableHeaders(scope=message)
                self.add_headers(headers, scope)
                if body.is_left(scope["headers"]):
                    headers["Connection"] = "close"  # what is left of the request is not waited for
            await send(message)

        status = fault_of_head(scope) or self.status_of_refusal(scope)
        if status is None:
            try:
                with self.while_answered(scope):
                    await self._app(scope, body.receive, send_guarded)
            except Exception as exc:
                if body.fault is None:
                    self._on_fault(exc)
                    status = 500
            status = body.fault or status
        if status is not None and not has_begun:
            body.fault = None
            response = self.answer(Request(scope), status)
            response.headers["Connection"] = "close"
            await response(scope, receive, send_guarded)
