"""Sponsor: the form where a guest names a host, and what stands on the page while they wait."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from lauschen.acts.hosts.asking import Request
from lauschen.core.ways.offers.fields import LONGEST_ANSWER, MAIL, PHONE
from lauschen.core.ways.sponsor import MOST_LISTED, Naming, Sponsor
from lauschen.core.ways.vouching import VouchingState
from lauschen.core.ways.ways import Way
from lauschen.core.words.addresses import read_mail
from lauschen.core.words.codes import group_code
from lauschen.core.words.text import visible
from lauschen.portal.facts import Facts
from lauschen.portal.page import Page, Part
from lauschen.portal.ways.form import (
    ConsentPart,
    FieldPart,
    consent_part,
    field_part,
    read_answers,
    ticked_in,
)
from lauschen.portal.ways.register import RegisteredPart
from lauschen.portal.words import catalogue

FORM, HOST = "sponsor", "host"
REFRESH_S = 5


@dataclass(frozen=True, slots=True)
class SponsorPart:
    """The form; `hosts` are chosen from, or one is typed."""

    template: ClassVar[str] = "parts/sponsor.html"
    fields: tuple[FieldPart, ...]
    hosts: tuple[tuple[str, str, bool], ...]
    """Id, name with department, whether it is chosen."""
    typed: str
    kind: str
    label: str
    help: str
    is_wrong: bool
    consent: ConsentPart | None


@dataclass(frozen=True, slots=True)
class WaitingPart:
    """Somebody was asked: it goes on by itself; or something else is done instead."""

    template: ClassVar[str] = "parts/waiting.html"


class SponsorOnPage:
    """Shown where somebody can be asked."""

    def show(self, facts: Facts, way: Way, lang: str) -> Part | None:
        assert isinstance(way, Sponsor)
        if facts.may_only_look:
            return None
        words, typed = catalogue(lang), facts.typed.answers.get(HOST, "")
        hosts = tuple(
            (str(host.id), _listed(host.name, host.department), str(host.id) == typed)
            for host in facts.config.hosts.values()
            if way.naming is Naming.LIST and host.may_vouch(facts.network.id)
        )
        if len(hosts) > MOST_LISTED:
            hosts = ()
        naming = Naming.NAME if way.naming is Naming.LIST and not hosts else way.naming
        domains = ", ".join(f"@{one}" for one in way.domains)
        return SponsorPart(
            tuple(field_part(one, facts, lang) for one in way.fields),
            hosts,
            "" if hosts else typed,
            "email" if way.naming is Naming.DOMAIN else "text",
            words[f"host_{naming}"],
            words.find(f"host_{naming}_help").format(domains=domains),
            facts.typed.wrong_field == HOST,
            consent_part(facts, way.fields, lang, asks=way.asks_consent),
        )


def _listed(name: str, department: str) -> str:
    return f"{visible(name)} · {visible(department)}" if department else visible(name)


def read_request(unverified: Mapping[str, str], facts: Facts, way: Sponsor, lang: str) -> Request:
    """Each answer in its form; Invalid names the field that is none."""
    asks_phone = any(one.key == PHONE and one.is_required for one in way.fields)
    needs_phone = asks_phone and not unverified.get(MAIL, "").strip()
    answers = read_answers(unverified, facts, way.fields, (HOST,), needs_phone=needs_phone)
    named = answers.pop(HOST, "")
    if way.naming is Naming.DOMAIN and named:
        named = read_mail(named, HOST)
    return Request(answers, named[:LONGEST_ANSWER], lang, ticked_in(unverified))


def vouched_part(facts: Facts, lang: str) -> Part | None:
    """The code that a host gave, as long as it is good, with what they said."""
    asked, words = facts.asked, catalogue(lang)
    if asked is None or not asked.code:
        return None
    word = f"{words['host_word'].format(word=visible(asked.word))} " if asked.word else ""
    says = f"{words['host_yes']} {word}{words['host_yes_keep' if facts.is_in else 'host_yes_code']}"
    return RegisteredPart(group_code(asked.code), says, not facts.is_in)


def show_waiting(page: Page, facts: Facts) -> bool:
    """What became of asking; True while it waits, and nothing else is to be done on the page."""
    asked, words = facts.asked, page.words
    if asked is None:
        return False
    if asked.state is VouchingState.WAITING:
        page.heading = words["waiting_title"]
        key = "waiting_host" if asked.host else "waiting_somebody"
        page.notes = [
            words[key].format(host=visible(asked.host), since=facts.clock(asked.at, page.lang)),
        ]
        then = words["waiting_until"].format(until=facts.clock(asked.until, page.lang))
        page.small = [f"{then} {words['waiting_may_close']}" if asked.is_written_to else then]
        page.refresh_s = REFRESH_S
        page.parts = [WaitingPart()]
        return True
    if asked.state is VouchingState.NO:
        page.notes = [words["host_no"]]
        if asked.word:
            page.notes.append(words["host_word"].format(word=visible(asked.word)))
    elif asked.state is VouchingState.OVER:
        page.notes = [words["host_over"]]
    return False
