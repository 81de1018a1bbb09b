"""Every kind, reason and step that can be stored has words."""

import ast
from pathlib import Path

import lauschen
from lauschen.api.words.events import EVENTS, line
from lauschen.api.words.plans import plan_words
from lauschen.api.words.reasons import REASONS, answer_words
from lauschen.api.words.speaker import Speaker
from lauschen.core.decide.reason import Reason
from lauschen.store.log import EventRow, Facts
from tests.place import PHONE, WEST, Place


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


def test_every_kind_is_worded(place: Place) -> None:
    speaker = Speaker(place.config, {}, place.now)
    kinds = kinds_in_code()
    assert {"stay_began", "issued", "device_answered", "withdrawn", "barred"} <= kinds
    facts: Facts = {"answer": "nak:503", "cause": "x", "count": 2, "closed": 1, "plan": 1, "octets": 5}
    facts |= {"name": "Garden", "one": "10.0.0.1", "other": 2, "seconds": 30}
    for kind in kinds:
        sentence = line(speaker, EventRow(1, place.now, kind, PHONE, None, WEST, None, facts))
        assert sentence != kind
        assert "None" not in sentence, sentence


def test_nothing_is_worded_that_nobody_logs() -> None:
    assert set(EVENTS) - kinds_in_code() == set()


def test_every_reason_is_worded() -> None:
    assert set(REASONS) == {str(reason) for reason in Reason}


def test_answers_of_devices() -> None:
    assert answer_words("silent") == "did not answer"
    assert answer_words("nak:503") == "refused: it does not know such a session (Error-Cause 503)"
    assert answer_words("nak:0") == "refused: without saying why (Error-Cause 0)"


def test_plans_in_a_sentence(place: Place) -> None:
    assert plan_words(place.config.plans[1]) == (  # type: ignore[index]
        "Up to 2 GB in all on one device, for 8 h from first use; to be used within 90 days."
    )
