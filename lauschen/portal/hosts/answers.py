"""The page where a host says yes or no. Reading it changes nothing, whoever opens it (rulings 6.5)."""

from dataclasses import dataclass
from sqlite3 import Connection
from typing import ClassVar

from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lauschen.acts.hosts.answering import Answer, answer_by_link, may_give
from lauschen.acts.hosts.looking_after import send_page_to_asked
from lauschen.core.actor import HOST
from lauschen.core.config.config import Config
from lauschen.core.decide.standing import State
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.offers.fields import NAME, Field
from lauschen.core.ways.sponsor import Sponsor
from lauschen.core.ways.vouching import LONGEST_WORD, Length, VouchingState
from lauschen.core.words.amounts import duration_words
from lauschen.core.words.mac import spell_mac
from lauschen.core.words.text import visible
from lauschen.portal.page import Page, render
from lauschen.portal.ways.form import said_in
from lauschen.portal.words import choose_language, clock_words
from lauschen.road.road import Road
from lauschen.store import devices
from lauschen.store.hosts import questions, vouchings
from lauschen.store.hosts.questions import Question
from lauschen.store.hosts.vouchings import Vouching

LONGEST_LINK = 64
_PAGE = "page"


@dataclass(frozen=True, slots=True)
class HostAnswer:
    """Yes or no, for how long, and a word to the guest."""

    template: ClassVar[str] = "parts/hosts/answer.html"
    facts: list[tuple[str, str]]
    lengths: list[tuple[str, str]]
    word: str
    longest_word: int = LONGEST_WORD


@dataclass(frozen=True, slots=True)
class OwnLink:
    """A button by which the link to the own page comes by mail."""

    template: ClassVar[str] = "parts/hosts/own_link.html"


@dataclass(frozen=True, slots=True)
class HostAnswers:
    """By link, from wherever it is opened."""

    road: Road
    reader: Connection

    async def answer(self, request: Request) -> Response:
        """GET and HEAD show the page; POST is a button."""
        link, lang = request.path_params["link"][:LONGEST_LINK], request.query_params.get("lang")
        question = questions.by_link(self.reader, self.road.keys, link)
        if question is None:
            spoken = choose_language(request.headers.get("accept-language", ""), lang)
            return HTMLResponse(render(self._gone(spoken)), 404)
        spoken = choose_language("", lang or question.person.lang)
        if request.method != "POST":
            return HTMLResponse(render(self.show(question, spoken)))
        form = {name: value for name, value in (await request.form()).items() if isinstance(value, str)}
        return HTMLResponse(render(await self.press(link, question, form, spoken)))

    def show(self, question: Question, lang: str, fault: str | None = None, word: str = "") -> Page:
        """The guest's words while they wait, else what became of it."""
        vouching = vouchings.get_vouching(self.reader, self.road.keys, question.vouching)
        if vouching is None:
            return self._gone(lang)
        page = Page(lang, self.road.config.site_name, fault=fault)
        page.here = f"/host/{question.link}"
        page.other_lang = "de" if lang == "en" else "en"
        if vouching.state is VouchingState.WAITING:
            self._ask(page, question, vouching, word)
        else:
            self._settled(page, question, vouching)
            page.parts = [OwnLink()]
        return page

    async def press(self, link: str, question: Question, form: dict[str, str], lang: str) -> Page:
        """Yes, no, or: send me the link to my page."""
        pressed, word = form.get("answer", ""), form.get("word", "")[:LONGEST_WORD]
        if pressed == _PAGE:
            return await self._send_page(link, question, lang)
        if pressed not in ("yes", "no"):
            return self.show(question, lang, word=word)
        answer = Answer(form.get("length", "") if pressed == "yes" else None, " ".join(word.split()))
        try:
            await self.road.act(lambda tx: answer_by_link(tx, link, answer), by=HOST)
        except NotThere:
            return self._gone(lang)
        except Invalid as exc:
            page = Page(lang, "")
            fault = None if exc.code == "answered_before" else page.words.find(f"host_fault_{exc.code}")
            return self.show(question, lang, fault, word)
        return self.show(question, lang)

    async def _send_page(self, link: str, question: Question, lang: str) -> Page:
        page = self.show(question, lang)
        try:
            await self.road.act(lambda tx: send_page_to_asked(tx, link), by=HOST)
        except Invalid:
            page.fault = page.words["host_page_not_sent"]
        else:
            page.notes.append(page.words["host_page_sent"])
            page.parts = []
        return page

    def _ask(self, page: Page, question: Question, vouching: Vouching, word: str) -> None:
        config, words, now = self.road.config, page.words, self.road.clock.now()
        name = visible(vouching.answers.get(NAME, "")) or words["host_somebody"]
        page.heading = words["host_asks"].format(name=name)
        network = config.networks.get(vouching.network)
        way = network.way(WayIn.SPONSOR) if network is not None else None
        if network is None or not isinstance(way, Sponsor):
            page.notes = [words["host_way_gone"]]
            return
        standing = devices.find_standing(self.reader, vouching.mac, vouching.network)
        if standing is None or standing.state is State.LEFT:
            page.notes.append(words["host_guest_left"])
        said = [one for one in way.fields if vouching.answers.get(one.key)]
        facts = [(_label(one, page), visible(vouching.answers[one.key])) for one in said]
        facts += [
            (words["host_network"], visible(network.shown_as)),
            (words["foot_device"], spell_mac(vouching.mac)),
            (words["host_since"], clock_words(vouching.at, now, config.zone, page.lang)),
        ]
        choices = may_give(config, way, question.person)
        page.parts = [HostAnswer(facts, [(one.key, _length(one, config, page)) for one in choices], word)]
        page.small = [words["host_first_counts"]]

    def _settled(self, page: Page, question: Question, vouching: Vouching) -> None:
        words, now, zone = page.words, self.road.clock.now(), self.road.config.zone
        name = visible(vouching.answers.get(NAME, "")) or words["host_somebody"]
        at = clock_words(vouching.answered_at or vouching.at, now, zone, page.lang)
        by = words["host_by_you"]
        if vouching.answered_by != question.id:
            other = None
            if vouching.answered_by is not None:
                other = questions.get_question(self.reader, self.road.keys, vouching.answered_by)
            by = visible(other.person.name) if other is not None else words["host_by_desk"]
        page.heading = words[f"host_is_{vouching.state}"].format(name=name)
        page.notes = [words[f"host_was_{vouching.state}"].format(name=name, at=at, by=by)]

    def _gone(self, lang: str) -> Page:
        page = Page(lang, self.road.config.site_name)
        page.heading, page.notes = page.words["host_gone_title"], [page.words["host_gone"]]
        return page


def _label(one: Field, page: Page) -> str:
    return said_in(one.labels, page.lang) or page.words.find(f"host_field_{one.key}") or one.key


def _length(length: Length, config: Config, page: Page) -> str:
    plan, words = config.plans[length.plan], page.words
    if length.seconds is not None:
        return words["host_length"].format(time=duration_words(length.seconds), plan=visible(plan.name))
    if plan.seconds is None:
        return words["host_length_open"].format(plan=visible(plan.name))
    return words["host_length_whole"].format(time=duration_words(plan.seconds), plan=visible(plan.name))
