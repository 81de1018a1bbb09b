"""The guest portal: opening a visit with a token, trying a code, logging out."""

import hashlib
import hmac
from collections.abc import Callable
from dataclasses import dataclass, field
from sqlite3 import Connection
from urllib.parse import urlsplit

from starlette.applications import Starlette
from starlette.background import BackgroundTask
from starlette.requests import Request
from starlette.responses import HTMLResponse, JSONResponse, RedirectResponse, Response
from starlette.routing import Route

from lauschen.acts.page.own_devices import send_out
from lauschen.acts.page.trying import Tried, hand_out_again, log_out, note_typo, try_offer
from lauschen.acts.page.visiting import (
    ADDRESS_GOOD_FOR_S,
    OtherDevice,
    TooManyVisits,
    open_appended,
    open_by_address,
    open_by_token,
)
from lauschen.acts.passphrases.issuing import KeyMakers
from lauschen.core.actor import GUEST
from lauschen.core.config.dialect import Arrives
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid, NotThere, Unavailable
from lauschen.core.ids import DialectId, NetworkId
from lauschen.core.ways.account import Login
from lauschen.core.ways.ways import Offer
from lauschen.core.words.codes import Typo, group_code
from lauschen.core.words.going import going_on
from lauschen.core.words.mac import read_mac
from lauschen.core.words.tokens import TokenFault, read_token
from lauschen.portal import captive
from lauschen.portal.facts import Facts, Typed, barred_fault, load_facts
from lauschen.portal.guards import FORMS_GO, Guards, Turns, client_of
from lauschen.portal.https import ToHttps
from lauschen.portal.links import linked_pages
from lauschen.portal.page import STYLE_HASH, Page, render
from lauschen.portal.passwords import PasswordChanges
from lauschen.portal.views import JUMP_S, plain_page, privacy_page, visit_page
from lauschen.portal.ways.ways import OFFERS
from lauschen.portal.words import catalogue, choose_language, refusal
from lauschen.portal.writing.forms import WrittenForms
from lauschen.proofs.accounts import Accounts
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store import devices, visits

FORBIDDEN = 403
LONGEST_CODE_TEXT = 40
LONGEST_ID = 9
_STATUS = {NotThere: FORBIDDEN, OtherDevice: FORBIDDEN, TooManyVisits: 429, Unavailable: 503}
_PAGES = {
    NotThere: "reconnect",
    OtherDevice: "other_device",
    TooManyVisits: "too_many",
    Unavailable: "broken",
}


@dataclass(slots=True)
class Portal:
    """What the pages work with."""

    road: Road
    reader: Connection
    accounts: Accounts
    makers: KeyMakers
    """Of the keys of new passphrases."""
    names: frozenset[str] = frozenset()
    """Host names of the page besides that of its address and the slips'."""
    _turns: Turns = field(default_factory=Turns)

    def app(self) -> Starlette:
        """The ASGI application of the guest listener."""
        links = linked_pages(self.road, self.reader, self.makers)
        app = Starlette(
            routes=[
                Route("/", self.arrive, methods=["GET"]),
                Route("/visit/{visit_id}", self.show, methods=["GET"]),
                Route("/visit/{visit_id}/by/{form}", self.offer, methods=["POST"]),
                Route("/visit/{visit_id}/leave", self.leave, methods=["POST"]),
                Route("/visit/{visit_id}/send-out", self.send_out, methods=["POST"]),
                Route("/visit/{visit_id}/password", self.password, methods=["POST"]),
                Route("/visit/{visit_id}/again", self.again, methods=["POST"]),
                Route("/visit/{visit_id}/{form}", self.write, methods=["POST"]),
                *(Route(path, answer, methods=["GET", "POST"]) for path, answer in links),
                Route("/arrive/{dialect}", self.arrive_appended, methods=["GET"]),
                Route(captive.PATH, self.captive, methods=["GET"]),
                Route("/privacy", self.privacy, methods=["GET"]),
                Route("/favicon.ico", self.no_icon, methods=["GET"]),
                Route("/{anything:path}", self.elsewhere, methods=["GET"]),
            ],
            exception_handlers=dict.fromkeys(_STATUS, self._not_now),
        )
        app.add_middleware(
            Guards,
            style_hash=STYLE_HASH,
            monotonic=self.road.clock.monotonic,
            refuse=self._refuse,
            is_ours=self._is_ours,
            is_visit=lambda name: visits.is_going_on(self.reader, name, self.road.clock.now()),
            on_fault=lambda exc: self.road.faults.note("page", exc),
        )
        app.add_middleware(ToHttps, page_url=lambda: self.road.config.page_url)
        return app

    async def arrive(self, request: Request) -> Response:
        """The first GET: the token is believed, what was appended only says where the guest was going."""
        if self._is_slip_host(request):
            return await self._scanned(request)
        unverified_going = request.query_params.get("url", "")
        text, source = request.query_params.get("t"), client_of(request.scope)
        if text is None:
            return await self._find(request, unverified_going)
        token = read_token(text, self.road.keys.token_key, self.road.clock.now())
        if isinstance(token, TokenFault):
            return self._plain(request, "reconnect", FORBIDDEN)
        return await self._open(unverified_going, lambda tx, on: open_by_token(tx, token, on, source))

    async def arrive_appended(self, request: Request) -> Response:
        """The fixed address of a dialect, to which its access devices append in their own field names."""
        number = request.path_params["dialect"]
        dialect = None
        if number.isascii() and number.isdecimal() and len(number) <= LONGEST_ID:
            dialect = self.road.config.dialects.get(DialectId(int(number)))
        if dialect is None or dialect.arrives is not Arrives.APPENDED:
            return self._plain(request, "reconnect", FORBIDDEN)
        mac = read_mac(request.query_params.get(dialect.appended.mac, ""))
        if mac is None:
            return self._plain(request, "reconnect", FORBIDDEN)
        going = request.query_params.get(dialect.appended.going, "") if dialect.appended.going else ""
        source = client_of(request.scope)
        return await self._open(going, lambda tx, on: open_appended(tx, mac, dialect.id, on, source))

    async def _open(
        self, unverified_going: str, act: Callable[[Tx, str | None], str], base: str = ""
    ) -> Response:
        """Begins a visit, or finds the one that is there, and leads to its page."""
        going, code = going_on(unverified_going, self.road.config.slip_host, self.road.config.code_lengths)
        visit_id = await self.road.act(lambda tx: act(tx, going), by=GUEST)
        filled = f"?code={group_code(code)}" if code else ""
        return RedirectResponse(f"{base}/visit/{visit_id}{filled}", 303)

    async def _find(
        self, request: Request, unverified_going: str, name: str = "reconnect", base: str = ""
    ) -> Response:
        """A visit for whoever has the browser's address; a page that says what to do when nobody can tell."""
        source = client_of(request.scope)
        try:
            return await self._open(unverified_going, lambda tx, on: open_by_address(tx, on, source), base)
        except NotThere:
            return self._plain(request, name)

    async def _scanned(self, request: Request) -> Response:
        """A slip's address came to us as it is: nothing redirects here, or the guest is not on the guest Wi-Fi."""
        return await self._find(request, str(request.url), "slip", self.road.config.page_url)

    async def show(self, request: Request) -> Response:
        facts = self._facts(request)
        if facts is None:
            return self._plain(request, "reconnect", FORBIDDEN)
        facts.typed.text = request.query_params.get("code", "")[:LONGEST_CODE_TEXT]
        return self._visit_page(request, facts)

    async def offer(self, request: Request) -> Response:
        """POST of a way in. The device is moved only after this answer was written (rulings 2.2)."""
        form, facts, refused = await self._checked(request)
        if facts is None:
            return refused
        name = request.path_params["form"]
        if name not in OFFERS:
            return self._plain(request, "reconnect", 404)
        lang, source = self._lang(request, form.get("lang")), client_of(request.scope)
        offer = OFFERS[name].read(form, facts, lang)
        async with self._turns.of(source):
            tried = await self._try(facts, offer, source)
            if tried is not None and tried.wait_s:
                await self.road.clock.sleep(tried.wait_s)
        if tried is not None and tried.reason is Reason.ADMITTED:
            return self._back(facts, lang, wakes=True)
        again = self._facts(request)
        if again is None:
            return self._plain(request, "reconnect", FORBIDDEN)
        again.typed = Typed(OFFERS[name].typed(form), self._fault(name, offer, tried, again, lang), name)
        return self._visit_page(request, again, lang)

    async def write(self, request: Request) -> Response:
        """POST of a form that is no offer: who writes themselves in, confirms, or asks for a host."""
        form, facts, refused = await self._checked(request)
        if facts is None:
            return refused
        lang, source = self._lang(request, form.get("lang")), client_of(request.scope)
        async with self._turns.of(source):
            wrong = await WrittenForms(self.road).take(request.path_params["form"], facts, form, lang, source)
        return self._after(request, facts, lang, wrong)

    def _after(self, request: Request, facts: Facts, lang: str, wrong: Typed | None) -> Response:
        """The visit's page once more: with what was wrong, or as it is now."""
        if wrong is None:
            return self._back(facts, lang, wakes=True)
        again = self._facts(request)
        if again is None:
            return self._plain(request, "reconnect", FORBIDDEN)
        again.typed = wrong
        return self._visit_page(request, again, lang)

    async def _try(self, facts: Facts, offer: Offer | Typo, source: str) -> Tried | None:
        """What came of an offer; None of a typing error."""
        visit = facts.visit_id
        if isinstance(offer, Typo):
            await self.road.act(lambda tx: note_typo(tx, visit, offer, source), by=GUEST)
            return None
        fault = await self.accounts.proofs().prove(offer)
        return await self.road.act(
            lambda tx: try_offer(tx, visit, offer, source, fault), by=GUEST, holds_wishes=True
        )

    async def leave(self, request: Request) -> Response:
        form, facts, refused = await self._checked(request)
        if facts is None:
            return refused
        source = client_of(request.scope)
        try:
            await self.road.act(lambda tx: log_out(tx, facts.visit_id, source), by=GUEST, holds_wishes=True)
        except NotThere:
            return RedirectResponse(f"/visit/{facts.visit_id}", 303)
        return self._back(facts, self._lang(request, form.get("lang")), wakes=True)

    async def send_out(self, request: Request) -> Response:
        """Another device by the same code is logged out, or forgotten while it is away."""
        form, facts, refused = await self._checked(request)
        if facts is None:
            return refused
        mac_text, _, number = form.get("device", "").partition("-")
        mac, source = read_mac(mac_text), client_of(request.scope)
        if mac is None or not (number.isascii() and number.isdecimal() and len(number) <= LONGEST_ID):
            raise NotThere("device")
        await self.road.act(
            lambda tx: send_out(tx, facts.visit_id, source, mac, NetworkId(int(number))),
            by=GUEST,
            holds_wishes=True,
        )
        return self._back(facts, self._lang(request, form.get("lang")), wakes=True)

    async def again(self, request: Request) -> Response:
        """Another one-time login, because the first was not posted in time."""
        form, facts, refused = await self._checked(request)
        if facts is None:
            return refused
        source = client_of(request.scope)
        await self.road.act(lambda tx: hand_out_again(tx, facts.visit_id, source), by=GUEST)
        return self._back(facts, self._lang(request, form.get("lang")), wakes=False)

    async def password(self, request: Request) -> Response:
        """The guest changes the password of the account by which this visit let the device in."""
        form, facts, refused = await self._checked(request)
        if facts is None:
            return refused
        lang, source = self._lang(request, form.get("lang")), client_of(request.scope)
        fault = None
        try:
            async with self._turns.of(source):
                tried = await PasswordChanges(self.road, self.accounts).change(
                    facts, form.get("old", ""), form.get("new", ""), source
                )
                await self.road.clock.sleep(tried.wait_s)
            if tried.reason is not Reason.ADMITTED:
                fault = self._fault("login", Login("", ""), tried, facts, lang)
        except NotThere:
            raise
        except Invalid as exc:
            fault = catalogue(lang)[exc.code]
        again = self._facts(request)
        if again is None:
            return self._plain(request, "reconnect", FORBIDDEN)
        again.typed = Typed("", fault, "password")
        return self._visit_page(request, again, lang)

    def _back(self, facts: Facts, lang: str, *, wakes: bool) -> Response:
        """To the visit's page; whoever is to tell access devices is woken once that has left."""
        task = BackgroundTask(self._wake_sender) if wakes else None
        return RedirectResponse(f"/visit/{facts.visit_id}?lang={lang}", 303, background=task)

    async def captive(self, request: Request) -> Response:
        """A device asks by itself (RFC 8908)."""
        source = client_of(request.scope)
        said = captive.captive_state(self.reader, self.road.config, source, self.road.clock.now())
        if said is None:
            return Response(status_code=404)
        return JSONResponse(said, media_type=captive.MEDIA_TYPE)

    async def privacy(self, request: Request) -> Response:
        return self._page(privacy_page(self.road.config, self._lang(request)))

    async def no_icon(self, _: Request) -> Response:
        return Response(status_code=204)

    async def elsewhere(self, request: Request) -> Response:
        if self._is_slip_host(request):
            return await self._scanned(request)
        return self._plain(request, "reconnect", 404)

    async def _wake_sender(self) -> None:
        self.road.wake_sender()

    async def _not_now(self, request: Request, error: Exception) -> Response:
        return self._plain(request, _PAGES[type(error)], _STATUS[type(error)])

    def _refuse(self, request: Request, status: int) -> Response:
        return self._plain(request, {421: "other_host", 500: "broken"}.get(status, "busy"), status)

    def _is_ours(self, host: str) -> bool:
        """The page has its list of names: under any other one a stranger's site could show it as its own."""
        config = self.road.config
        try:
            name = urlsplit(f"//{host}").hostname or ""
        except ValueError:
            return False
        return name in self.names or name in (urlsplit(config.page_url).hostname, config.slip_host)

    def _facts(self, request: Request) -> Facts | None:
        visit_id = request.path_params["visit_id"]
        now = self.road.clock.now()
        visit = visits.find_visit(self.reader, visit_id, now)
        if visit is None:
            return None
        source = client_of(request.scope)
        if devices.is_another_at(self.reader, visit.network, visit.mac, source, now - ADDRESS_GOOD_FOR_S):
            raise OtherDevice
        return load_facts(self.reader, self.road.keys, self.road.config, visit, visit_id, now)

    async def _checked(self, request: Request) -> tuple[dict[str, str], Facts | None, Response]:
        """Form and facts of a POST that came from our own page; else the page to answer with."""
        form = {name: value for name, value in (await request.form()).items() if isinstance(value, str)}
        facts = self._facts(request)
        if facts is None:
            return form, None, self._plain(request, "reconnect", FORBIDDEN)
        origin = request.headers.get("origin")
        is_ours = origin is None or origin == _origin(self.road.config.page_url)
        csrf = self._csrf(facts.visit_id)
        if not is_ours or not hmac.compare_digest(form.get("csrf", "").encode(), csrf.encode()):
            return form, None, self._plain(request, "refused", FORBIDDEN)
        return form, facts, Response()

    def _csrf(self, visit_id: str) -> str:
        said = f"csrf {visit_id}".encode()
        return hashlib.blake2s(said, key=self.road.keys.token_key, digest_size=16).hexdigest()

    def _fault(self, name: str, offer: Offer | Typo, tried: Tried | None, facts: Facts, lang: str) -> str:
        words = catalogue(lang)
        if isinstance(offer, Typo) or tried is None:
            return words["login_empty" if isinstance(offer, Typo) and name == "login" else f"typo_{offer}"]
        until = tried.barred_until
        if until is not None and until > facts.now:
            return barred_fault(facts, lang, until)
        return refusal(lang, tried.reason, name)

    def _lang(self, request: Request, chosen: object = None) -> str:
        asked = str(chosen) if chosen else request.query_params.get("lang")
        return choose_language(request.headers.get("accept-language", ""), asked)

    def _is_slip_host(self, request: Request) -> bool:
        return (request.url.hostname or "") == self.road.config.slip_host

    def _plain(self, request: Request, name: str, status: int = 200) -> Response:
        return self._page(plain_page(self.road.config, self._lang(request), name), status)

    def _visit_page(self, request: Request, facts: Facts, lang: str | None = None) -> Response:
        spoken = lang or self._lang(request)
        return self._page(visit_page(facts, spoken, self._csrf(facts.visit_id)))

    @staticmethod
    def _page(page: Page, status: int = 200) -> Response:
        response = HTMLResponse(render(page), status)
        if page.jumps_to is not None:
            response.headers["Refresh"] = f"{JUMP_S};url={page.jumps_to}"
        elif page.refresh_s is not None:
            response.headers["Refresh"] = str(page.refresh_s)
        if page.posts_elsewhere:
            # An access device's login redirects the browser, and `form-action` holds for that too (rulings 6.6).
            response.headers[FORMS_GO] = "http: https:"
        return response


def _origin(url: str) -> str:
    parts = urlsplit(url)
    return f"{parts.scheme}://{parts.netloc}"
