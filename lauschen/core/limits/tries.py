"""Wrong codes: how many are too many, how long typing is then barred, and who waits for answers (rulings 8.2).

They bar the visit that they were typed in, then all visits of that device; by RADIUS the MAC that they were sent
for; and nobody else: several guests may share a source address, and all of a network share its air. Those two only
slow the answers down. A bar stops the typing of codes and puts nobody out.
"""

from math import expm1, fsum, log1p

WINDOW_S = 600.0
BARRED_S = 600.0
TRIES = 5
"""Wrong codes of one visit, or of one MAC by RADIUS, within the window."""
VISITS_EACH = 3
"""Visits of one device from one source that have not logged in: each may be used to guess."""
DEVICE_TRIES = TRIES * VISITS_EACH
"""Wrong codes of one device within the window, in all its visits from all its addresses together. Only visits with a
token of ours count: without one the device is what somebody claims."""
SOURCE_TRIES = 20
NETWORK_TRIES = 200
SLOWEST_S = 3.0
SLOWER_S = 0.1
"""For each try over the budget."""


def barred_until(tries: list[float], now: float, most: int = TRIES) -> float | None:
    """When typing is allowed again, given the times of wrong tries; None when it is allowed now."""
    recent = sorted(t for t in tries if t > now - WINDOW_S - BARRED_S)
    until: float | None = None
    for first, last in zip(recent, recent[most - 1 :], strict=False):
        if last - first < WINDOW_S:
            until = last + BARRED_S
    return until if until is not None and until > now else None


def slow_down(from_source: int, on_network: int) -> float:
    """Seconds to wait before a wrong answer, given the tries of the window; right codes pass at once."""
    over = max(from_source - SOURCE_TRIES, on_network - NETWORK_TRIES)
    return 0.0 if over <= 0 else min(SLOWEST_S, SLOWER_S * over)


def most_guesses(seconds: float, devices: int, *, is_signed: bool = True) -> int:
    """How many codes `devices` that do nothing else can try in `seconds`, by page and RADIUS together.

    Each may be wrong `DEVICE_TRIES` times in its visits and `TRIES` times in name-and-password requests, and is then
    barred for `BARRED_S` from the last one. Slow answers are left out: they only make it fewer.

    `is_signed` False: where guests arrive without a token of ours, the page cannot tell one device from another. Then
    slow answers alone bound what comes from one address, one after the other.
    """
    windows = int(seconds // BARRED_S) + 1
    at_page = DEVICE_TRIES * windows if is_signed else _guesses_from_one_source(seconds)
    return (at_page + TRIES * windows) * devices


def _guesses_from_one_source(seconds: float) -> int:
    """Each waits for the answer before it, which is `SLOWEST_S` late once there were many."""
    guesses, passed = 0, 0.0
    while (wait := slow_down(guesses + 1, 0)) < SLOWEST_S and passed + wait <= seconds:
        guesses, passed = guesses + 1, passed + wait
    return guesses + int(max(0.0, seconds - passed) // SLOWEST_S) + 1


def chance_of_any(live: int, space: int, guesses: int) -> float:
    """The chance that one of `guesses` different codes is one of `live` among `space`: exact, without repeats."""
    if live <= 0 or guesses <= 0:
        return 0.0
    if guesses > space - live:
        return 1.0
    # Fewer factors when the roles are changed: live codes drawn among the guesses, which is the same chance.
    few, many = sorted((live, guesses))
    return -expm1(fsum(log1p(-many / (space - drawn)) for drawn in range(few)))


def guessing_chance(space: int, seconds: float, devices: int) -> float:
    """The chance that one code among `space` is hit by so many different guesses; at most 1."""
    return min(1.0, most_guesses(seconds, devices) / space)
