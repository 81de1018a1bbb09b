"""Which part of the page belongs to which way in."""

from collections.abc import Mapping
from typing import Protocol

from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.ways import Offer, Way
from lauschen.core.words.codes import Typo
from lauschen.core.words.text import visible
from lauschen.portal.facts import Facts
from lauschen.portal.page import Choice, Part
from lauschen.portal.ways import register, sponsor
from lauschen.portal.ways.click_through import ClickThroughOnPage
from lauschen.portal.ways.code import CodeOnPage
from lauschen.portal.ways.login import LoginOnPage
from lauschen.portal.ways.register import RegisterOnPage
from lauschen.portal.ways.sponsor import SponsorOnPage
from lauschen.portal.words import catalogue


class OnPage(Protocol):
    """What a way in shows at the page."""

    def show(self, facts: Facts, way: Way, lang: str) -> Part | None:
        """Its part; None when it could not work now."""


class Offering(OnPage, Protocol):
    """One whose form is an offer as it stands."""

    def read(self, unverified_form: Mapping[str, str], facts: Facts, lang: str) -> Offer | Typo:
        """What its form offers; a typing error is no offer."""

    def typed(self, unverified_form: Mapping[str, str]) -> str:
        """What of it is shown again after a mistake."""


OFFERS: Mapping[str, Offering] = {
    "code": CodeOnPage(),
    "login": LoginOnPage(),
    "click_through": ClickThroughOnPage(),
}
FORMS: Mapping[str, OnPage] = {**OFFERS, register.FORM: RegisterOnPage(), sponsor.FORM: SponsorOnPage()}
FORMS_OF: Mapping[WayIn, tuple[str, ...]] = {
    WayIn.VOUCHER: ("code",),
    WayIn.GUEST_PASS: ("code",),
    WayIn.PASSCODE: ("code",),
    WayIn.ACCOUNT: ("login",),
    WayIn.CLICK_THROUGH: ("click_through",),
    WayIn.SELF_REGISTRATION: (register.FORM, "code"),
    WayIn.SPONSOR: (sponsor.FORM, "code"),
}
"""Ways that share a form are asked once, in the place of the first; those without one are never asked."""


def closed_notes(facts: Facts, lang: str) -> list[str]:
    """When the ways in open that are closed at this hour; a form that another way shows need not be named."""
    words, notes = catalogue(lang), []
    ways = [way for way in facts.network.ways if facts.config.why_idle(facts.network.id, way) is None]
    ways = [way for way in ways if way.way in FORMS_OF]
    open_forms = {FORMS_OF[way.way][0] for way in ways if way.is_open(facts.now)}
    for way in ways:
        opens = way.hours.span(facts.now)[1] if way.hours is not None else None
        form = FORMS_OF.get(way.way, ("",))[0]
        if form not in open_forms and opens is not None:
            name = visible(way.labels.get(lang, "")) or words[f"choose_{form}"]
            notes.append(words["way_opens"].format(way=name, time=facts.clock(opens, lang)))
    return notes


def choices_of(facts: Facts, lang: str) -> list[Choice]:
    """What the network offers and what can work now, in its order; open is what was used last, else the first."""
    shown: dict[str, Part] = {}
    titles: dict[str, str] = {}
    words = catalogue(lang)
    for way in facts.network.ways:
        if facts.config.why_idle(facts.network.id, way) is not None or not way.is_open(facts.now):
            continue
        for place, form in enumerate(FORMS_OF.get(way.way, ())):  # of some nothing is asked
            part = FORMS[form].show(facts, way, lang) if form not in shown else None
            if part is not None:
                shown[form] = part
                own = visible(way.labels.get(lang, "")) if place == 0 else ""
                titles[form] = own or words[f"choose_{form}"]
    given = facts.registered
    wanted = facts.typed.form or ("code" if given is not None else None)
    is_open = wanted if wanted in shown else next(iter(shown), None)
    if given is not None and not given.was_sent and facts.typed.form is None:
        is_open = None  # the code has a button of its own, above all of them
    return [Choice(form, titles[form], part, form == is_open) for form, part in shown.items()]
