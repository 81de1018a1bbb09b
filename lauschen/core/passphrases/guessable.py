"""Chosen passphrases that somebody guesses: whoever hears one handshake tries millions of them at home."""

from collections.abc import Iterable
from functools import lru_cache
from itertools import pairwise

from lauschen.core.passphrases import words_de, words_en

FEWEST_SIGNS = 5
"""Different ones."""
DIGITS_ALONE = 16
"""Fewer of them are tried through in hours."""
BESIDE = 4
"""Signs beside a word or a name that help nobody."""
_ROWS = ("1234567890", "qwertyuiop", "qwertzuiop", "asdfghjkl", "zxcvbnm", "yxcvbnm")
_NO_LETTERS = "".join(chr(sign) for sign in range(32, 127) if not chr(sign).isalpha())
_FOR_LETTERS = str.maketrans("013457@$!", "oieastasi")
"""Signs that people write for letters."""
_USUAL = (
    "password", "passwort", "passphrase", "internet", "wireless", "welcome", "willkommen", "network", "netzwerk",
    "guest", "guests", "gast", "wifi", "wlan", "admin", "letmein", "iloveyou", "hotspot", "default", "changeme",
    "master", "school", "schule", "secret", "geheim", "hallo", "hello", "summer", "winter", "sommer",
)  # fmt: skip


def why_guessable(text: str, names: Iterable[str] = ()) -> str | None:
    """In a sentence; None when nothing speaks against it. `names`: of the house and its networks."""
    folded = text.casefold()
    if len(set(folded)) < FEWEST_SIGNS:
        return f"It has only {len(set(folded))} different signs."
    if _is_repeated(folded):
        return "It is the same again and again."
    if folded.isdigit() and len(folded) < DIGITS_ALONE:
        return "So few digits alone are tried through in hours: dates and phone numbers first."
    if _in_a_row(folded) > len(folded) - BESIDE:
        return "Its signs follow each other in the alphabet or on the keyboard."
    letters = "".join(sign for sign in folded if sign.isalnum())
    for name in names:
        plain = "".join(sign for sign in name.casefold() if sign.isalnum())
        if len(plain) > BESIDE and plain in letters and len(letters) - len(plain) <= BESIDE:
            return "It is a name of this house, with little beside it."
    word = folded.strip(_NO_LETTERS)
    if len(folded) - len(word) <= BESIDE + 1 and (_is_word(word) or _is_word(word.translate(_FOR_LETTERS))):
        return "It is one word, with little beside it: those are tried first."
    return None


def _is_repeated(text: str) -> bool:
    return any(
        len(text) >= 2 * size and text == (text[:size] * len(text))[: len(text)]
        for size in range(1, len(text) // 2 + 1)
    )


def _in_a_row(text: str) -> int:
    """Signs that follow the one before, or come before it, in the alphabet or on the keyboard."""
    return sum(_follow(a, b) or _follow(b, a) for a, b in pairwise(text))


def _follow(a: str, b: str) -> bool:
    return ord(b) - ord(a) == 1 or any(a + b in row for row in _ROWS)


@lru_cache(1)
def _known() -> frozenset[str]:
    return frozenset((*words_en.WORDS, *words_de.WORDS, *_USUAL))


def _is_word(text: str) -> bool:
    """One of ours, or two of them without anything between."""
    known = _known()
    return text in known or any(
        text[:cut] in known and text[cut:] in known for cut in range(3, len(text) - 2)
    )
