"""Text that strangers typed or sent, made fit to be shown."""

import re
import unicodedata

_ALPHABETS = ("LATIN", "GREEK", "CYRILLIC", "ARMENIAN", "CHEROKEE")
"""Those that have letters which look like letters of another one of them."""
_SCHEME = re.compile(r"(?i)\b([a-z][a-z0-9+.-]{1,15}):(?=//)")
_DOT = re.compile(r"\.(?=[^\W\d_]{2})")


def visible(text: str) -> str:
    """Stored text with control, bidi and zero-width characters shown as marks (rulings 6.7).

    To Unicode they are all of the categories "other": none of them is printable. Within a word, letters of another
    alphabet than its first are marked too: they can look the same, and somebody would be taken for somebody else.
    """
    if text.isascii() and text.isprintable():
        return text
    shown = text if text.isprintable() else "".join(c if c.isprintable() else _mark(c) for c in text)
    return shown if text.isascii() else re.sub(r"\w+", _mark_others, shown)


def _mark(sign: str) -> str:
    return f"[{ord(sign):04X}]"


def _mark_others(word: re.Match[str]) -> str:
    alphabets = [_alphabet(sign) for sign in word[0]]
    first = next((one for one in alphabets if one), "")
    if all(one in ("", first) for one in alphabets):
        return word[0]
    return "".join(
        sign if one in ("", first) else _mark(sign) for sign, one in zip(word[0], alphabets, strict=True)
    )


def _alphabet(sign: str) -> str:
    name = unicodedata.name(sign, "").partition(" ")[0]
    return name if name in _ALPHABETS else ""


def unlinked(text: str) -> str:
    """What a guest wrote, for a mail: with a blank where a program that shows it would make a link of it."""
    return _DOT.sub(". ", _SCHEME.sub(r"\1: ", text))
