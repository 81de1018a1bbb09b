"""Which facts a write changed, and which lines of the lists: the database says so itself, whichever statement it was.

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
        "UPDATE OF state, since, reason, access_device, role, framed_ip, admission ON standing",
        "(old.state, old.since, old.reason, old.access_device, old.role, old.framed_ip, old.admission)"
        " IS NOT (new.state, new.since, new.reason, new.access_device, new.role, new.framed_ip,"
        " new.admission)",
        "standing",
        "new.mac, new.network",
    ),
    ("DELETE ON standing", "", "standing", "old.mac, old.network"),
    (
        "UPDATE OF state ON wanted",
        "old.state <> new.state",
        "standing",
        "new.mac, new.network",
    ),
    (
        "UPDATE OF last_answer ON place",
        "old.last_answer IS NOT new.last_answer",
        "standing",
        "new.mac, new.network",
    ),
    ("DELETE ON place", "old.last_answer IS NOT NULL", "standing", "old.mac, old.network"),
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


_CHANGED, _OLD = "new.mac, new.network", "old.mac, old.network"
_FACTS = (
    # All but last_heard and repeats, which change with every packet.
    (
        "UPDATE OF state, since, reason, reason_at, access_device, session_id, spelled, source, role,"
        " framed_ip, page_opened, code_tried, admission, reconsider_at, decision, decision_at, decision_mark"
        " ON standing",
        "standing",
        _CHANGED,
    ),
    ("UPDATE OF barred_since ON device", "device", "new.mac, NULL"),
    ("INSERT ON admission", "standing", _CHANGED),
    ("UPDATE ON admission", "standing", _CHANGED),
    ("INSERT ON placement", "standing", _CHANGED),
    ("UPDATE ON placement", "standing", _CHANGED),
    # Whether something is to be changed at a place. (What is wanted is told above, with what lists show.)
    ("UPDATE OF next_at ON place", "standing", _CHANGED),
    ("DELETE ON allowance", "allowance", "old.id, NULL"),
    ("DELETE ON credential", "credential", "old.id, NULL"),
    ("DELETE ON finder", "credential", "old.credential, NULL"),
    ("UPDATE ON account", "credential", "new.credential, NULL"),
    ("INSERT ON passphrase_key", "credential", "new.credential, NULL"),
    ("UPDATE ON passphrase_key", "credential", "new.credential, NULL"),
    ("DELETE ON passphrase_key", "credential", "old.credential, NULL"),
    ("INSERT ON key_device", "standing", _CHANGED),
    ("UPDATE ON key_device", "standing", _CHANGED),
    ("DELETE ON key_device", "standing", _OLD),
)
"""What the packet road keeps in memory hangs on these too, and no line of a list does."""


def tell_changes(conn: Connection, note: Note, note_fact: Note) -> None:
    """From now on `note` is called with each change of what lists show, before it is committed.

    `note_fact` is called with each change of what else the packet road keeps in memory.
    """
    conn.create_function("note_touched", 3, note)
    conn.create_function("note_fact", 3, note_fact)
    for number, (change, when, what, which) in enumerate(_TRIGGERS):
        only = f"WHEN {when} " if when else ""
        _add_trigger(conn, f"touched_{number}", change, only, f"note_touched('{What(what)}', {which})")
    for number, (change, what, which) in enumerate(_FACTS):
        _add_trigger(conn, f"fact_{number}", change, "", f"note_fact('{What(what)}', {which})")


def _add_trigger(conn: Connection, name: str, change: str, only: str, call: str) -> None:
    conn.execute(
        f"CREATE TEMP TRIGGER IF NOT EXISTS {name} AFTER {change.replace(' ON ', ' ON main.')} {only}"
        f"BEGIN SELECT {call}; END"
    )
