"""Octet counters that grow, wrap, restart, come late and lie (rulings 4.3 and 4.5)."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.counters import WRAP, Count, Reading, read_counter, share_after


@pytest.mark.parametrize(
    ("known", "octets", "gigawords", "grown_s", "saw", "added", "reading"),
    [
        (Count(), 1000, None, 10, False, 1000, Reading.GREW),
        (Count(1000, 1000), 1000, None, 10, False, 0, Reading.GREW),
        (Count(WRAP - 100, WRAP - 100), 50, None, 60, False, 150, Reading.WRAPPED),
        (Count(1000, 1000), 50, None, 1, False, 50, Reading.RESTARTED),
        (Count(1000, 1000), 900, None, -5, False, 0, Reading.LATE),
        (Count(WRAP + 5, WRAP + 5), 10, 1, 10, True, 5, Reading.GREW),
        (Count(WRAP + 5, WRAP + 5), 3, 0, 10, True, 3, Reading.RESTARTED),
        (Count(0, 0), 0, 40, 1, False, 0, Reading.IMPOSSIBLE),
    ],
)
def test_table(
    known: Count, octets: int, gigawords: int | None, grown_s: int, saw: bool, added: int, reading: Reading
) -> None:
    count = Count(known.raw, known.total)
    assert read_counter(count, octets, gigawords, grown_s, saw_gigawords=saw) == (added, reading)
    assert count.total == known.total + added


def test_octets_that_fall_with_the_packets_began_anew() -> None:
    count = Count(3 * 10**9, 3 * 10**9)
    found = read_counter(count, 1000, None, 600, saw_gigawords=False, packets_fell=True)
    assert (found, count.total) == ((1000, Reading.RESTARTED), 3 * 10**9 + 1000)


@given(st.lists(st.integers(0, 10**7), min_size=1, max_size=30))
def test_the_total_is_what_was_carried_though_the_counter_wraps(pieces: list[int]) -> None:
    true, count = WRAP - 5 * 10**6, Count(WRAP - 5 * 10**6, WRAP - 5 * 10**6)
    for piece in pieces:
        true += piece
        read_counter(count, true % WRAP, None, 60, saw_gigawords=False)
    assert count.total == true


@pytest.mark.parametrize(
    ("octets", "instant", "share"),
    [(100, 0.0, 100), (100, 5.0, 50), (101, 5.0, 51), (100, 10.0, 0), (100, 99.0, 0), (100, -1.0, 100)],
)
def test_octets_are_spread_evenly_and_the_odd_one_goes_to_the_later_part(
    octets: int, instant: float, share: int
) -> None:
    assert share_after(octets, 0.0, 10.0, instant) == share
