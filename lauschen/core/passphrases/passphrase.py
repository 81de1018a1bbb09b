"""Passphrases: drawn to be read out and typed, or chosen and checked. How strong a drawn one is, in bits."""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from math import ceil, log2

from lauschen.core.errors import Invalid
from lauschen.core.passphrases import words_de, words_en
from lauschen.core.words.codes import ALPHABET

SHORTEST, LONGEST = 8, 63
"""Signs of a passphrase (IEEE 802.11-2020, J.4.1)."""
PSK_LENGTH = 64
"""So many hex digits are the key itself."""
USUAL_BITS = 60
FEWEST_BITS, MOST_BITS = 40, 70
"""Seven words of eight letters are 62 signs."""
SIGNS = ALPHABET.lower()
GROUP = 5
_LISTS = {"en": words_en.WORDS, "de": words_de.WORDS}


class Style(StrEnum):
    """How a drawn one reads."""

    WORDS = "words"
    LETTERS = "letters"


@dataclass(frozen=True, slots=True)
class Drawn:
    """A passphrase that was drawn. `bits`: every one of 2^bits was as likely."""

    text: str
    bits: float


def draw(style: Style, bits: int, below: Callable[[int], int], lang: str = "en") -> Drawn:
    """At least `bits` strong. `below(n)`: a random number in [0, n). Invalid outside what can be drawn."""
    if not FEWEST_BITS <= bits <= MOST_BITS:
        raise Invalid("passphrase_bits", field="bits", mend=f"{FEWEST_BITS} to {MOST_BITS} bits.")
    if style is Style.WORDS:
        words = _LISTS[lang]
        count = ceil(bits / log2(len(words)))
        return Drawn("-".join(words[below(len(words))] for _ in range(count)), count * log2(len(words)))
    count = ceil(bits / log2(len(SIGNS)))
    drawn = "".join(SIGNS[below(len(SIGNS))] for _ in range(count))
    groups = [drawn[start : start + GROUP] for start in range(0, count, GROUP)]
    return Drawn("-".join(groups), count * log2(len(SIGNS)))


def check_passphrase(text: str) -> None:
    """Invalid for what no device takes as a passphrase, or what gets lost when it is typed."""
    if len(text) == PSK_LENGTH and all(sign in "0123456789abcdefABCDEF" for sign in text):
        mend = "64 hex digits are the key itself, which belongs to one network name. A passphrase has up to 63 signs."
        raise Invalid("passphrase_is_key", field="passphrase", mend=mend)
    if not SHORTEST <= len(text) <= LONGEST:
        mend = f"{SHORTEST} to {LONGEST} signs; this has {len(text)}."
        raise Invalid("passphrase_length", field="passphrase", mend=mend)
    if odd := sorted({sign for sign in text if not " " <= sign <= "~"}):
        shown = ", ".join(sign if sign.isprintable() else f"U+{ord(sign):04X}" for sign in odd[:5])
        mend = f"Letters from A to Z, digits and the signs of a plain keyboard alone, not {shown}."
        raise Invalid("passphrase_signs", field="passphrase", mend=mend)
    if text != text.strip(" "):
        mend = "A blank before or behind it gets lost when it is typed or scanned."
        raise Invalid("passphrase_blank", field="passphrase", mend=mend)
