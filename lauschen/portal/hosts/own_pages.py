"""A host's own page: who waits for them, and whom they vouched for, with what can be done about each."""

from dataclasses import dataclass
from sqlite3 import Connection
from typing import ClassVar

from starlette.requests import Request
from starlette.responses import HTMLResponse, RedirectResponse, Response

from lauschen.acts.hosts.addresses import address_of
from lauschen.acts.hosts.answering import KEPT_S
from lauschen.acts.hosts.looking_after import ACTS, look_after, times_for
from lauschen.core.actor import HOST
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import VouchingId
from lauschen.core.limits.left import CredentialState, credential_state, left
from lauschen.core.ways.offers.fields import NAME
from lauschen.core.ways.vouching import VouchingState
from lauschen.core.words.amounts import duration_words
from lauschen.core.words.text import visible
from lauschen.portal.page import Page, render
from lauschen.portal.words import choose_language, clock_words
from lauschen.road.road import Road
from lauschen.store import credentials
from lauschen.store.hosts import questions, vouchings
from lauschen.store.hosts.questions import Person
from lauschen.store.hosts.vouchings import Vouching

LONGEST_LINK = 64
LONGEST_ID = 9
SHOWN, MOST_ASKED = 60, 100
_RUNS = (CredentialState.FRESH, CredentialState.RUNNING, CredentialState.PAUSED)


@dataclass(frozen=True, slots=True)
class Waiting:
    """Somebody who waits for an answer."""

    name: str
    since: str
    link: str


@dataclass(frozen=True, slots=True)
class Guest:
    """Somebody whom the host vouched for."""

    number: int
    name: str
    state: str
    """As the template asks for it."""
    says: str
    acts: tuple[str, ...]
    times: list[tuple[int, str]]
    """What may be given more: seconds, and in words."""


@dataclass(frozen=True, slots=True)
class HostGuests:
    """Both lists."""

    template: ClassVar[str] = "parts/hosts/guests.html"
    waiting: list[Waiting]
    guests: list[Guest]


@dataclass(frozen=True, slots=True)
class OwnPages:
    """By link; whoever has it, speaks for the host."""

    road: Road
    reader: Connection

    async def answer(self, request: Request) -> Response:
        """GET and HEAD show the page; POST is one of its buttons."""
        link, asked = request.path_params["link"][:LONGEST_LINK], request.query_params.get("lang")
        person = questions.person_by_link(self.reader, self.road.keys, link, self.road.clock.now())
        if person is None:
            lang = choose_language(request.headers.get("accept-language", ""), asked)
            return HTMLResponse(render(self._gone(lang)), 404)
        lang = choose_language("", asked or person.lang)
        if request.method != "POST":
            return HTMLResponse(render(self.show(person, link, lang, request.query_params.get("did", ""))))
        form = {name: value for name, value in (await request.form()).items() if isinstance(value, str)}
        fault = await self.press(link, form, lang)
        if fault is None:
            act = form.get("act", "")
            return RedirectResponse(f"/hosts/{link}?lang={lang}&did={act}", 303)
        return HTMLResponse(render(self.show(person, link, lang, fault=fault)))

    async def press(self, link: str, form: dict[str, str], lang: str) -> str | None:
        """None when it was done; else why not."""
        number, act, seconds = form.get("guest", ""), form.get("act", ""), form.get("seconds", "0")
        words = Page(lang, "").words
        if not all(
            text.isascii() and text.isdecimal() and len(text) <= LONGEST_ID for text in (number, seconds)
        ):
            return words["host_fault_gone"]
        try:
            await self.road.act(
                lambda tx: look_after(tx, link, VouchingId(int(number)), act, int(seconds)), by=HOST
            )
        except NotThere:
            return words["host_fault_gone"]
        except Invalid as exc:
            return words.find(f"host_fault_{exc.code}") or words["host_fault"]
        return None

    def show(self, person: Person, link: str, lang: str, did: str = "", fault: str | None = None) -> Page:
        """Who waits first."""
        config, now = self.road.config, self.road.clock.now()
        page = Page(lang, config.site_name, fault=fault)
        page.here, page.other_lang = f"/hosts/{link}", "de" if lang == "en" else "en"
        page.heading = page.words["own_title"].format(host=visible(person.name))
        if did in ACTS:
            page.notes = [page.words[f"own_did_{did}"]]
        waiting, guests = [], []
        asked = questions.put_to(self.reader, self.road.keys, person, now - KEPT_S, MOST_ASKED)
        for question in asked:
            vouching = vouchings.get_vouching(self.reader, self.road.keys, question.vouching)
            if vouching is None:
                continue
            name = visible(vouching.answers.get(NAME, "")) or page.words["host_somebody"]
            if vouching.state is VouchingState.WAITING:
                since = clock_words(vouching.at, now, config.zone, lang)
                waiting.append(Waiting(name, since, f"/host/{question.link}?lang={lang}"))
            elif vouching.answered_by == question.id and vouching.state is VouchingState.YES:
                guests.append(self._guest(vouching, name, page, person))
        guests.sort(key=lambda guest: not guest.acts)
        page.parts = [HostGuests(waiting, guests[:SHOWN])]
        page.small = [page.words["own_keep"]]
        return page

    def _guest(self, vouching: Vouching, name: str, page: Page, person: Person) -> Guest:
        assert vouching.credential is not None
        config, now = self.road.config, self.road.clock.now()
        issued = credentials.get_issued(self.reader, self.road.keys, vouching.credential)
        plan, use = config.plan_of(issued.grant), issued.grant.use
        state, remains = credential_state(plan, use, now), left(plan, use, now)
        until = "" if remains.until is None else clock_words(remains.until, now, config.zone, page.lang)
        is_open = state is CredentialState.RUNNING and remains.until is None
        says = page.words["own_running_open" if is_open else f"own_{state}"].format(until=until)
        if issued.devices_in:
            key = "own_in_one" if issued.devices_in == 1 else "own_in_many"
            says = f"{says} {page.words[key].format(count=issued.devices_in)}"
        acts: tuple[str, ...] = ()
        given = times_for(config, vouching, person, issued.grant, now)
        if state in _RUNS:
            can_write = address_of(config.channels, vouching) is not None
            acts = (
                *(("give_time",) if given else ()),
                "resume" if state is CredentialState.PAUSED else "pause",
                *(("send_again",) if can_write else ()),
                "new_code",
                "withdraw",
            )
        times = [(seconds, duration_words(seconds)) for seconds in given]
        return Guest(vouching.id, name, state, says, acts, times)

    def _gone(self, lang: str) -> Page:
        page = Page(lang, self.road.config.site_name)
        page.heading, page.notes = page.words["host_gone_title"], [page.words["own_gone"]]
        return page
