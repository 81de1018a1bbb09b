"""Every kind, reason and step that can be stored has words."""

import ast
import re
from pathlib import Path

import pytest

import lauschen
from lauschen.api.words.events import line, own_line
from lauschen.api.words.facts import FACTS
from lauschen.api.words.plans import plan_words
from lauschen.api.words.reasons import answer_words, reason_words
from lauschen.api.words.speaker import Speaker
from lauschen.core.decide.reason import Reason
from lauschen.sentences.catalogue import LANGUAGES
from lauschen.store.log import EventRow, Facts
from tests.place import PHONE, WEST, Place
from tests.sentences.test_catalogues import gaps, texts


def kinds_in_code() -> set[str]:
    """First arguments of every `log(...)` that is a plain text."""
    found = {"device_on", "device_off"}
    for file in Path(lauschen.__file__).parent.rglob("*.py"):
        for node in ast.walk(ast.parse(file.read_text())):
            if isinstance(node, ast.Call):
                name = getattr(node.func, "attr", getattr(node.func, "id", ""))
                if name in ("log", "_log", "log_of_credential", "_log_answer"):
                    found |= {
                        a.value for a in node.args if isinstance(a, ast.Constant) and isinstance(a.value, str)
                    }
    return found


@pytest.mark.parametrize("lang", LANGUAGES)
@pytest.mark.parametrize("named", [True, False])
def test_every_kind_is_worded(place: Place, lang: str, named: bool) -> None:
    speaker = Speaker(place.config, {}, place.now, lang=lang)
    kinds = kinds_in_code()
    assert {"stay_began", "issued", "device_answered", "withdrawn", "barred"} <= kinds
    facts: Facts = {"answer": "nak:503", "cause": "x", "count": 2, "closed": 1, "plan": 1, "octets": 5}
    facts |= {"one": "10.0.0.1", "other": 2, "seconds": 30, "reason": "paused"}
    if named:
        facts |= {"name": "Garden", "how": "printed", "role": "by_desk", "until": place.now, "what": "in"}
    for kind in kinds:
        sentence = line(speaker, EventRow(1, place.now, kind, PHONE, None, WEST, None, facts))
        assert sentence != kind
        assert not re.search(r"None|[{}]", sentence), sentence


def test_nothing_is_worded_that_nobody_logs() -> None:
    named = {id.split(".")[1] for id in texts("log", "en") if id.startswith("event.")}
    assert named == kinds_in_code()


def test_every_fact_that_a_sentence_names_is_known() -> None:
    for id, forms in texts("log", "en").items():
        if id.startswith("event."):
            assert gaps(" ".join(forms)) <= set(FACTS), id


def test_a_device_is_not_named_in_its_own_dossier(place: Place) -> None:
    row = EventRow(1, place.now, "stay_began", PHONE, None, WEST, None, {})
    for lang, said in (("en", "Connected at Garden west"), ("de", "Hat sich bei Garden west verbunden")):
        assert own_line(Speaker(place.config, {}, place.now, lang=lang, own=PHONE), row) == said


def test_a_pass_without_a_name_is_for_somebody(place: Place) -> None:
    speaker = Speaker(place.config, {}, place.now)
    for kind in ("pass_issued", "account_issued"):
        assert line(speaker, EventRow(1, place.now, kind, None, None, None, None, {})).endswith(
            "for somebody"
        )


def test_every_reason_is_worded() -> None:
    for lang in LANGUAGES:
        for reason in Reason:
            assert reason_words(reason, lang) != reason


def test_answers_of_devices() -> None:
    assert answer_words("silent") == "no answer"
    assert answer_words("nak:503") == "refused: it does not know such a session (Error-Cause 503)"
    assert answer_words("nak:0") == "refused: no reason given (Error-Cause 0)"


def test_plans_in_a_sentence(place: Place) -> None:
    assert plan_words(place.config.plans[1]) == (  # type: ignore[index]
        "Up to 2 GB in all on one device, for 8 h from first use; to be used within 90 days."
    )
