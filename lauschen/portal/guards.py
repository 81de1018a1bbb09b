"""What every answer to a guest carries, and what no guest may do too much of (rulings 6.3, 6.6, 6.13)."""

import asyncio
from collections import Counter, OrderedDict
from collections.abc import Callable

from starlette.datastructures import MutableHeaders
from starlette.requests import Request
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

LARGEST_BODY = 64 * 1024
POSTS_PER_S = 5
AT_ONCE = 20
"""Requests of one client that are being answered."""
TO_SEND_S = 10.0
MOST_CLIENTS = 10_000
FORMS_GO = "x-forms-go"
"""Set by a page whose form leaves this site: where `form-action` lets it go. Never leaves us."""


class _TooLarge(Exception):
    """A body without Content-Length went over the limit while it was read."""


class Guards:
    """ASGI middleware of the guest listener."""

    def __init__(
        self,
        app: ASGIApp,
        *,
        style_hash: str,
        monotonic: Callable[[], float],
        refuse: Callable[[Request, int], Response],
    ) -> None:
        self._app = app
        self._refuse = refuse
        self._monotonic = monotonic
        self._posts: OrderedDict[str, tuple[float, float]] = OrderedDict()
        self._open: Counter[str] = Counter()
        self._policy = (
            f"default-src 'none'; style-src '{style_hash}'; img-src 'self'; form-action {{forms}};"
            " base-uri 'none'; frame-ancestors 'none'"
        )
        self._headers = {
            # `no-referrer` would make browsers send `Origin: null` with the form (rulings 6.1).
            "Referrer-Policy": "same-origin",
            "X-Content-Type-Options": "nosniff",
            "Cache-Control": "no-store",
        }

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return

        async def send_guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                forms = headers.get(FORMS_GO, "'self'")
                del headers[FORMS_GO]
                headers["Content-Security-Policy"] = self._policy.format(forms=forms)
                for name, value in self._headers.items():
                    headers[name] = value
            await send(message)

        refusal = self._refusal(scope)
        if refusal is not None:
            await refusal(scope, receive, send_guarded)
            return
        client = scope["client"][0] if scope.get("client") else ""
        if self._open[client] >= AT_ONCE:
            await self._refuse(Request(scope), 503)(scope, receive, send_guarded)
            return
        self._open[client] += 1
        try:
            await self._app(scope, _bounded(receive), send_guarded)
        except _TooLarge:
            await self._refuse(Request(scope), 413)(scope, receive, send_guarded)
        except TimeoutError:
            await self._refuse(Request(scope), 408)(scope, receive, send_guarded)
        finally:
            self._open[client] -= 1
            if not self._open[client]:
                del self._open[client]

    def _refusal(self, scope: Scope) -> Response | None:
        if scope["method"] != "POST":
            return None
        length = dict(scope["headers"]).get(b"content-length", b"0")
        if not length.isdigit() or int(length) > LARGEST_BODY:
            return self._refuse(Request(scope), 413)
        client = scope["client"][0] if scope.get("client") else ""
        if not self._may_post(client):
            return self._refuse(Request(scope), 429)
        return None

    def _may_post(self, client: str) -> bool:
        """A bucket of five that refills at five a second."""
        now = self._monotonic()
        left, at = self._posts.pop(client, (float(POSTS_PER_S), now))
        left = min(float(POSTS_PER_S), left + (now - at) * POSTS_PER_S)
        allowed = left >= 1.0
        self._posts[client] = (left - 1.0 if allowed else left, now)
        if len(self._posts) > MOST_CLIENTS:
            self._posts.popitem(last=False)
        return allowed


def _bounded(receive: Receive) -> Receive:
    """A body without Content-Length ends at the limit too."""
    seen = 0

    async def receive_bounded() -> Message:
        nonlocal seen
        message = await asyncio.wait_for(receive(), TO_SEND_S)
        seen += len(message.get("body", b""))
        if seen > LARGEST_BODY:
            raise _TooLarge
        return message

    return receive_bounded
