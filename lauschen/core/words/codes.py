"""Voucher codes: ten signs in two groups of five, nine random and one check (rulings 6.4); others as the house says.

The alphabet has 29 signs. 29 is prime and every place has its own weight, so a single wrong sign and any
two swapped signs change the check: a typing error is told from a wrong code without asking anybody.
"""

import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import accumulate

from lauschen.core.words.text import visible

ALPHABET = "23456789ABCDEFGHJKLMNPQRTVWXY"
BASE = len(ALPHABET)
LENGTH = 10
"""The usual one."""
SHORTEST, LONGEST = 6, 14
USUAL = (LENGTH,)
CODE_COUNT = BASE ** (LENGTH - 1)
"""How many codes of the usual length there are."""
GROUP = 5

_VALUE = {sign: value for value, sign in enumerate(ALPHABET)}
# Signs that are not in the alphabet but are what people read when they see one that is.
_READ_AS = {"I": "L", "1": "L", "S": "5", "Z": "2", "U": "V"}
_IGNORED = str.maketrans("", "", " \t\r\n-_.‐‑‒–—  ")


class Typo(StrEnum):
    """Why a typed text cannot be a code."""

    EMPTY = "empty"
    TOO_SHORT = "too_short"
    TOO_LONG = "too_long"
    NO_SUCH_SIGN = "no_such_sign"
    CHECK = "check"


@dataclass(frozen=True, slots=True)
class TypedCode:
    """A text that may be a code: signs of the alphabet whose check holds."""

    signs: str


def code_count(length: int) -> int:
    """How many codes of a length there are; `make_code` takes a number below it."""
    return int(BASE ** (length - 1))


def make_code(number: int, length: int = LENGTH) -> str:
    """The code for a random number in [0, code_count(length))."""
    if not 0 <= number < code_count(length):
        raise ValueError(f"number outside [0, {code_count(length)})")
    values = []
    for _ in range(length - 1):
        number, value = divmod(number, BASE)
        values.append(value)
    return "".join(ALPHABET[v] for v in values) + ALPHABET[_check(values)]


def read_code(text: str, lengths: Sequence[int] = USUAL) -> TypedCode | Typo:
    """What somebody typed, with grouping, case and dashes ignored. `lengths`: those that codes of the house have."""
    if not text.isascii():
        text = "".join(_plain(sign) for sign in unicodedata.normalize("NFKC", text))
    signs = text.translate(_IGNORED).upper()
    if not signs:
        return Typo.EMPTY
    signs = "".join(_READ_AS.get(sign, sign) for sign in signs[: LONGEST + 1])
    if any(sign not in _VALUE for sign in signs):
        return Typo.NO_SUCH_SIGN
    if len(signs) not in lengths:
        return Typo.TOO_LONG if len(signs) > max(lengths) else Typo.TOO_SHORT
    values = [_VALUE[sign] for sign in signs]
    if _check(values[:-1]) != values[-1]:
        return Typo.CHECK
    return TypedCode(signs)


def _plain(sign: str) -> str:
    """A digit of any script as ours."""
    value = unicodedata.decimal(sign, None)
    return sign if value is None else str(value)


def group_code(signs: str) -> str:
    """As it is printed and shown: `K7TRQ-9WMP4`; in groups of five at most, as even as can be."""
    groups = -(-len(signs) // GROUP)
    shorter, longer = divmod(len(signs), groups)
    sizes = [shorter + 1] * longer + [shorter] * (groups - longer)
    ends = list(accumulate(sizes))
    return "-".join(signs[end - size : end] for size, end in zip(sizes, ends, strict=True))


def shown_code(code: str, *, is_chosen: bool) -> str:
    """An issued code as it is shown: ten signs in their groups, chosen words as they were written."""
    return visible(code) if is_chosen else group_code(code)


def _check(values: list[int]) -> int:
    # Weights 2..14 differ from each other and from the check's own weight (28 = -1 mod 29), so a swap of any
    # two places, the check included, shows.
    return sum(weight * value for weight, value in enumerate(values, start=2)) % BASE
