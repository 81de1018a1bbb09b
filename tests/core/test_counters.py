"""Octet counters that grow, wrap, restart, come late and lie (rulings 4.3 and 4.5)."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.counters import WRAP, Count, Reading, Report, read_counter, share_after


@pytest.mark.parametrize(
    ("known", "report", "time_before", "saw", "added", "reading"),
    [
        (Count(), Report(1000, None, 10), 0, False, 1000, Reading.GREW),
        (Count(1000, 1000), Report(1000, None, 20), 10, False, 0, Reading.GREW),
        (Count(WRAP - 100, WRAP - 100), Report(50, None, 70), 10, False, 150, Reading.WRAPPED),
        (Count(1000, 1000), Report(50, None, 11), 10, False, 50, Reading.RESTARTED),
        (Count(1000, 1000), Report(900, None, 5), 10, False, 0, Reading.LATE),
        (Count(WRAP + 5, WRAP + 5), Report(10, 1, 20), 10, True, 5, Reading.GREW),
        (Count(WRAP + 5, WRAP + 5), Report(3, 0, 20), 10, True, 3, Reading.RESTARTED),
        (Count(0, 0), Report(0, 40, 1), 0, False, 0, Reading.IMPOSSIBLE),
    ],
)
def test_table(
    known: Count, report: Report, time_before: int, saw: bool, added: int, reading: Reading
) -> None:
    count, more, how = read_counter(known, report, session_time_before=time_before, saw_gigawords=saw)
    assert (more, how) == (added, reading)
    assert count.total == known.total + added


@given(st.lists(st.integers(0, 10**7), min_size=1, max_size=30))
def test_the_total_is_what_was_carried_though_the_counter_wraps(pieces: list[int]) -> None:
    true, count, at = WRAP - 5 * 10**6, Count(WRAP - 5 * 10**6, WRAP - 5 * 10**6), 0
    for piece in pieces:
        true += piece
        at += 60
        count, _, _ = read_counter(
            count, Report(true % WRAP, None, at), session_time_before=at - 60, saw_gigawords=False
        )
    assert count.total == true


@pytest.mark.parametrize(
    ("octets", "instant", "share"),
    [(100, 0.0, 100), (100, 5.0, 50), (101, 5.0, 51), (100, 10.0, 0), (100, 99.0, 0), (100, -1.0, 100)],
)
def test_octets_are_spread_evenly_and_the_odd_one_goes_to_the_later_part(
    octets: int, instant: float, share: int
) -> None:
    assert share_after(octets, 0.0, 10.0, instant) == share
