"""Rates: the lower holds, each way by itself; attributes that speak of one that there is not are left out."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.limits.rate import lower, rate_words
from lauschen.core.words.template import can_fill, fill, uses_rate


@pytest.mark.parametrize(
    ("one", "other", "holds"), [(None, None, None), (5, None, 5), (None, 5, 5), (4, 5, 4), (5, 4, 4)]
)
def test_the_lower_of_two_holds(one: int | None, other: int | None, holds: int | None) -> None:
    assert lower(one, other) == holds


def test_a_rate_in_each_unit() -> None:
    words = rate_words(2_500_000, 64_000)
    assert fill("{down_bps}/{down_kbit}/{down_mbit} {up_bps}/{up_kbit}/{up_mbit}", words) == (
        "2500000/2500/2 64000/64/1"
    )


@pytest.mark.parametrize(
    ("template", "uses", "can"),
    [
        ("rate={down_kbit}", True, True),
        ("{up_kbit}", True, False),
        ("{role}", False, True),
        ("{down_kbit}/{up_bps}", True, False),
    ],
)
def test_what_speaks_of_a_rate_that_there_is_not_is_left_out(template: str, uses: bool, can: bool) -> None:
    assert uses_rate(template) is uses
    assert can_fill(template, rate_words(1_000_000, None)) is can


@given(st.integers(8000, 10**12))
def test_no_unit_says_more_than_there_is_but_the_least(bps: int) -> None:
    words = rate_words(bps, None)
    assert int(words["down_kbit"]) * 1000 <= bps
    assert int(words["down_mbit"]) * 10**6 <= max(bps, 10**6)
