"""The page's words: every sentence that can be needed, in every language; times and names as they are shown."""

import re

import pytest

from lauschen.core.decide.reason import Reason
from lauschen.core.words.codes import Typo
from lauschen.core.words.text import visible
from lauschen.portal.words import catalogue, choose_language, clock_words, refusal
from lauschen.sentences.catalogue import LANGUAGES
from tests.place import Place


def test_every_reason_that_a_page_can_give_has_its_words() -> None:
    """What `decide` can say of a typed code, in the page's own sentence and in the foot's."""
    said_elsewhere = {
        Reason.NEEDS_CODE, Reason.ENDED_BY_STAFF, Reason.LOGGED_OUT, Reason.OTHER_CODE, Reason.NO_NETWORK,
        Reason.CONTRADICTORY, Reason.EAP, Reason.NO_WAY_IN, Reason.MAC_PASSWORD, Reason.NOT_A_CODE, Reason.CHAP_NAME,
        Reason.CHAP_PASSWORD, Reason.FOREIGN_STATE, Reason.SECRET_FOREIGN, Reason.SECRET_OLD, Reason.SECRET_USED,
        Reason.KEY_UNKNOWN, Reason.KEY_ENDED, Reason.KEY_REMOVED, Reason.KEY_TRIED, Reason.KEY_NONE,
        Reason.KEY_UNSIGNED, Reason.HANDSHAKE_BROKEN, Reason.TOO_SOON,
        Reason.KEY_NO_HANDSHAKE, Reason.TOO_MANY_NEW, Reason.NOT_SERVED,
    }  # fmt: skip
    for lang in LANGUAGES:
        words = catalogue(lang)
        for reason in set(Reason) - said_elsewhere - {Reason.ADMITTED}:
            assert words[str(reason)], reason
            assert words[f"answer_{reason}"], reason
        for typo in Typo:
            assert words[f"typo_{typo}"], typo
        assert words["answer_admitted"]
        assert words["answer_logged_out"]


def test_whoever_typed_no_code_is_told_of_none() -> None:
    """Account and agreement have sentences of their own where a code's would name a code."""
    of_codes = {Reason.CODE_UNKNOWN}
    never_agreed = {
        Reason.CODE_EXPIRED,
        Reason.NOT_YET,
        Reason.NOT_HERE,
        Reason.DATE_OVER,
        Reason.DEVICES_USED,
        Reason.DEVICES_FULL,
    }
    words = catalogue("en")
    said = {reason for reason in Reason if "code" in words.find(reason).lower()}
    assert Reason.WAY_CLOSED in said
    for form, others in (("login", of_codes), ("click_through", of_codes | never_agreed)):
        for reason in said - others:
            assert "code" not in refusal("en", reason, form).lower(), (form, reason)
            assert refusal("de", reason, form) != catalogue("de")[reason], (form, reason)
            assert refusal("en", reason, "code") == words[reason]


@pytest.mark.parametrize(
    ("header", "asked", "lang"),
    [
        ("", None, "en"),
        ("de-AT,de;q=0.9,en;q=0.8", None, "de"),
        ("fr,en;q=0.5,de;q=0.7", None, "de"),
        ("de;q=0.1,en", None, "en"),
        ("de", "en", "en"),
        ("en", "xx", "en"),
        ("de;q=nonsense,,;;", None, "en"),
    ],
)
def test_languages(header: str, asked: str | None, lang: str) -> None:
    assert choose_language(header, asked) == lang


def test_times_of_other_days_name_the_day(place: Place) -> None:
    now = 1_780_000_000.0
    zone = place.config.zone
    assert re.fullmatch(r"\d\d:\d\d", clock_words(now, now, zone, "en"))
    assert clock_words(now + 86_400, now, zone, "de").startswith("morgen ")
    assert re.fullmatch(r"\w+ \d+ \w+, \d\d:\d\d", clock_words(now + 5 * 86_400, now, zone, "en"))
    for lang in LANGUAGES:
        assert re.search(r" \d{4}, \d\d:\d\d", clock_words(now + 301 * 86_400, now, zone, lang))
        assert not re.search(r" \d{4},", clock_words(now + 299 * 86_400, now, zone, lang))


def test_hidden_characters_are_shown_as_marks() -> None:
    assert visible("a\u202eb\u200bc\x07") == "a[202E]b[200B]c[0007]"
