"""One field for whatever guests type as a code: which way in it belongs to, they need not know."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.offers.code import Code, read_typed
from lauschen.core.ways.ways import Way
from lauschen.core.words.codes import USUAL, Typo
from lauschen.portal.facts import Facts
from lauschen.portal.page import Part

LONGEST_TEXT = 40
ON_PAPER = frozenset((WayIn.VOUCHER, WayIn.GUEST_PASS))
"""Ways in whose codes guests have on a slip; others are sent or told."""


@dataclass(frozen=True, slots=True)
class CodePart:
    """The field with what was typed until now."""

    template: ClassVar[str] = "parts/code.html"
    text: str
    looks: bool
    """The device is in by a code already, and the one who types it may log it out here."""
    takes_words: bool
    """Codes of this network need not be ten signs, so the page does not say so."""
    is_on_paper: bool
    """Guests may have it on a slip; else the page speaks of none."""


class CodeOnPage:
    """Typing can be barred; then the page says until when, and the field is gone."""

    def show(self, facts: Facts, way: Way, lang: str) -> Part | None:
        if facts.is_typing_barred:
            return None
        return CodePart(
            facts.typed.text if facts.typed.form in (None, "code") else "",
            facts.may_only_look,
            facts.network.takes_words or facts.config.code_lengths != USUAL,
            any(one.way in ON_PAPER for one in facts.network.ways),
        )

    def read(self, unverified_form: Mapping[str, str], facts: Facts, lang: str) -> Code | Typo:
        text = unverified_form.get("code", "")[:LONGEST_TEXT]
        return read_typed(text, takes_words=facts.network.takes_words, lengths=facts.config.code_lengths)

    def typed(self, unverified_form: Mapping[str, str]) -> str:
        return unverified_form.get("code", "")[:LONGEST_TEXT]
