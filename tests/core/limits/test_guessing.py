"""The chance of hitting any of many codes, against counting and against exact fractions."""

from fractions import Fraction
from itertools import combinations
from math import comb

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.limits.guessing import DEVICES, SAFE, chance_in_a_day, shortest_safe
from lauschen.core.limits.tries import chance_of_any, most_guesses
from lauschen.core.words.codes import LONGEST, SHORTEST, code_count


@pytest.mark.parametrize(
    ("live", "space", "guesses"), [(1, 6, 2), (2, 6, 3), (3, 7, 1), (4, 6, 3), (2, 5, 2)]
)
def test_it_is_what_counting_says(live: int, space: int, guesses: int) -> None:
    drawn = list(combinations(range(space), guesses))
    hits = sum(1 for one in drawn if any(code < live for code in one))
    assert chance_of_any(live, space, guesses) == pytest.approx(hits / len(drawn))


@given(st.integers(1, 300), st.integers(1, 300), st.integers(0, 5000))
def test_it_is_the_exact_fraction(live: int, guesses: int, more: int) -> None:
    space = live + guesses + more
    missed = Fraction(comb(space - live, guesses), comb(space, guesses))
    assert chance_of_any(live, space, guesses) == pytest.approx(float(1 - missed), rel=1e-9)


def test_its_edges() -> None:
    assert chance_of_any(0, 100, 50) == 0
    assert chance_of_any(5, 100, 0) == 0
    assert chance_of_any(5, 100, 96) == 1


def test_small_chances_keep_their_size() -> None:
    guesses = most_guesses(86_400, DEVICES)
    assert chance_in_a_day(14, 1) == pytest.approx(guesses / code_count(14), rel=1e-9)


@given(st.integers(1, 10**6))
def test_the_proposed_length_is_safe_and_the_one_before_is_not(live: int) -> None:
    length = shortest_safe(live)
    assert SHORTEST <= length <= LONGEST
    assert chance_in_a_day(length, live) < SAFE
    assert length == SHORTEST or chance_in_a_day(length - 1, live) >= SAFE


def test_what_it_comes_to() -> None:
    assert [shortest_safe(live) for live in (1, 40, 1000, 100_000)] == [7, 8, 9, 10]
