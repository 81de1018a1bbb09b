"""The questions of a form, as the page shows them and takes their answers."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from lauschen.core.errors import Invalid
from lauschen.core.ways.offers.fields import LONGEST_ANSWER, MAIL, PHONE, Field
from lauschen.core.words.addresses import read_mail, read_phone
from lauschen.core.words.text import visible
from lauschen.portal.facts import Facts
from lauschen.portal.words import catalogue

_AUTOFILL = {"name": "name", "mail": "email", "phone": "tel", "company": "organization"}
CONSENT = "consent"
LONGEST_VERSION = 9
_KINDS = {MAIL: "email", PHONE: "tel"}


@dataclass(frozen=True, slots=True)
class FieldPart:
    """One question as it is shown."""

    key: str
    label: str
    help: str
    kind: str
    autofill: str
    value: str
    is_required: bool
    is_wrong: bool


def field_part(one: Field, facts: Facts, lang: str, *, is_needed: bool = False) -> FieldPart:
    """`is_needed`: it must be filled in, whatever the house set."""
    return FieldPart(
        one.key,
        said_in(one.labels, lang) or catalogue(lang).find(f"field_{one.key}"),
        said_in(one.helps, lang),
        _KINDS.get(one.key, "text"),
        _AUTOFILL.get(one.key, "off"),
        facts.typed.answers.get(one.key, ""),
        one.is_required or is_needed,
        facts.typed.wrong_field == one.key,
    )


def typed_in(
    unverified: Mapping[str, str], fields: Sequence[Field], others: tuple[str, ...]
) -> dict[str, str]:
    """As it was typed: in one line each, and not longer than any answer is. `others`: besides the questions."""
    keys = [*(one.key for one in fields), *others]
    typed = {key: " ".join(unverified.get(key, "").split())[:LONGEST_ANSWER] for key in keys}
    return typed | ({CONSENT: "ticked"} if ticked_in(unverified) is not None else {})


def read_answers(
    unverified: Mapping[str, str],
    facts: Facts,
    fields: Sequence[Field],
    others: tuple[str, ...] = (),
    *,
    needs_phone: bool,
) -> dict[str, str]:
    """What was typed, each answer in its form; Invalid names the field that is none. Without what was left empty.

    A phone number that need not be written to may be of any country, and is then kept as it was typed.
    """
    answers = typed_in(unverified, fields, others)
    answers.pop(CONSENT, None)
    if answers.get(MAIL):
        answers[MAIL] = read_mail(answers[MAIL], MAIL)
    gateway = facts.config.channels.text
    if answers.get(PHONE) and gateway is not None:
        try:
            answers[PHONE] = read_phone(answers[PHONE], gateway.countries, PHONE)
        except Invalid:
            if needs_phone:
                raise
    return {key: text for key, text in answers.items() if text}


@dataclass(frozen=True, slots=True)
class ConsentPart:
    """A box of its own, which is never ticked before the guest does."""

    text: str
    version: int
    is_ticked: bool


def consent_part(facts: Facts, fields: Sequence[Field], lang: str, *, asks: bool) -> ConsentPart | None:
    """None where nobody is asked, nothing is written to agree to, or no address is asked for."""
    text = facts.config.consent
    spoken = text.language(lang)
    if not asks or spoken is None or not any(one.key in (MAIL, PHONE) for one in fields):
        return None
    return ConsentPart(
        visible(" ".join(text.texts[spoken].split())), text.version, CONSENT in facts.typed.answers
    )


def ticked_in(unverified: Mapping[str, str]) -> int | None:
    """The version of the words whose box was ticked."""
    value = unverified.get(CONSENT, "")
    return int(value) if value.isascii() and value.isdecimal() and len(value) <= LONGEST_VERSION else None


def said_in(texts: Mapping[str, str], lang: str) -> str:
    """In the guest's language, else in the one that there is."""
    return visible(texts.get(lang) or next(iter(texts.values()), ""))
