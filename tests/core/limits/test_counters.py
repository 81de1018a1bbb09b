"""Octet counters that grow, wrap, restart, come late and lie (rulings 4.3 and 4.5)."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.limits.counters import CEILING, WRAP, Count, Reading, read_counter, share_after
from lauschen.core.limits.counters import FASTEST_OCTETS_PER_S as FASTEST


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
        # A fall with Gigawords in the stay, in this report or before, is no wrap.
        (Count(1000, 1000), 50, 0, 60, False, 50, Reading.RESTARTED),
        (Count(1000, 1000), 50, None, 60, True, 50, Reading.RESTARTED),
        (Count(1000, 1000), 50, None, 0, True, 50, Reading.RESTARTED),
        # A wrap in no time is none; in one second it may be one, up to the rate.
        (Count(WRAP - 100, 0), 50, None, 0, False, 50, Reading.RESTARTED),
        (Count(WRAP - 100, 0), 50, None, 1, False, 150, Reading.WRAPPED),
        (Count(WRAP - FASTEST, 0), 0, None, 1, False, FASTEST, Reading.WRAPPED),
        (Count(WRAP - FASTEST - 1, 0), 0, None, 1, False, 0, Reading.RESTARTED),
        (Count(WRAP - FASTEST - 1, 0), 0, None, 2, False, FASTEST + 1, Reading.WRAPPED),
        # More than the rate allows is not counted; a report within the same second has a second's worth.
        (Count(), FASTEST, None, 1, False, FASTEST, Reading.GREW),
        (Count(), FASTEST + 1, None, 1, False, 0, Reading.IMPOSSIBLE),
        (Count(), FASTEST, None, 0, False, FASTEST, Reading.GREW),
        (Count(), FASTEST + 1, None, 0, False, 0, Reading.IMPOSSIBLE),
        (Count(), FASTEST + 1, None, 2, False, FASTEST + 1, Reading.GREW),
        (Count(), 2 * FASTEST, None, 2, False, 2 * FASTEST, Reading.GREW),
        (Count(), 2 * FASTEST + 1, None, 2, False, 0, Reading.IMPOSSIBLE),
        # Nothing has carried 2^62 octets.
        (Count(7, 7), 2**32 - 1, 2**32 - 1, 2**32, True, 0, Reading.IMPOSSIBLE),
        (Count(7, 7), 0, 2**30, 2**32, True, 0, Reading.IMPOSSIBLE),
    ],
)
def test_table(
    known: Count, octets: int, gigawords: int | None, grown_s: int, saw: bool, added: int, reading: Reading
) -> None:
    count = Count(known.raw, known.total)
    assert read_counter(count, octets, gigawords, grown_s, saw_gigawords=saw) == (added, reading)
    assert count.total == known.total + added
    raw = octets + ((gigawords or 0) << 32)
    is_taken = reading is not Reading.LATE and raw <= CEILING
    assert count.raw == (raw if is_taken else known.raw)


def test_a_total_is_never_more_than_a_number_of_62_bits() -> None:
    count = Count(0, CEILING - 10)
    assert read_counter(count, 100, None, 10, saw_gigawords=False) == (100, Reading.GREW)
    assert count.total == CEILING


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
    assert share_after(octets, 1000.0, 1010.0, 1000.0 + instant) == share
