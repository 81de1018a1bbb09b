"""Lists for spreadsheets: every cell quoted, and nothing in one is a formula to anybody."""

import csv
import io

import pytest

from lauschen.api.lines import csv_answer, defused, undefused


@pytest.mark.parametrize(
    ("text", "shown"),
    [
        ("=1+1", "'=1+1"), ("+43 664 1", "'+43 664 1"), ("-5", "'-5"), ("@cmd", "'@cmd"), ("\t=1", "'\t'=1"),
        ("\uff1dcmd", "'\uff1dcmd"), ("\uff0b1", "'\uff0b1"), ("Ines;=1+1", "Ines;'=1+1"), ("Ines\t@x", "Ines\t'@x"),
        ("a\n=1", "a\n'=1"), ("1-2", "1-2"), ("Ines = Jonas", "Ines = Jonas"), ("", ""), ("it's", "it's"),
    ],
)  # fmt: skip
def test_a_formula_is_text_and_comes_back_as_it_was(text: str, shown: str) -> None:
    assert defused(text) == shown
    assert undefused(shown) == text


def test_every_cell_is_quoted() -> None:
    answer = csv_answer("x.csv", ("name", "note"), [("Ines;Harwood", 'says "hi"'), (5, "=1")])
    text = bytes(answer.body).decode()
    assert text == '"name","note"\r\n"Ines;Harwood","says ""hi"""\r\n"5","\'=1"\r\n'
    assert list(csv.reader(io.StringIO(text)))[1] == ["Ines;Harwood", 'says "hi"']
