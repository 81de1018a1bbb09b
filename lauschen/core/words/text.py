"""Text that strangers typed or sent, made fit to be shown."""


def visible(text: str) -> str:
    """Stored text with control, bidi and zero-width characters shown as marks (rulings 6.7).

    To Unicode they are all of the categories "other": none of them is printable.
    """
    if text.isprintable():
        return text
    return "".join(c if c.isprintable() else f"[{ord(c):04X}]" for c in text)
