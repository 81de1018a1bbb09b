"""The guest portal: opening a visit with a token, trying a code, logging out."""

import base64
import hashlib
import hmac
import secrets
from collections.abc import Callable
from dataclasses import dataclass
from importlib import resources
from sqlite3 import Connection
from urllib.parse import urlsplit

from jinja2 import Environment, FunctionLoader, select_autoescape
from markupsafe import Markup
from starlette.applications import Starlette
from starlette.background import BackgroundTask
from starlette.requests import Request
from starlette.responses import HTMLResponse, RedirectResponse, Response
from starlette.routing import Route

from lauschen.core.codes import Slip, group_code
from lauschen.core.dialect import Arrives
from lauschen.core.errors import NotThere, Unavailable
from lauschen.core.ids import DialectId
from lauschen.core.mac import read_mac
from lauschen.core.picture import Reason
from lauschen.core.tokens import TokenFault, read_token
from lauschen.portal.guards import FORMS_GO, Guards
from lauschen.portal.views import Facts, Typed, View, barred_fault, load_facts, plain_view, visit_view
from lauschen.portal.words import catalogue, choose_language
from lauschen.road.moves import Wake
from lauschen.road.page_acts import (
    TryResult,
    going_on,
    hand_out_again,
    log_out,
    open_appended,
    open_plain,
    open_visit,
    try_code,
)
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store import visits

FORBIDDEN = 403
LONGEST_CODE_TEXT = 40


def _page_file(name: str) -> str:
    return resources.files("lauschen.portal").joinpath("pages", name).read_text("utf-8")


CSS = _page_file("page.css")
STYLE_HASH = "sha256-" + base64.b64encode(hashlib.sha256(CSS.encode()).digest()).decode()
_TEMPLATES = Environment(
    loader=FunctionLoader(_page_file), autoescape=select_autoescape(["html"]), trim_blocks=True
)


@dataclass(slots=True)
class Portal:
    """What the pages work with."""

    road: Road
    reader: Connection
    wake: Wake

    def app(self) -> Starlette:
        """The ASGI application of the guest listener."""
        app = Starlette(
            routes=[
                Route("/", self.arrive, methods=["GET"]),
                Route("/visit/{visit_id}", self.show, methods=["GET"]),
                Route("/visit/{visit_id}/code", self.code, methods=["POST"]),
                Route("/visit/{visit_id}/leave", self.leave, methods=["POST"]),
                Route("/visit/{visit_id}/again", self.again, methods=["POST"]),
                Route("/arrive/{dialect:int}", self.arrive_appended, methods=["GET"]),
                Route("/favicon.ico", self.no_icon, methods=["GET"]),
                Route("/{anything:path}", self.elsewhere, methods=["GET"]),
            ],
            exception_handlers={Unavailable: self._broken},
        )
        app.add_middleware(
            Guards,
            style_hash=STYLE_HASH,
            monotonic=self.road.clock.monotonic,
            refuse=lambda request, status: self._plain(request, "busy", status),
        )
        return app

    async def arrive(self, request: Request) -> Response:
        """The first GET: the token is believed, what was appended only says where the guest was going."""
        if self._is_slip_host(request):
            return await self._scanned(request)
        going = request.query_params.get("url", "")
        text, source = request.query_params.get("t"), _source(request)
        if text is None:
            return await self._open(
                request, going, lambda tx, visit, on: open_plain(tx, visit, on, source), 200
            )
        token = read_token(text, self.road.keys.token_key, self.road.clock.now())
        if isinstance(token, TokenFault):
            return self._plain(request, "reconnect", FORBIDDEN)
        return await self._open(
            request, going, lambda tx, visit, on: open_visit(tx, token, visit, on, source)
        )

    async def arrive_appended(self, request: Request) -> Response:
        """The fixed address of a dialect, to which its access devices append in their own field names."""
        dialect = self.road.house.dialects.get(DialectId(request.path_params["dialect"]))
        mac = None
        if dialect is not None and dialect.arrives is Arrives.APPENDED:
            mac = read_mac(request.query_params.get(dialect.appended.mac, ""))
        if dialect is None or mac is None:
            return self._plain(request, "reconnect", FORBIDDEN)
        going = request.query_params.get(dialect.appended.going, "") if dialect.appended.going else ""
        source = _source(request)
        return await self._open(
            request, going, lambda tx, visit, on: open_appended(tx, mac, dialect.id, visit, on, source)
        )

    async def _open(
        self,
        request: Request,
        unverified_going: str,
        act: Callable[[Tx, str, str | None], None],
        status_if_lost: int = FORBIDDEN,
    ) -> Response:
        """Begins a visit and leads to its page."""
        going, code = going_on(unverified_going, self.road.house.slip_host)
        visit_id = secrets.token_urlsafe(16)
        try:
            await self.road.act(lambda tx: act(tx, visit_id, going))
        except NotThere:
            is_slip = self._is_slip_host(request)
            return self._plain(request, "slip" if is_slip else "reconnect", status_if_lost)
        filled = f"?code={group_code(code)}" if code else ""
        base = self.road.house.page_url if self._is_slip_host(request) else ""
        return RedirectResponse(f"{base}/visit/{visit_id}{filled}", 303)

    async def _scanned(self, request: Request) -> Response:
        """A slip's address came to us as it is: nothing redirects here, or the guest is not on the guest Wi-Fi."""
        source = _source(request)
        return await self._open(
            request, str(request.url), lambda tx, visit, on: open_plain(tx, visit, on, source), 200
        )

    async def show(self, request: Request) -> Response:
        facts = self._facts(request)
        if facts is None:
            return self._plain(request, "reconnect", FORBIDDEN)
        facts.typed.text = request.query_params.get("code", "")[:LONGEST_CODE_TEXT]
        return self._page(visit_view(facts, self._lang(request)))

    async def code(self, request: Request) -> Response:
        """POST of a code. The device is moved only after this answer was written (rulings 2.2)."""
        form = await request.form()
        facts, refused = self._checked(request, form.get("csrf"))
        if facts is None:
            return refused
        text = str(form.get("code", ""))[:LONGEST_CODE_TEXT]
        source = _source(request)
        try:
            result = await self.road.act(lambda tx: try_code(tx, facts.visit_id, text, source, Wake()))
        except NotThere:
            return self._plain(request, "reconnect", FORBIDDEN)
        if result.wait_s:
            await self.road.clock.sleep(result.wait_s)
        lang = self._lang(request, form.get("lang"))
        if result.reason is Reason.ADMITTED:
            return RedirectResponse(
                f"/visit/{facts.visit_id}?lang={lang}", 303, background=BackgroundTask(self._wake_sender)
            )
        again = self._facts(request)
        if again is None:
            return self._plain(request, "reconnect", FORBIDDEN)
        again.typed = Typed(text, self._fault(result, again, lang))
        return self._page(visit_view(again, lang))

    async def leave(self, request: Request) -> Response:
        form = await request.form()
        facts, refused = self._checked(request, form.get("csrf"))
        if facts is None:
            return refused
        try:
            await self.road.act(lambda tx: log_out(tx, facts.visit_id, Wake()))
        except NotThere:
            return RedirectResponse(f"/visit/{facts.visit_id}", 303)
        lang = self._lang(request, form.get("lang"))
        return RedirectResponse(
            f"/visit/{facts.visit_id}?lang={lang}", 303, background=BackgroundTask(self._wake_sender)
        )

    async def again(self, request: Request) -> Response:
        """Another one-time login, because the first was not posted in time."""
        form = await request.form()
        facts, refused = self._checked(request, form.get("csrf"))
        if facts is None:
            return refused
        try:
            await self.road.act(lambda tx: hand_out_again(tx, facts.visit_id))
        except NotThere:
            return self._plain(request, "reconnect", FORBIDDEN)
        lang = self._lang(request, form.get("lang"))
        return RedirectResponse(f"/visit/{facts.visit_id}?lang={lang}", 303)

    async def no_icon(self, _: Request) -> Response:
        return Response(status_code=204)

    async def elsewhere(self, request: Request) -> Response:
        if self._is_slip_host(request):
            return await self._scanned(request)
        return self._plain(request, "reconnect", 404)

    async def _wake_sender(self) -> None:
        self.wake.call()

    async def _broken(self, request: Request, _: Exception) -> Response:
        return self._plain(request, "broken", 503)

    def _facts(self, request: Request) -> Facts | None:
        visit_id = request.path_params["visit_id"]
        now = self.road.clock.now()
        visit = visits.find_visit(self.reader, visit_id, now)
        if visit is None:
            return None
        key = self.road.keys.token_key
        return load_facts(self.reader, self.road.house, visit, visit_id, self._csrf(visit_id), now, key)

    def _checked(self, request: Request, csrf: object) -> tuple[Facts | None, Response]:
        """The facts of a POST that came from our own page; else the page to answer with."""
        facts = self._facts(request)
        if facts is None:
            return None, self._plain(request, "reconnect", FORBIDDEN)
        origin = request.headers.get("origin")
        is_ours = origin is None or origin == _origin(self.road.house.page_url)
        if not is_ours or not hmac.compare_digest(str(csrf or "").encode(), facts.csrf.encode()):
            return None, self._plain(request, "refused", FORBIDDEN)
        return facts, Response()

    def _csrf(self, visit_id: str) -> str:
        return hmac.digest(self.road.keys.token_key, f"csrf {visit_id}".encode(), "sha256").hex()[:32]

    def _fault(self, result: TryResult, facts: Facts, lang: str) -> str:
        words = catalogue(lang)
        if isinstance(result.slip, Slip):
            return words[f"slip_{result.slip}"]
        if result.barred_until is not None and result.barred_until > facts.now:
            return barred_fault(lang, facts.house, result.barred_until, facts.now)
        return words[str(result.reason)]

    def _lang(self, request: Request, chosen: object = None) -> str:
        asked = str(chosen) if chosen else request.query_params.get("lang")
        return choose_language(request.headers.get("accept-language", ""), asked)

    def _is_slip_host(self, request: Request) -> bool:
        return (request.url.hostname or "") == self.road.house.slip_host

    def _plain(self, request: Request, name: str, status: int = 200) -> Response:
        return self._page(plain_view(self.road.house, self._lang(request), name), status)

    @staticmethod
    def _page(view: View, status: int = 200) -> Response:
        html = _TEMPLATES.get_template("page.html").render(**view.values, css=Markup(CSS))  # noqa: S704 - a file of ours
        response = HTMLResponse(html, status)
        if view.refresh_s is not None:
            response.headers["Refresh"] = str(view.refresh_s)
        if view.posts_elsewhere:
            # An access device's login redirects the browser, and `form-action` holds for that too (rulings 6.6).
            response.headers[FORMS_GO] = "http: https:"
        return response


def _source(request: Request) -> str:
    return request.client.host if request.client else ""


def _origin(url: str) -> str:
    parts = urlsplit(url)
    return f"{parts.scheme}://{parts.netloc}"
