"""Links by which somebody new chooses a password, kept as hashes."""

from sqlite3 import Connection

from lauschen.core.ids import StaffId
from lauschen.store.people.sessions import hash_token


def put(conn: Connection, staff: StaffId, mail: str, token: str, until: float) -> None:
    conn.execute(
        "UPDATE staff SET mail = ?, invited_hash = ?, invited_until = ? WHERE id = ?",
        (mail, hash_token(token), until, staff),
    )


def find(conn: Connection, token: str, now: float) -> StaffId | None:
    """Whose link it is, while it is good."""
    row = conn.execute(
        "SELECT id FROM staff WHERE invited_hash = ? AND invited_until > ? AND removed_at IS NULL",
        (hash_token(token), now),
    ).fetchone()
    return None if row is None else StaffId(row[0])


def forget(conn: Connection, staff: StaffId) -> None:
    conn.execute("UPDATE staff SET invited_hash = NULL, invited_until = NULL WHERE id = ?", (staff,))
