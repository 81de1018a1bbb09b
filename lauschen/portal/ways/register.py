"""Self-registration: the form that the house made, and what a guest wrote into it."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from lauschen.acts.page.registering import Form
from lauschen.core.errors import Invalid
from lauschen.core.limits.left import Binds
from lauschen.core.ways.offers.fields import PHONE
from lauschen.core.ways.self_registration import NEEDS, SENT, Delivery, SelfRegistration
from lauschen.core.ways.ways import Way
from lauschen.core.words.codes import group_code
from lauschen.portal.facts import Facts
from lauschen.portal.page import Part
from lauschen.portal.ways.form import (
    ConsentPart,
    FieldPart,
    consent_part,
    field_part,
    read_answers,
    ticked_in,
    typed_in,
)
from lauschen.portal.words import catalogue

FORM, CONFIRM = "register", "confirm"


@dataclass(frozen=True, slots=True)
class RegisterPart:
    """The form; `deliveries` with their words, where there is something to choose."""

    template: ClassVar[str] = "parts/register.html"
    fields: tuple[FieldPart, ...]
    deliveries: tuple[tuple[str, str, bool], ...]
    only: str
    """The one delivery that there is; empty when one is chosen."""
    button: str
    consent: ConsentPart | None


@dataclass(frozen=True, slots=True)
class RegisteredPart:
    """After it: the code to keep, and a button; or where it was sent, and the field for it."""

    template: ClassVar[str] = "parts/registered.html"
    code: str
    """Empty where it was sent."""
    says: str
    may_go_in: bool
    was_sent: bool = False


@dataclass(frozen=True, slots=True)
class ConfirmPart:
    """The field for the digits that were sent to the address."""

    template: ClassVar[str] = "parts/confirm.html"
    says: str
    is_barred: bool
    is_wrong: bool


class RegisterOnPage:
    """Shown where the code can reach the guest."""

    def show(self, facts: Facts, way: Way, lang: str) -> Part | None:
        assert isinstance(way, SelfRegistration)
        if facts.may_only_look:
            return None
        words, usable = catalogue(lang), facts.config.deliveries(way)
        typed = facts.typed.answers
        chosen = typed.get("delivery", "")
        first = chosen if chosen in usable else usable[0]
        needed = NEEDS.get(usable[0]) if len(usable) == 1 else None
        fields = tuple(field_part(one, facts, lang, is_needed=one.key == needed) for one in way.fields)
        choices = tuple(
            (str(one), words[f"delivery_{one}"].format(minutes=way.first_minutes), one == first)
            for one in usable
        )
        only = str(usable[0]) if len(usable) == 1 else ""
        button = words["register_send" if only in (*SENT, Delivery.PAGE) else "register_button"]
        consent = consent_part(facts, way.fields, lang, asks=way.asks_consent)
        return RegisterPart(fields, () if only else choices, only, button, consent)


def read_form(unverified: Mapping[str, str], facts: Facts, way: SelfRegistration, lang: str) -> Form:
    """Each answer in its form; Invalid names the field that is none."""
    unverified_delivery = unverified.get("delivery", "")
    needs_phone = _needs(unverified_delivery) == PHONE
    answers = read_answers(unverified, facts, way.fields, needs_phone=needs_phone)
    usable = facts.config.deliveries(way)
    if unverified_delivery not in usable:
        raise Invalid("delivery", field="delivery", mend="Choose one of those that are offered.")
    return Form(answers, Delivery(unverified_delivery), lang, ticked_in(unverified))


def typed_answers(unverified: Mapping[str, str], way: SelfRegistration) -> dict[str, str]:
    """As they were typed: in one line each, and not longer than any answer is."""
    return typed_in(unverified, way.fields, ("delivery",))


def confirm_part(facts: Facts, lang: str) -> ConfirmPart:
    """Until when, and where the link and the digits were sent."""
    given, words = facts.registered, catalogue(lang)
    assert given is not None
    to = blurred(address_of(given.delivery, given.answers))
    by = given.confirm_by or facts.now
    key = "confirm_until" if by > facts.now else "confirm_over"
    return ConfirmPart(
        words[key].format(to=to, time=facts.clock(by, lang)),
        facts.is_typing_barred,
        facts.typed.form == CONFIRM,
    )


def is_first_stay(facts: Facts) -> bool:
    """Whether an address must still be confirmed, and the part that asks for it is on another visit's page."""
    is_first = facts.remains is not None and facts.remains.binds is Binds.CONFIRMATION
    return is_first and (facts.registered is None or not facts.may_log_out)


def registered_part(facts: Facts, lang: str) -> Part | None:
    """What this visit was given, as long as it is not used up."""
    given = facts.registered
    if given is None:
        return None
    if given.confirm_by is not None:
        return confirm_part(facts, lang)
    words = catalogue(lang)
    if given.was_sent:
        if facts.is_in:
            return None  # it has arrived, and was typed
        says = words[f"registered_{given.delivery}"]
        return RegisteredPart(
            "", says.format(to=blurred(address_of(given.delivery, given.answers))), False, was_sent=True
        )
    may_go_in = not facts.is_in
    says = words["registered_page" if may_go_in else "registered_keep"]
    return RegisteredPart(group_code(given.code), says, may_go_in)


def _needs(unverified_delivery: str) -> str | None:
    """The field that a delivery needs, if it is one."""
    return NEEDS[Delivery(unverified_delivery)] if unverified_delivery in NEEDS else None


def address_of(delivery: Delivery, answers: Mapping[str, str]) -> str:
    """Where a message of this delivery went."""
    return answers.get(NEEDS.get(delivery, ""), "")


def blurred(to: str) -> str:
    """Enough of an address to know it again by: the page may be read over a shoulder."""
    name, at, domain = to.rpartition("@")
    if at:
        return f"{name[:1]}…@{domain}"
    return f"{to[:3]} … {to[-3:]}"
