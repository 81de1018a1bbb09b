"""Which lines of the lists a write changed: the database says so itself, whichever statement it was.

Triggers of the writing connection alone; nothing of them is in the file.
"""

from collections.abc import Callable
from enum import StrEnum
from sqlite3 import Connection


class What(StrEnum):
    """What a change is told about."""

    STANDING = "standing"
    """One device on one network."""
    DEVICE = "device"
    """One device, wherever it stands."""
    ALLOWANCE = "allowance"
    CREDENTIAL = "credential"


Note = Callable[[str, int, int | None], None]
"""Takes `What`, its number (the MAC address of the first two), and of a standing its network."""
_TRIGGERS = (
    ("INSERT ON standing", "", "standing", "new.mac, new.network"),
    (
        "UPDATE OF state, since, going, reason, access_device, role, framed_ip, admission ON standing",
        "(old.state, old.since, old.going, old.reason, old.access_device, old.role, old.framed_ip, old.admission)"
        " IS NOT (new.state, new.since, new.going, new.reason, new.access_device, new.role, new.framed_ip,"
        " new.admission)",
        "standing",
        "new.mac, new.network",
    ),
    ("DELETE ON standing", "", "standing", "old.mac, old.network"),
    (
        "UPDATE OF last_answer ON wanted",
        "old.last_answer IS NOT new.last_answer",
        "standing",
        "new.mac, new.network",
    ),
    ("DELETE ON wanted", "old.last_answer IS NOT NULL", "standing", "old.mac, old.network"),
    ("UPDATE OF barred_until ON visit", "", "standing", "new.mac, new.network"),
    (
        "UPDATE OF octets_per_s, day_octets, ended ON stay",
        "new.network IS NOT NULL AND (old.octets_per_s, old.day_octets, old.ended)"
        " IS NOT (new.octets_per_s, new.day_octets, new.ended)",
        "standing",
        "new.mac, new.network",
    ),
    ("DELETE ON admission", "", "standing", "old.mac, old.network"),
    (
        "UPDATE OF typing_barred_until ON device",
        "old.typing_barred_until IS NOT new.typing_barred_until",
        "device",
        "new.mac, NULL",
    ),
    ("UPDATE ON allowance", "", "allowance", "new.id, NULL"),
    ("UPDATE ON credential", "", "credential", "new.id, NULL"),
    ("INSERT ON message", "new.credential IS NOT NULL", "credential", "new.credential, NULL"),
)


def tell_changes(conn: Connection, note: Note) -> None:
    """From now on `note` is called with each change of what lists show, before it is committed."""
    conn.create_function("note_touched", 3, note)
    for number, (change, when, what, which) in enumerate(_TRIGGERS):
        only = f"WHEN {when} " if when else ""
        conn.execute(
            f"CREATE TEMP TRIGGER IF NOT EXISTS touched_{number} AFTER {change.replace(' ON ', ' ON main.')} {only}"
            f"BEGIN SELECT note_touched('{What(what)}', {which}); END"
        )
