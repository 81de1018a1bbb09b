"""Codes that staff choose themselves: what makes one too easy to guess."""

from lauschen.core.errors import Invalid
from lauschen.core.limits.tries import guessing_chance
from lauschen.core.words.plain import plain_words

SHORTEST = 6
LONGEST = 40
DEVICES = 10
"""So many devices are thought to guess all the time."""
MOST_CHANCE = 1 / 1000
UNTIL_THEN_S = 366 * 86_400.0
"""For what has no end."""


def check_chosen(text: str, seconds: float | None, name: str = "") -> str:
    """Its words as they are looked up; Invalid for one that is too short or too easy while it is good."""
    words = plain_words(text)
    if len(words) < SHORTEST or len(text) > LONGEST:
        mend = f"{SHORTEST} to {LONGEST} letters and digits."
        raise Invalid("code_length", field="code", mend=mend)
    if words in plain_words(name):
        raise Invalid("code_is_name", field="code", mend="It is part of the name, which others know.")
    chance = guessing_chance(code_space(words), seconds if seconds is not None else UNTIL_THEN_S, DEVICES)
    if chance > MOST_CHANCE:
        mend = (
            f"{DEVICES} devices that try all the time would find it with a chance of {chance_words(chance)}."
        )
        raise Invalid("code_easy", field="code", mend=f"{mend} Take a longer one, or letters and digits.")
    return words


def code_space(words: str) -> int:
    """How many texts of this length and these kinds of signs there are. Words of a language are far fewer."""
    signs = 10 * any(c.isdecimal() for c in words) + 26 * any(not c.isdecimal() for c in words)
    return int(signs ** min(len(set(words)) * 2, len(words)))


def chance_words(chance: float) -> str:
    """`1 in 5,200`, rounded so that the chance is not made smaller."""
    if chance >= 1:
        return "1 in 1"
    return f"1 in {int(1 / chance):,}"
