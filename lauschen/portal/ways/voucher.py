"""Voucher: a field for the code."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.ways.voucher import Code
from lauschen.core.ways.ways import Way
from lauschen.core.words.codes import Slip, read_code
from lauschen.portal.facts import Facts
from lauschen.portal.page import Part

LONGEST_TEXT = 40


@dataclass(frozen=True, slots=True)
class CodePart:
    """The field with what was typed until now."""

    template: ClassVar[str] = "parts/voucher.html"
    text: str
    looks: bool
    """The device is in by a code already, and the one who types it may log it out here."""


class VoucherOnPage:
    """Typing can be barred; then the page says until when, and the field is gone."""

    def show(self, facts: Facts, way: Way, lang: str) -> Part | None:
        return None if facts.is_typing_barred else CodePart(facts.typed.text, facts.may_only_look)

    def read(self, unverified_form: Mapping[str, str], facts: Facts, lang: str) -> Code | Slip:
        typed = read_code(unverified_form.get("code", "")[:LONGEST_TEXT])
        return typed if isinstance(typed, Slip) else Code(typed.signs)
