"""Words that guests type, however they are spelled."""

import pytest

from lauschen.core.words.plain import plain_words


@pytest.mark.parametrize(
    ("typed", "plain"),
    [
        ("Silver otter 42", "silverotter42"),
        (" silver-OTTER_42\n", "silverotter42"),
        ("Straße", "strasse"),
        ("ＡＢ１２", "ab12"),
        ("٤٢", "42"),
        ("४२", "42"),
        ("a\u200bb\u202ec", "abc"),
        ("...", ""),
        ("", ""),
        ("Ä", "ä"),
        ("A\u0308", "ä"),
    ],
)
def test_table(typed: str, plain: str) -> None:
    assert plain_words(typed) == plain
    assert plain_words(plain) == plain
