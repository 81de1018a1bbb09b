"""Text that strangers typed or sent, made fit to be shown."""


def visible(text: str) -> str:
    """Stored text with control, bidi and zero-width characters shown as marks (rulings 6.7)."""
    return "".join(c if c.isprintable() and c not in _HIDDEN else f"[{ord(c):04X}]" for c in text)


_HIDDEN = frozenset(
    map(chr, (0xAD, 0x61C, 0xFEFF, *range(0x200B, 0x2010), *range(0x202A, 0x202F), *range(0x2060, 0x206A)))
)
