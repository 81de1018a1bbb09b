"""Durations and amounts are rounded down."""

import pytest

from lauschen.core.words.amounts import data_words, duration_words


@pytest.mark.parametrize(
    ("seconds", "words"),
    [
        (0, "0 s"),
        (59, "59 s"),
        (60, "1 min"),
        (3599, "59 min"),
        (3600, "1 h"),
        (28_799, "7 h 59 min"),
        (90_000, "1 d 1 h"),
    ],
)
def test_durations(seconds: int, words: str) -> None:
    assert duration_words(seconds) == words


@pytest.mark.parametrize(
    ("octets", "words"),
    [
        (0, "0 B"),
        (999, "999 B"),
        (1000, "1 kB"),
        (1_999_999_999, "1.99 GB"),
        (2_000_000_000, "2 GB"),
        (2_009_999_999, "2 GB"),
        (1_050_000_000, "1.05 GB"),
        (1_900_000_000, "1.9 GB"),
        (12_340_000, "12.3 MB"),
        (123_999_999, "123 MB"),
        (1_234_000_000_000, "1234 GB"),
    ],
)
def test_data(octets: int, words: str) -> None:
    assert data_words(octets) == words


def test_german_has_a_decimal_comma() -> None:
    assert data_words(1_990_000, ",") == "1,99 MB"
