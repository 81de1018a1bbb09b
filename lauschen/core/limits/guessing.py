"""How long codes must be: a guesser's chance with so many live ones, exactly from the limits of wrong tries."""

from lauschen.core.limits.tries import chance_of_any, most_guesses
from lauschen.core.words.codes import LONGEST, SHORTEST, code_count

DAY_S = 86_400.0
DEVICES = 10
"""So many devices are thought to guess all the time."""
SAFE = 1 / 1000
"""The chance in a day that the house is thought to bear."""


def chance_in_a_day(length: int, live: int, *, is_signed: bool = True) -> float:
    """That `DEVICES` hit any of `live` codes of this length within a day. `is_signed`: as `most_guesses` says."""
    guesses = most_guesses(DAY_S, DEVICES, is_signed=is_signed)
    return chance_of_any(live, code_count(length), guesses)


def shortest_safe(live: int, *, is_signed: bool = True) -> int:
    """The shortest length with which that is less than `SAFE`; the longest there is when none is."""
    lengths = range(SHORTEST, LONGEST + 1)
    return next((n for n in lengths if chance_in_a_day(n, live, is_signed=is_signed) < SAFE), LONGEST)
