"""What guests did at the page."""

from lauschen.api.words.speaker import Speaker
from lauschen.core.words.mac import short_mac
from lauschen.store.log import EventRow


def _who(row: EventRow) -> str:
    return f"Device {short_mac(row.mac)}" if row.mac is not None else "Somebody"


def _opened(_: Speaker, row: EventRow) -> str:
    return f"{_who(row)} opened the page"


def _slip(_: Speaker, row: EventRow) -> str:
    return f"{_who(row)} at the page: a slip of the finger, not counted as a wrong code"


def _logged_out(_: Speaker, row: EventRow) -> str:
    return f"{_who(row)} logged out"


WORDS = {"page_opened": _opened, "code_slip": _slip, "logged_out": _logged_out}
