"""How many parts a text message takes (3GPP TS 23.038, TS 23.040 section 9.2.3.24.1)."""

from math import ceil

_BASIC = frozenset(
    "@£$¥èéùìòÇ\nØø\rÅåΔ_ΦΓΛΩΠΨΣΘΞÆæßÉ !\"#¤%&'()*+,-./0123456789:;<=>?¡ABCDEFGHIJKLMNOPQRSTUVWXYZÄÖÑÜ§¿"
    "abcdefghijklmnopqrstuvwxyzäöñüà"
)
_EXTENDED = frozenset("^{}\\[~]|€\f")
"""Each takes the room of two."""


def count_parts(text: str) -> int:
    """One for up to 160 signs, or 70 when a sign is none of the basic alphabet; longer ones lose some to a header."""
    if all(sign in _BASIC or sign in _EXTENDED for sign in text):
        size, one, each = len(text) + sum(sign in _EXTENDED for sign in text), 160, 153
    else:
        size, one, each = len(text.encode("utf-16-le")) // 2, 70, 67
    return 1 if size <= one else ceil(size / each)
