"""Staff and their sessions. Passwords are Argon2id, hashed off the loop by the caller."""

import hashlib
from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import StaffId
from lauschen.core.people.duties import Duty


@dataclass(frozen=True, slots=True)
class StaffMember:
    """Somebody who may sign in."""

    id: StaffId
    name: str
    password_hash: str
    must_change: bool
    password_until: float | None
    """A first password is good for a day."""
    duty: Duty


@dataclass(frozen=True, slots=True)
class StaffSession:
    """A signed-in browser."""

    staff: StaffId
    name: str
    must_change: bool
    csrf: str
    duty: Duty


def add_staff(
    conn: Connection,
    name: str,
    password_hash: str,
    *,
    must_change: bool,
    password_until: float | None,
    duty: Duty = Duty.ADMINISTRATOR,
) -> StaffId:
    """Somebody who was removed under this name is there again."""
    row = conn.execute(
        "INSERT INTO staff (name, password_hash, must_change, password_until, duty) VALUES (?, ?, ?, ?, ?)"
        " ON CONFLICT (name) DO UPDATE SET password_hash = excluded.password_hash, duty = excluded.duty,"
        " must_change = excluded.must_change, password_until = excluded.password_until, removed_at = NULL"
        " RETURNING id",
        (name, password_hash, int(must_change), password_until, duty),
    ).fetchone()
    return StaffId(row[0])


def find_staff(conn: Connection, name: str) -> StaffMember | None:
    """None of who was removed."""
    return next(iter(_members(conn, "name = ?", name)), None)


def get_staff(conn: Connection, staff: StaffId) -> StaffMember | None:
    """None of who was removed."""
    return next(iter(_members(conn, "id = ?", staff)), None)


def all_staff(conn: Connection) -> list[StaffMember]:
    """By name, without who was removed."""
    return _members(conn, "? ORDER BY name", 1)


def _members(conn: Connection, where: str, value: object) -> list[StaffMember]:
    rows = conn.execute(
        "SELECT id, name, password_hash, must_change, password_until, duty FROM staff"
        f" WHERE removed_at IS NULL AND {where}",
        (value,),
    )
    return [StaffMember(row[0], row[1], row[2], bool(row[3]), row[4], Duty(row[5])) for row in rows]


def set_duty(conn: Connection, staff: StaffId, duty: Duty) -> None:
    conn.execute("UPDATE staff SET duty = ? WHERE id = ?", (duty, staff))


def remove_staff(conn: Connection, staff: StaffId, now: float) -> None:
    """Their sessions end with it; their name stays on what they did."""
    conn.execute("UPDATE staff SET removed_at = ? WHERE id = ?", (now, staff))
    end_sessions(conn, staff)


def set_password(conn: Connection, staff: StaffId, password_hash: str) -> None:
    """Also ends every other session of this person."""
    conn.execute(
        "UPDATE staff SET password_hash = ?, must_change = 0, password_until = NULL WHERE id = ?",
        (password_hash, staff),
    )
    end_sessions(conn, staff)


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
        "SELECT s.id, s.name, s.must_change, t.csrf, s.duty FROM staff_session t JOIN staff s ON s.id = t.staff"
        " WHERE t.token_hash = ? AND t.expires > ?",
        (_hash(token), now),
    ).fetchone()
    return None if row is None else StaffSession(row[0], row[1], bool(row[2]), row[3], Duty(row[4]))


def end_session(conn: Connection, token: str) -> None:
    conn.execute("DELETE FROM staff_session WHERE token_hash = ?", (_hash(token),))


def end_sessions(conn: Connection, staff: StaffId) -> None:
    conn.execute("DELETE FROM staff_session WHERE staff = ?", (staff,))


def count_sessions(conn: Connection, staff: StaffId, now: float) -> int:
    sql = "SELECT count(*) FROM staff_session WHERE staff = ? AND expires > ?"
    return int(conn.execute(sql, (staff, now)).fetchone()[0])


def forget_sessions(conn: Connection, now: float) -> int:
    return conn.execute("DELETE FROM staff_session WHERE expires < ?", (now,)).rowcount


def staff_names(conn: Connection) -> dict[int, str]:
    return dict(conn.execute("SELECT id, name FROM staff"))


def _hash(token: str) -> bytes:
    return hashlib.sha256(token.encode()).digest()
