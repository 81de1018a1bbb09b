"""Wrong codes: five in ten minutes bar typing for ten minutes."""

import pytest

from lauschen.core.limits.tries import (
    NETWORK_TRIES,
    SLOWEST_S,
    SOURCE_TRIES,
    TRIES,
    barred_until,
    guessing_chance,
    most_guesses,
    slow_down,
)

T0 = 1_780_000_000.0


@pytest.mark.parametrize(
    ("offsets", "now", "until"),
    [
        ([0, 1, 2, 3], 4, None),
        ([0, 1, 2, 3, 4], 4, 604),
        ([0, 1, 2, 3, 4], 603, 604),
        ([0, 1, 2, 3, 4], 604, None),
        ([0, 200, 400, 500, 599], 599, 1199),
        ([0, 200, 400, 500, 600], 600, None),
        ([4, 2, 0, 3, 1], 10, 604),
    ],
)
def test_table(offsets: list[int], now: int, until: int | None) -> None:
    found = barred_until([T0 + o for o in offsets], T0 + now)
    assert found == (None if until is None else T0 + until)


@pytest.mark.parametrize(("source", "network"), [(SOURCE_TRIES, 0), (0, NETWORK_TRIES)])
def test_a_guessing_source_or_network_is_slowed_but_never_stopped(source: int, network: int) -> None:
    more = (1 if source else 0, 1 if network else 0)
    assert slow_down(source, network) == 0.0
    assert slow_down(source + more[0], network + more[1]) == pytest.approx(0.1)
    assert slow_down(source + 29 * more[0], network + 29 * more[1]) == pytest.approx(2.9)
    assert slow_down(source + 31 * more[0], network + 31 * more[1]) == SLOWEST_S
    assert slow_down(10**9, 10**9) == SLOWEST_S


@pytest.mark.parametrize(
    ("seconds", "devices", "guesses"),
    [(0, 1, 20), (599, 1, 20), (600, 1, 40), (86_400, 1, 2900), (600, 10, 400)],
)
def test_the_most_that_devices_can_guess(seconds: int, devices: int, guesses: int) -> None:
    assert most_guesses(seconds, devices) == guesses


def test_where_devices_cannot_be_told_apart_slow_answers_alone_bound_the_guesses() -> None:
    """As many as one address really gets answered, one after the other, whichever device it says it is."""
    for seconds in (0, 10, 600, 86_400):
        passed, guesses = 0.0, 0
        while passed <= seconds:
            guesses += 1
            passed += slow_down(guesses, 0)
        by_radius = TRIES * (seconds // 600 + 1)
        found = most_guesses(seconds, 1, is_signed=False) - by_radius
        assert guesses - 1 <= found <= guesses + 1, seconds
    assert most_guesses(86_400, 1, is_signed=False) > 9 * most_guesses(86_400, 1)


def test_the_chance_of_a_guesser_never_exceeds_one() -> None:
    assert guessing_chance(10_000, 0, 1) == 20 / 10_000
    assert guessing_chance(10, 86_400, 50) == 1.0
