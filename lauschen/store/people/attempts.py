"""What people of the house tried: each is a row from before it is looked at, and goes when it was right."""

from enum import StrEnum
from sqlite3 import Connection

from lauschen.core.ids import StaffId


class Attempt(StrEnum):
    """What was tried."""

    SECOND_FACTOR = "second_factor"
    """A code, after the right password."""
    CHOSEN = "chosen_passphrase"
    """To give out a passphrase of one's own choice."""


def note(conn: Connection, staff: StaffId, what: Attempt, now: float) -> int:
    """Return by what it is forgotten."""
    sql = "INSERT INTO attempt (staff, what, at) VALUES (?, ?, ?)"
    row = conn.execute(sql, (staff, what, now)).lastrowid
    assert row is not None
    return row


def forget(conn: Connection, attempt: int) -> None:
    conn.execute("DELETE FROM attempt WHERE id = ?", (attempt,))


def moments(conn: Connection, staff: StaffId, what: Attempt, since: float) -> list[float]:
    """When it was tried, oldest first."""
    rows = conn.execute(
        "SELECT at FROM attempt WHERE staff = ? AND what = ? AND at > ? ORDER BY at", (staff, what, since)
    )
    return [at for (at,) in rows]


def who_tried(conn: Connection, what: Attempt, since: float, at_least: int) -> list[tuple[str, int]]:
    """Names of people who tried so often, and how often."""
    tried = "SELECT count(*) FROM attempt a WHERE a.staff = s.id AND a.what = ?1 AND a.at > ?2"
    rows = conn.execute(f"SELECT s.name, ({tried}) FROM staff s", (what, since))
    return [(name, tries) for name, tries in rows if tries >= at_least]
