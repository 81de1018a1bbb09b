"""Words that guests type to prove that they were told them."""

import re
import unicodedata

_OTHERS = re.compile("[^0-9a-z]+")


def plain_words(text: str) -> str:
    """Letters and digits alone, without case and accents that a phone adds; digits of any script as ours."""
    if text.isascii():  # most are, and lists of thousands are read so
        return _OTHERS.sub("", text.lower())
    return "".join(_plain(c) for c in unicodedata.normalize("NFKC", text).casefold() if c.isalnum())


def _plain(sign: str) -> str:
    value = unicodedata.decimal(sign, None)
    return sign if value is None else str(value)
