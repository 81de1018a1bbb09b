"""Passphrases that are drawn, and chosen ones: what no device takes, what gets lost, what somebody guesses."""

import random
from math import log2

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.errors import Invalid
from lauschen.core.passphrases import words_de, words_en
from lauschen.core.passphrases.guessable import why_guessable
from lauschen.core.passphrases.passphrase import (
    FEWEST_BITS,
    LONGEST,
    MOST_BITS,
    Style,
    check_passphrase,
    draw,
)


@pytest.mark.parametrize("words", [words_en.WORDS, words_de.WORDS])
def test_each_list_has_1024_words_that_every_keyboard_has(words: tuple[str, ...]) -> None:
    assert len(words) == len(set(words)) == 1024
    assert all(3 <= len(word) <= 8 and word.isascii() and word.isalpha() and word.islower() for word in words)


@given(
    st.sampled_from(Style), st.integers(FEWEST_BITS, MOST_BITS), st.sampled_from(["en", "de"]), st.randoms()
)
def test_what_is_drawn_is_as_strong_as_it_says_and_taken_by_every_device(
    style: Style, bits: int, lang: str, chance: random.Random
) -> None:
    ways = 1

    def below(n: int) -> int:
        nonlocal ways
        ways *= n
        return chance.randrange(n)

    drawn = draw(style, bits, below, lang)
    assert bits <= drawn.bits == pytest.approx(log2(ways))
    check_passphrase(drawn.text)


def test_the_longest_that_can_be_drawn_fits() -> None:
    longest = max(range(1024), key=lambda number: len(words_de.WORDS[number]))
    assert len(draw(Style.WORDS, MOST_BITS, lambda _: longest, "de").text) <= LONGEST


def test_sixty_bits_are_six_words_or_thirteen_signs() -> None:
    assert draw(Style.WORDS, 60, lambda _: 0).text == "-".join([words_en.WORDS[0]] * 6)
    assert draw(Style.LETTERS, 60, lambda _: 0).text == "22222-22222-222"


@pytest.mark.parametrize("bits", [FEWEST_BITS - 1, MOST_BITS + 1, 10**9])
def test_no_other_strength_is_drawn(bits: int) -> None:
    with pytest.raises(Invalid, match="40 to 70"):
        draw(Style.WORDS, bits, lambda _: 0)


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("", "passphrase_length"),
        ("seven77", "passphrase_length"),
        ("x" * 64, "passphrase_length"),
        ("0123456789abcdefABCDEF0123456789abcdef0123456789abcdef0123456789"[:64], "passphrase_is_key"),
        ("pumpkin 🎃 lantern", "passphrase_signs"),
        ("Glühwein am Abend", "passphrase_signs"),
        ("with\0a NUL", "passphrase_signs"),
        ("with a\ttab", "passphrase_signs"),
        ("\x7fdelete it", "passphrase_signs"),
        (" leading blank", "passphrase_blank"),
        ("trailing blank ", "passphrase_blank"),
    ],
)
def test_what_cannot_be_one(text: str, code: str) -> None:
    with pytest.raises(Invalid) as raised:
        check_passphrase(text)
    assert raised.value.code == code


@pytest.mark.parametrize("text", ["eight888", "x" * 63, '~ all ! signs " of \\ it;:,', "a b c d e"])
def test_what_can_be_one(text: str) -> None:
    check_passphrase(text)


HOUSE = ("Hollerau Summer Academy", "Hollerau Cloister", "Hall")


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("aaaaaaaabb", "different signs"),
        ("cello7cello7cello7", "again and again"),
        ("20271204", "digits alone"),
        ("+436641234", None),
        ("0664123456789", "digits alone"),
        ("066412345678901", "digits alone"),
        ("0664123456789012", None),
        ("12345678abcdefgh", "follow each other"),
        ("abcd-fghi-k", None),
        ("abcdefgh-k", "follow each other"),
        ("harp!harp!", "again and again"),
        ("score7score7sco", "again and again"),
        ("score7score7xyz", None),
        ("qwertzuiop", "follow each other"),
        ("hollerau-cloister1", "name of this house"),
        ("HollerauCloister", "name of this house"),
        ("hollerau-cloister-12", "name of this house"),
        ("hollerau-cloister-1234", "name of this house"),
        ("hollerau-cloister-12345", None),
        ("hall-abbey-bells", None),
        ("password1!", "one word"),
        ("password 1234", "one word"),
        ("password 12345", None),
        ("P4ssw0rt2027", "one word"),
        ("vase trumpet elbow", None),
        ("k7trq-9wmp4-x3v", None),
        ("the bells at noon 7", None),
    ],
)
def test_what_somebody_guesses(text: str, why: str | None) -> None:
    found = why_guessable(text, HOUSE)
    assert (found is None) == (why is None), found
    assert why is None or why in (found or "")


@pytest.mark.parametrize("text", [words_en.WORDS[700] + "12!", words_en.WORDS[3] + words_de.WORDS[1000]])
def test_words_of_ours_are_known_to_others_too(text: str) -> None:
    assert "one word" in (why_guessable(text) or "")
