"""Account: a name and a password, typed in a form of their own."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.ways.account import LONGEST_NAME, LONGEST_PASSWORD, Login, login_name
from lauschen.core.ways.ways import Way
from lauschen.core.words.codes import Typo
from lauschen.portal.facts import Facts
from lauschen.portal.page import Part


@dataclass(frozen=True, slots=True)
class LoginPart:
    """Name and password; of what was typed the name alone is shown again."""

    template: ClassVar[str] = "parts/login.html"
    name: str
    looks: bool
    """The device is in already, and whoever knows its account may log it out here."""


class LoginOnPage:
    """Typing can be barred; then the page says until when, and the fields are gone."""

    def show(self, facts: Facts, way: Way, lang: str) -> Part | None:
        if facts.is_typing_barred:
            return None
        return LoginPart(facts.typed.text if facts.typed.form == "login" else "", facts.may_only_look)

    def read(self, unverified_form: Mapping[str, str], facts: Facts, lang: str) -> Login | Typo:
        name = login_name(unverified_form.get("name", "")[:LONGEST_NAME])
        password = unverified_form.get("password", "")[: LONGEST_PASSWORD + 1]
        return Login(name, password) if name and password else Typo.EMPTY

    def typed(self, unverified_form: Mapping[str, str]) -> str:
        return unverified_form.get("name", "")[:LONGEST_NAME]
