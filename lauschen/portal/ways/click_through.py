"""Click-through: the house rules, and a button that agrees to them."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.decide.judge import judge
from lauschen.core.ways.click_through import HOUR_S, LONGEST_MAIL, Agreement, ClickThrough, agreed, read_mail
from lauschen.core.ways.ways import Way
from lauschen.core.words.codes import Typo
from lauschen.core.words.text import visible
from lauschen.portal.facts import Facts
from lauschen.portal.page import Part
from lauschen.portal.words import catalogue
from lauschen.sentences.catalogue import LANGUAGES

LONGEST_NAME = 80


@dataclass(frozen=True, slots=True)
class RulesPart:
    """The text with its version and language; or, when the device had its share, when it may have another."""

    template: ClassVar[str] = "parts/click_through.html"
    paragraphs: tuple[str, ...]
    version: int
    lang: str
    """Of the text, which may be another one than the page's."""
    over: str | None
    """Why agreeing would not help now."""
    asks_name: bool = False
    asks_mail: bool = False
    name: str = ""
    mail: str = ""
    """As they were typed until now."""
    is_whole: bool = False


class ClickThroughOnPage:
    """Nobody is shown a button that cannot work."""

    def show(self, facts: Facts, way: Way, lang: str) -> Part | None:
        assert isinstance(way, ClickThrough)
        rules, spoken = facts.config.house_rules, facts.config.house_rules.language(lang)
        if spoken is None or facts.may_only_look:
            return None
        text = rules.texts[spoken]
        paragraphs = tuple(_shown(paragraph) for paragraph in text.split("\n\n") if paragraph.strip())
        name, _, mail = (
            facts.typed.text.partition("\n") if facts.typed.form == "click_through" else ("", "", "")
        )
        return RulesPart(
            paragraphs,
            rules.version,
            spoken,
            _over(facts, way, lang),
            asks_name=way.asks_name,
            asks_mail=way.asks_mail,
            name=name,
            mail=mail,
            is_whole=way.shows_whole,
        )

    def read(self, unverified_form: Mapping[str, str], facts: Facts, lang: str) -> Agreement | Typo:
        version = unverified_form.get("rules", "")[:9]
        number = int(version) if version.isascii() and version.isdecimal() else 0
        spoken = unverified_form.get("rules_lang", "")
        name = " ".join(unverified_form.get("guest_name", "").split())[:LONGEST_NAME]
        mail = read_mail(unverified_form.get("guest_mail", "").strip())
        return Agreement(number, spoken if spoken in LANGUAGES else lang, name, mail)

    def typed(self, unverified_form: Mapping[str, str]) -> str:
        name, mail = (
            unverified_form.get(field, "").replace("\n", " ") for field in ("guest_name", "guest_mail")
        )
        return f"{name[:LONGEST_NAME]}\n{mail[:LONGEST_MAIL]}"


def _over(facts: Facts, way: ClickThrough, lang: str) -> str | None:
    grant = facts.found(agreed(facts.visit.network, facts.visit.mac))
    if grant is None or way.begins_anew(grant.use, facts.now):
        return None
    if judge(facts.config.plan_of(grant), grant, facts.now).reason is None:
        return None
    words = catalogue(lang)
    if way.again_after_hours is None or grant.use.first_used is None:
        return words["agree_used_up"]
    again = grant.use.first_used + way.again_after_hours * HOUR_S
    return words["agree_again_at"].format(time=facts.clock(-(-again // 60) * 60, lang))


def _shown(paragraph: str) -> str:
    """Its lines as they are; what hides or turns text is shown as a mark (rulings 6.7)."""
    return "\n".join(visible(line) for line in paragraph.strip().splitlines())
