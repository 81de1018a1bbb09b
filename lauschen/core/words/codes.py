"""Voucher codes: ten signs in two groups of five, nine random and one check (rulings 6.4).

The alphabet has 29 signs. 29 is prime and every place has its own weight, so a single wrong sign and any
two swapped signs change the check: a slip of the finger is told from a wrong code without asking anybody.
"""

from dataclasses import dataclass
from enum import StrEnum

from lauschen.core.words.text import visible

ALPHABET = "23456789ABCDEFGHJKLMNPQRTVWXY"
BASE = len(ALPHABET)
RANDOM_SIGNS = 9
LENGTH = RANDOM_SIGNS + 1
CODE_COUNT = BASE**RANDOM_SIGNS
"""How many codes there are; `make_code` takes a number below it."""

_VALUE = {sign: value for value, sign in enumerate(ALPHABET)}
# Signs that are not in the alphabet but are what people read when they see one that is.
_READ_AS = {"I": "L", "1": "L", "S": "5", "Z": "2", "U": "V"}
_IGNORED = str.maketrans("", "", " \t\r\n-_.‐‑‒–—  ")


class Slip(StrEnum):
    """Why a typed text cannot be a code."""

    EMPTY = "empty"
    TOO_SHORT = "too_short"
    TOO_LONG = "too_long"
    NO_SUCH_SIGN = "no_such_sign"
    CHECK = "check"


@dataclass(frozen=True, slots=True)
class TypedCode:
    """A text that may be a code: ten signs of the alphabet whose check holds."""

    signs: str


def make_code(number: int) -> str:
    """The code for a random number in [0, CODE_COUNT)."""
    if not 0 <= number < CODE_COUNT:
        raise ValueError(f"number outside [0, {CODE_COUNT})")
    values = []
    for _ in range(RANDOM_SIGNS):
        number, value = divmod(number, BASE)
        values.append(value)
    return "".join(ALPHABET[v] for v in values) + ALPHABET[_check(values)]


def read_code(text: str) -> TypedCode | Slip:
    """What somebody typed, with grouping, case and dashes ignored."""
    signs = text.translate(_IGNORED).upper()
    if not signs:
        return Slip.EMPTY
    signs = "".join(_READ_AS.get(sign, sign) for sign in signs[: LENGTH + 1])
    if any(sign not in _VALUE for sign in signs):
        return Slip.NO_SUCH_SIGN
    if len(signs) != LENGTH:
        return Slip.TOO_SHORT if len(signs) < LENGTH else Slip.TOO_LONG
    values = [_VALUE[sign] for sign in signs]
    if _check(values[:RANDOM_SIGNS]) != values[RANDOM_SIGNS]:
        return Slip.CHECK
    return TypedCode(signs)


def group_code(signs: str) -> str:
    """As it is printed and shown: `K7TRQ-9WMP4`."""
    return f"{signs[:5]}-{signs[5:]}"


def shown_code(code: str, *, is_chosen: bool) -> str:
    """An issued code as it is shown: ten signs in their groups, chosen words as they were written."""
    return visible(code) if is_chosen else group_code(code)


def _check(values: list[int]) -> int:
    # Weights 2..10 differ from each other and from the check's own weight (28 = -1 mod 29), so a swap of any
    # two places, the check included, shows.
    return sum(weight * value for weight, value in enumerate(values, start=2)) % BASE
