"""A page that all see alike is written once, and still is each guest's own."""

from dataclasses import fields, replace
from typing import Any

import pytest

from lauschen.portal.page import Choice, Page, render
from lauschen.portal.ways.click_through import RulesPart
from lauschen.portal.ways.code import CodePart
from lauschen.portal.ways.login import LoginPart

CODE = Choice("code", "I have a code", CodePart("", looks=False, takes_words=False, is_on_paper=True), True)
LOGIN = Choice("login", "I have an account", LoginPart("", looks=False), False)
RULES = Choice("click_through", "Agree", RulesPart(("Be kind.",), 1, "en", None), False)
DOOR = Page(
    "en",
    "Hollerau",
    "Welcome",
    ["Come & listen"],
    here="/visit/one",
    csrf="c1",
    other_lang="de",
    network="Garden",
    choices=[CODE, LOGIN],
    facts=[("Device", "02-00-00-00-00-01"), ("Last result", "22:27 · <none>")],
    is_common=True,
)
OTHERWISE: dict[str, Any] = {
    "lang": "de",
    "site": "Elsewhere",
    "heading": "Good evening",
    "notes": ["It rains"],
    "here": "/visit/two",
    "csrf": "c2",
    "other_lang": None,
    "network": "Foyer <2>",
    "choices": [RULES, CODE],
    "facts": [("Device", "02-00-00-00-00-02"), ("Last result", "")],
    "has_privacy": True,
}
NEVER_COMMON = {"fault", "until", "left", "going", "tops", "parts", "small", "is_common"}
NOT_IN_THE_TEXT = {"jumps_to", "refresh_s", "posts_elsewhere"}


@pytest.mark.parametrize("field", OTHERWISE)
def test_whatever_differs_for_another_guest_is_on_their_page(field: str) -> None:
    other = replace(DOOR, **{field: OTHERWISE[field]})
    assert render(DOOR) == render(replace(DOOR, is_common=False))
    assert render(other) == render(replace(other, is_common=False)) != render(DOOR)


def test_every_field_of_a_page_is_either_common_or_never_on_a_common_page() -> None:
    assert {one.name for one in fields(Page)} == {*OTHERWISE, *NEVER_COMMON, *NOT_IN_THE_TEXT}
