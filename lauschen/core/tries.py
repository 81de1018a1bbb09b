"""Wrong codes: how many are too many, and for how long typing is then barred (rulings 6.4)."""

WINDOW_S = 600.0
BARRED_S = 600.0
DEVICE_TRIES = 5
SOURCE_TRIES = 20
"""A source address may be shared by several guests, so it bears more than one device."""
NETWORK_TRIES = 200
SLOWEST_S = 3.0


def barred_until(tries: list[float], allowed: int, now: float) -> float | None:
    """When typing is allowed again, given the times of wrong tries; None when it is allowed now."""
    recent = sorted(t for t in tries if t > now - WINDOW_S - BARRED_S)
    until: float | None = None
    for first, last in zip(recent, recent[allowed - 1 :], strict=False):
        if last - first < WINDOW_S:
            until = last + BARRED_S
    return until if until is not None and until > now else None


def slow_down(tries_on_network: int) -> float:
    """Seconds to wait before an answer when a whole network guesses too much; right codes still pass."""
    over = tries_on_network - NETWORK_TRIES
    return 0.0 if over <= 0 else min(SLOWEST_S, 0.1 * over)
