"""What guests did at the page."""

from lauschen.api.words.speaker import Speaker
from lauschen.core.words.mac import short_mac
from lauschen.core.words.text import visible
from lauschen.store.log import EventRow


def _who(speaker: Speaker, row: EventRow) -> str:
    return speaker.who(row.mac, row.at) if row.mac is not None else "Somebody"


def _opened(speaker: Speaker, row: EventRow) -> str:
    return f"{_who(speaker, row)} opened the page"


def _mistyped(speaker: Speaker, row: EventRow) -> str:
    return f"{_who(speaker, row)} mistyped a code at the page; that is not counted as a wrong code"


def _logged_out(speaker: Speaker, row: EventRow) -> str:
    return f"{_who(speaker, row)} logged out"


def _sent_out(speaker: Speaker, row: EventRow) -> str:
    return f"{_who(speaker, row)} was logged out by another device of the same code"


def _registered(speaker: Speaker, row: EventRow) -> str:
    name = visible(str(row.facts.get("name") or ""))
    device = f"Device {short_mac(row.mac)}" if row.mac is not None else "Somebody"
    return f"{device} wrote themselves in{f' as {name}' if name else ''}"


def _consented(speaker: Speaker, row: EventRow) -> str:
    return (
        f"{_who(speaker, row)} agreed to be written to, version {row.facts.get('version') or 0} of the words"
    )


def _confirmed(speaker: Speaker, row: EventRow) -> str:
    return f"{_who(speaker, row)} confirmed the address"


WORDS = {
    "consented": _consented,
    "address_confirmed": _confirmed,
    "registered": _registered,
    "sent_out": _sent_out,
    "page_opened": _opened,
    "code_mistyped": _mistyped,
    "logged_out": _logged_out,
}
