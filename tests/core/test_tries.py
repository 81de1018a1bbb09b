"""Wrong codes: five in ten minutes bar typing for ten minutes."""

import pytest

from lauschen.core.tries import NETWORK_TRIES, SLOWEST_S, barred_until, slow_down

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
    found = barred_until([T0 + o for o in offsets], 5, T0 + now)
    assert found == (None if until is None else T0 + until)


def test_a_guessing_network_is_slowed_but_never_stopped() -> None:
    assert slow_down(NETWORK_TRIES) == 0.0
    assert 0 < slow_down(NETWORK_TRIES + 1) < SLOWEST_S
    assert slow_down(10**6) == SLOWEST_S
