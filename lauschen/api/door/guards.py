"""What every request of the console passes before anything of it is read (rulings 6.3, 6.13)."""

from collections.abc import Callable

from starlette.datastructures import MutableHeaders
from starlette.requests import Request
from starlette.responses import Response
from starlette.types import ASGIApp, Scope

from lauschen.api.door.errors import problem
from lauschen.core.words.ip import group_of
from lauschen.http.guard import Guard
from lauschen.http.limits import Buckets, says_too_large

CSP = (
    "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; img-src 'self' data:;"
    " connect-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
HSTS = "max-age=31536000"
SIGN_INS = ("/api/session", "/api/invitations")
UPLOADS = ("/api/slips/logo", "/api/passes/lines", "/api/passes/lines/check", "/api/passphrases/many")
LARGEST_UPLOAD = 5_000_000
SIGN_INS_PER_S = 5
SIGN_INS_AT_FIRST = 10
READS_PER_S, READS_AT_FIRST = 40, 400
"""Requests that change nothing, of one person or program."""
STRANGERS_READS_PER_S, STRANGERS_READS_AT_FIRST = 20, 200
"""Of one address where nobody is signed in: the console itself is some dozen files."""
_TITLES = {
    400: ("two_ends", "That cannot be read", "The request says its length in two ways."),
    401: ("sign_in_needed", "Sign in", "Sign in first."),
    408: ("too_slow", "That took too long", "The request did not come to its end in time."),
    413: ("too_large", "That is too much", "The request is larger than anything the console sends."),
    421: ("other_host", "Not here", "This host name is not served here."),
    429: ("too_often", "Not so fast", "Too many requests at once. Try again in a moment."),
    431: ("large_head", "That is too much", "The headers of a request have 8 KB at most."),
    500: (
        "failed",
        "That did not work",
        "Something of ours failed; Now says what. Nothing was changed by it.",
    ),
}


class Guards(Guard):
    """ASGI middleware of the staff listener."""

    def __init__(
        self,
        app: ASGIApp,
        *,
        host_names: frozenset[str],
        who_asks: Callable[[Request], int | None],
        monotonic: Callable[[], float],
        on_fault: Callable[[Exception], None],
    ) -> None:
        super().__init__(app, on_fault=on_fault)
        self._host_names = host_names
        self._who_asks = who_asks
        self._sign_ins = Buckets(SIGN_INS_PER_S, SIGN_INS_AT_FIRST, monotonic)
        self._reads = Buckets(READS_PER_S, READS_AT_FIRST, monotonic)
        self._strangers_reads = Buckets(STRANGERS_READS_PER_S, STRANGERS_READS_AT_FIRST, monotonic)

    def answer(self, request: Request, status: int) -> Response:
        return problem(status, *_TITLES[status])

    def largest(self, scope: Scope) -> int:
        return LARGEST_UPLOAD if scope["path"] in UPLOADS else super().largest(scope)

    def add_headers(self, headers: MutableHeaders, scope: Scope) -> None:
        headers["Content-Security-Policy"] = CSP
        headers["Referrer-Policy"] = "same-origin"
        headers["X-Content-Type-Options"] = "nosniff"
        if scope["scheme"] == "https":
            # The console alone: guests must be able to come by plain HTTP to whatever the house decides.
            headers["Strict-Transport-Security"] = HSTS
        if scope["path"].startswith("/api"):
            headers["Cache-Control"] = "no-store"

    def status_of_refusal(self, scope: Scope) -> int | None:
        request = Request(scope)
        if request.headers.get("host", "") not in self._host_names:
            return 421
        if request.method in ("GET", "HEAD"):
            return self._status_of_reading(request)
        if says_too_large(scope["headers"], self.largest(scope)):
            return 413
        if request.url.path in SIGN_INS and request.method == "POST":
            return None if self._sign_ins.take(_client(request)) else 429
        return None if self._who_asks(request) is not None else 401

    def _status_of_reading(self, request: Request) -> int | None:
        who = self._who_asks(request)
        if who is None:
            return None if self._strangers_reads.take(_client(request)) else 429
        return None if self._reads.take(str(who)) else 429


def _client(request: Request) -> str:
    return group_of(request.client.host) if request.client else ""
