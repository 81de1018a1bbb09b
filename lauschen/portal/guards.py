"""What every answer to a guest carries, and what no guest may do too much of (rulings 6.3, 6.6, 6.13, 8.2)."""

import asyncio
from collections import Counter
from collections.abc import AsyncIterator, Callable, Iterator
from contextlib import asynccontextmanager, contextmanager

from starlette.datastructures import MutableHeaders
from starlette.requests import Request
from starlette.responses import Response
from starlette.types import ASGIApp, Scope

from lauschen.core.words.ip import group_of
from lauschen.http.guard import Guard
from lauschen.http.limits import Buckets, says_too_large

POSTS_PER_S = 5
GETS_PER_S = 20
GETS_AT_FIRST = 60
AT_ONCE = 20
"""Requests of one visit, or of one source without one, that are being answered."""
WHOSE = "lauschen.whose"
"""Where a request's scope keeps whose budget it draws on."""
FORMS_GO = "x-forms-go"
"""Set by a page whose form leaves this site: where `form-action` lets it go. Never leaves us."""


class Guards(Guard):
    """ASGI middleware of the guest listener."""

    def __init__(
        self,
        app: ASGIApp,
        *,
        style_hash: str,
        monotonic: Callable[[], float],
        refuse: Callable[[Request, int], Response],
        is_ours: Callable[[str], bool] = lambda _: True,
        is_visit: Callable[[str], bool] = lambda _: False,
        on_fault: Callable[[Exception], None] = lambda _: None,
    ) -> None:
        """`is_ours`: whether a Host is one of the page's names; `is_visit`: whether a visit of that name is going on;
        `refuse` makes the page for a status."""
        super().__init__(app, on_fault=on_fault)
        self._refuse = refuse
        self._is_ours = is_ours
        self._is_visit = is_visit
        self._posts = Buckets(POSTS_PER_S, POSTS_PER_S, monotonic)
        self._gets = Buckets(GETS_PER_S, GETS_AT_FIRST, monotonic)
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

    def answer(self, request: Request, status: int) -> Response:
        return self._refuse(request, status)

    def add_headers(self, headers: MutableHeaders, scope: Scope) -> None:
        forms = headers.get(FORMS_GO, "'self'")
        del headers[FORMS_GO]
        headers["Content-Security-Policy"] = self._policy.format(forms=forms)
        for name, value in self._headers.items():
            headers[name] = value

    @contextmanager
    def while_answered(self, scope: Scope) -> Iterator[None]:
        whose = self._whose(scope)
        self._open[whose] += 1
        try:
            yield
        finally:
            self._open[whose] -= 1
            if not self._open[whose]:
                del self._open[whose]

    def status_of_refusal(self, scope: Scope) -> int | None:
        if not self._is_ours(Request(scope).headers.get("host", "")):
            return 421
        whose = self._whose(scope)
        if scope["method"] == "POST":
            if says_too_large(scope["headers"]):
                return 413
            bucket = self._posts
        else:
            bucket = self._gets
        if not bucket.take(whose):
            return 429
        return 503 if self._open[whose] >= AT_ONCE else None

    def _whose(self, scope: Scope) -> str:
        """Whose budget a request draws on: its visit's, and where it has none its source's.

        So a phone that floods locks nobody out who shares its address with it. How many visits a device has is
        limited where they begin.
        """
        whose: str | None = scope.get(WHOSE)
        if whose is None:
            parts = scope["path"].split("/", 3)
            has_visit = len(parts) > 2 and parts[1] == "visit" and self._is_visit(parts[2])
            whose = scope[WHOSE] = f"visit {parts[2]}" if has_visit else group_of(client_of(scope))
        return whose


class Turns:
    """Answers that are held back: one at a time for each source, and whoever comes after it waits for its turn.

    So guessing by many connections is no faster, and a right code still passes, a little later (rulings 8.2).
    """

    def __init__(self) -> None:
        self._lines: dict[str, tuple[asyncio.Lock, int]] = {}

    @asynccontextmanager
    async def of(self, source: str) -> AsyncIterator[None]:
        source = group_of(source)
        lock, waiting = self._lines.get(source, (asyncio.Lock(), 0))
        self._lines[source] = lock, waiting + 1
        try:
            async with lock:
                yield
        finally:
            lock, waiting = self._lines[source]
            if waiting > 1:
                self._lines[source] = lock, waiting - 1
            else:
                del self._lines[source]


def client_of(scope: Scope) -> str:
    """The address that the request came from."""
    return scope["client"][0] if scope.get("client") else ""
