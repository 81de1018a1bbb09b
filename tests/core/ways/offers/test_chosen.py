"""Codes that staff choose: their length, how many there could be, and the chance in words."""

import pytest

from lauschen.core.errors import Invalid
from lauschen.core.ways.offers.chosen import LONGEST, chance_words, check_chosen, code_space


@pytest.mark.parametrize(
    ("words", "count"),
    [
        ("otter", 26**5),
        ("123", 10**3),
        ("otter42", 36**7),
        ("aaaaaaa", 26**2),
        ("abababa", 26**4),
    ],
)
def test_how_many_codes_of_its_kind_there_are(words: str, count: int) -> None:
    assert code_space(words) == count


def test_the_longest_is_taken_and_one_sign_more_is_not() -> None:
    text = ("silver otter and golden heron by the lake")[:LONGEST]
    assert len(text) == LONGEST
    assert check_chosen(text, 86_400.0)
    with pytest.raises(Invalid) as refused:
        check_chosen(text + "s", 86_400.0)
    assert refused.value.code == "code_length"


def test_a_chance_is_never_made_smaller() -> None:
    assert chance_words(1.0) == "1 in 1"
    assert chance_words(7.0) == "1 in 1"
    assert chance_words(1 / 5200.9) == "1 in 5,200"
