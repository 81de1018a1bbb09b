"""Voucher codes: what is typed in any grouping is read, and a slip is told from a wrong code."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.words.codes import (
    ALPHABET,
    BASE,
    CODE_COUNT,
    LONGEST,
    SHORTEST,
    TypedCode,
    Typo,
    code_count,
    group_code,
    make_code,
    read_code,
)

numbers = st.integers(0, CODE_COUNT - 1)


def test_alphabet_is_a_prime_number_of_signs_without_look_alikes() -> None:
    assert BASE == len(set(ALPHABET)) == 29
    assert not set("01OISZU") & set(ALPHABET)


@given(numbers)
def test_every_code_is_read_back_however_it_is_grouped(number: int) -> None:
    code = make_code(number)
    for typed in (
        code,
        group_code(code),
        code.lower(),
        f" {code[:3]} {code[3:]}\n",
        "-".join(code),
        f"{code[:5]}–{code[5:]}",
    ):
        assert read_code(typed) == TypedCode(code)


@given(numbers, st.integers(0, 9), st.sampled_from(ALPHABET))
def test_one_wrong_sign_is_always_a_slip(number: int, place: int, sign: str) -> None:
    code = make_code(number)
    if code[place] == sign:
        return
    assert read_code(code[:place] + sign + code[place + 1 :]) is Typo.CHECK


@given(numbers)
def test_any_two_swapped_signs_are_a_slip(number: int) -> None:
    code = make_code(number)
    for one, other in itertools.combinations(range(10), 2):
        signs = list(code)
        signs[one], signs[other] = signs[other], signs[one]
        if signs != list(code):
            assert read_code("".join(signs)) is Typo.CHECK


@pytest.mark.parametrize(
    ("typed", "typo"),
    [
        ("", Typo.EMPTY),
        (" - ", Typo.EMPTY),
        ("K7TRQ-9WMP", Typo.TOO_SHORT),
        ("K7TRQ-9WMP44", Typo.TOO_LONG),
        ("K7TRQ-9WM0X", Typo.NO_SUCH_SIGN),
        ("K7TRQ-9WMÄX", Typo.NO_SUCH_SIGN),
        ("<script>", Typo.NO_SUCH_SIGN),
        ("A" * 5000, Typo.TOO_LONG),
    ],
)
def test_typos(typed: str, typo: Typo) -> None:
    assert read_code(typed) is typo


def test_look_alikes_are_read_as_the_sign_that_was_printed() -> None:
    code = make_code(next(n for n in range(10**6) if set("L52V") <= set(make_code(n * 7919))) * 7919)
    typed = code.replace("L", "I").replace("5", "s").replace("2", "Z").replace("V", "u")
    assert read_code(typed) == TypedCode(code)


def test_a_number_outside_the_range_is_our_fault() -> None:
    with pytest.raises(ValueError, match="outside"):
        make_code(CODE_COUNT)


@given(st.integers(SHORTEST, LONGEST), st.data())
def test_codes_of_each_length_are_read_with_their_check(length: int, data: st.DataObject) -> None:
    number = data.draw(st.integers(0, code_count(length) - 1))
    code = make_code(number, length)
    assert len(code) == length
    assert read_code(group_code(code).lower(), (length,)) == TypedCode(code)
    place = data.draw(st.integers(0, length - 1))
    other = data.draw(st.sampled_from([sign for sign in ALPHABET if sign != code[place]]))
    assert read_code(code[:place] + other + code[place + 1 :], (length,)) is Typo.CHECK


@given(st.integers(SHORTEST, LONGEST), st.data())
def test_swapped_signs_are_told_at_each_length(length: int, data: st.DataObject) -> None:
    code = make_code(data.draw(st.integers(0, code_count(length) - 1)), length)
    one, two = data.draw(st.lists(st.integers(0, length - 1), min_size=2, max_size=2, unique=True))
    signs = list(code)
    signs[one], signs[two] = signs[two], signs[one]
    if signs != list(code):
        assert read_code("".join(signs), (length,)) is Typo.CHECK


@pytest.mark.parametrize(
    ("length", "shown"),
    [(6, "AAA-AAA"), (7, "AAAA-AAA"), (8, "AAAA-AAAA"), (9, "AAAAA-AAAA"), (12, "AAAA-AAAA-AAAA")],
)
def test_groups_are_as_even_as_can_be(length: int, shown: str) -> None:
    assert group_code("A" * length) == shown


def test_a_length_that_no_code_has_is_too_short_or_too_long() -> None:
    code = make_code(7, 8)
    assert read_code(code) is Typo.TOO_SHORT
    assert read_code(code, (8, 12)) == TypedCode(code)
    assert read_code("A" * 10, (8, 12)) is Typo.TOO_SHORT
    assert read_code("A" * 13, (8, 12)) is Typo.TOO_LONG


def test_digits_and_letters_of_other_scripts_are_read_as_ours() -> None:
    code = make_code(123_456_789)
    wide = "".join(chr(ord(sign) + 0xFEE0) for sign in code)
    assert read_code(wide) == TypedCode(code)
    assert read_code(wide.lower()) == TypedCode(code)
    arabic = "".join(chr(0x0660 + int(sign)) if sign.isdecimal() else sign for sign in code)
    assert read_code(arabic) == TypedCode(code)
