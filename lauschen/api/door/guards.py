"""What every request of the console passes before anything of it is read (rulings 6.3, 6.13)."""

from collections.abc import Callable

from starlette.datastructures import MutableHeaders
from starlette.requests import Request
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from lauschen.api.models import Problem
from lauschen.http.limits import Body, Buckets, says_too_large

CSP = (
    "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; img-src 'self' data:;"
    " connect-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
SIGN_IN = "/api/session"
SIGN_INS_PER_S = 5
SIGN_INS_AT_FIRST = 10
_TITLES = {
    401: ("sign_in_needed", "Sign in", "Sign in first."),
    408: ("too_slow", "That took too long", "The request did not come to its end in time."),
    413: ("too_large", "That is too much", "The request is larger than anything the console sends."),
    421: ("other_host", "Not here", "This host name is not served here."),
    429: ("too_often", "Not so fast", "Too many sign-ins at once. Try again in a moment."),
    500: (
        "failed",
        "That did not work",
        "Something of ours failed; Now says what. Nothing was changed by it.",
    ),
}


def problem(status: int, code: str, title: str, detail: str, field: str | None = None) -> JSONResponse:
    """RFC 9457 problem details."""
    body = Problem(title=title, status=status, detail=detail, code=code, field=field)
    return JSONResponse(body.model_dump(), status, media_type="application/problem+json")


class Guards:
    """ASGI middleware of the staff listener."""

    def __init__(
        self,
        app: ASGIApp,
        *,
        host_names: frozenset[str],
        is_signed_in: Callable[[Request], bool],
        monotonic: Callable[[], float],
        on_fault: Callable[[Exception], None],
    ) -> None:
        self._app = app
        self._host_names = host_names
        self._is_signed_in = is_signed_in
        self._sign_ins = Buckets(SIGN_INS_PER_S, SIGN_INS_AT_FIRST, monotonic)
        self._on_fault = on_fault

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        body, has_begun = Body(receive), False

        async def send_guarded(message: Message) -> None:
            nonlocal has_begun
            if body.fault is not None and not has_begun:
                return  # what the application makes of half a body is not the answer
            if message["type"] == "http.response.start":
                has_begun = True
                headers = MutableHeaders(scope=message)
                _add_headers(headers, scope["path"])
                if body.is_left(scope["headers"]):
                    headers["Connection"] = "close"  # what is left of the request is not waited for
            await send(message)

        status = self._status_of_refusal(Request(scope))
        if status is None:
            try:
                await self._app(scope, body.receive, send_guarded)
            except Exception as exc:
                if body.fault is None:
                    self._on_fault(exc)
                    status = 500
            status = body.fault or status
        if status is not None and not has_begun:
            body.fault = None
            response = problem(status, *_TITLES[status])
            response.headers["Connection"] = "close"
            await response(scope, receive, send_guarded)

    def _status_of_refusal(self, request: Request) -> int | None:
        """Why nothing of a request is read."""
        if request.headers.get("host", "") not in self._host_names:
            return 421
        if request.method in ("GET", "HEAD"):
            return None
        if says_too_large(request.scope["headers"]):
            return 413
        if request.url.path == SIGN_IN and request.method == "POST":
            client = request.client.host if request.client else ""
            return None if self._sign_ins.take(client) else 429
        return None if self._is_signed_in(request) else 401


def _add_headers(headers: MutableHeaders, path: str) -> None:
    headers["Content-Security-Policy"] = CSP
    headers["Referrer-Policy"] = "same-origin"
    headers["X-Content-Type-Options"] = "nosniff"
    if path.startswith("/api"):
        headers["Cache-Control"] = "no-store"
