"""Staff and their sessions. Passwords are Argon2id, hashed off the loop by the caller."""

import hashlib
from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import StaffId


@dataclass(frozen=True, slots=True)
class StaffMember:
    """Somebody who may sign in."""

    id: StaffId
    name: str
    password_hash: str
    must_change: bool
    password_until: float | None
    """A first password is good for a day."""


@dataclass(frozen=True, slots=True)
class StaffSession:
    """A signed-in browser."""

    staff: StaffId
    name: str
    must_change: bool
    csrf: str


def add_staff(
    conn: Connection, name: str, password_hash: str, *, must_change: bool, password_until: float | None
) -> StaffId:
    row = conn.execute(
        "INSERT INTO staff (name, password_hash, must_change, password_until) VALUES (?, ?, ?, ?) RETURNING id",
        (name, password_hash, int(must_change), password_until),
    ).fetchone()
    return StaffId(row[0])


def find_staff(conn: Connection, name: str) -> StaffMember | None:
    row = conn.execute(
        "SELECT id, name, password_hash, must_change, password_until FROM staff WHERE name = ?", (name,)
    ).fetchone()
    return None if row is None else StaffMember(row[0], row[1], row[2], bool(row[3]), row[4])


def set_password(conn: Connection, staff: StaffId, password_hash: str) -> None:
    """Also ends every other session of this person."""
    conn.execute(
        "UPDATE staff SET password_hash = ?, must_change = 0, password_until = NULL WHERE id = ?",
        (password_hash, staff),
    )
    conn.execute("DELETE FROM staff_session WHERE staff = ?", (staff,))


def put_first_password(conn: Connection, name: str, password_hash: str, *, until: float) -> None:
    """Gives somebody, new or known, a password that must be changed at first use."""
    found = find_staff(conn, name)
    if found is None:
        add_staff(conn, name, password_hash, must_change=True, password_until=until)
        return
    set_password(conn, found.id, password_hash)
    conn.execute("UPDATE staff SET must_change = 1, password_until = ? WHERE id = ?", (until, found.id))


def add_session(conn: Connection, token: str, staff: StaffId, *, csrf: str, expires: float) -> None:
    conn.execute(
        "INSERT INTO staff_session (token_hash, staff, csrf, expires) VALUES (?, ?, ?, ?)",
        (_hash(token), staff, csrf, expires),
    )


def find_session(conn: Connection, token: str, now: float) -> StaffSession | None:
    row = conn.execute(
        "SELECT s.id, s.name, s.must_change, t.csrf FROM staff_session t JOIN staff s ON s.id = t.staff"
        " WHERE t.token_hash = ? AND t.expires > ?",
        (_hash(token), now),
    ).fetchone()
    return None if row is None else StaffSession(row[0], row[1], bool(row[2]), row[3])


def end_session(conn: Connection, token: str) -> None:
    conn.execute("DELETE FROM staff_session WHERE token_hash = ?", (_hash(token),))


def forget_sessions(conn: Connection, now: float) -> int:
    return conn.execute("DELETE FROM staff_session WHERE expires < ?", (now,)).rowcount


def staff_names(conn: Connection) -> dict[int, str]:
    return dict(conn.execute("SELECT id, name FROM staff"))


def _hash(token: str) -> bytes:
    return hashlib.sha256(token.encode()).digest()
