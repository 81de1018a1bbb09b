"""People of the console. Passwords are Argon2id, hashed off the loop by the caller."""

import json
from dataclasses import asdict, dataclass
from sqlite3 import Connection

from lauschen.core.ids import StaffId
from lauschen.core.people.duties import Duty
from lauschen.core.people.limits import NO_LIMITS, Limits


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
    limits: Limits
    mail: str
    has_second: bool
    """A second factor is asked for when they sign in."""


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
        " must_change = excluded.must_change, password_until = excluded.password_until, limits = NULL,"
        " token_hash = NULL, second_sealed = NULL, second_step = 0, invited_hash = NULL, removed_at = NULL"
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


def is_taken(conn: Connection, name: str) -> bool:
    """Whether somebody, or a program, who is there goes by this name."""
    known = conn.execute("SELECT name FROM staff WHERE removed_at IS NULL")
    return any(row[0].casefold() == name.casefold() for row in known)


def _members(conn: Connection, where: str, value: object) -> list[StaffMember]:
    rows = conn.execute(
        "SELECT id, name, password_hash, must_change, password_until, duty, limits, mail,"
        " second_sealed IS NOT NULL FROM staff"
        f" WHERE removed_at IS NULL AND token_hash IS NULL AND {where}",
        (value,),
    )
    return [
        StaffMember(
            id,
            name,
            hashed,
            bool(must_change),
            password_until,
            Duty(duty),
            read_limits(limits),
            mail,
            bool(has_second),
        )
        for id, name, hashed, must_change, password_until, duty, limits, mail, has_second in rows
    ]


def set_duty(conn: Connection, staff: StaffId, duty: Duty) -> None:
    conn.execute("UPDATE staff SET duty = ? WHERE id = ?", (duty, staff))


def set_limits(conn: Connection, staff: StaffId, limits: Limits) -> None:
    text = None if limits == NO_LIMITS else json.dumps(asdict(limits))
    conn.execute("UPDATE staff SET limits = ? WHERE id = ?", (text, staff))


def limits_of(conn: Connection, staff: StaffId) -> Limits:
    """What they may give; those of the desk alone have limits."""
    row = conn.execute("SELECT limits FROM staff WHERE id = ? AND duty = ?", (staff, Duty.DESK)).fetchone()
    return NO_LIMITS if row is None else read_limits(row[0])


def read_limits(text: str | None) -> Limits:
    """As `set_limits` wrote them."""
    if text is None:
        return NO_LIMITS
    said = json.loads(text)
    return Limits(**{**said, "networks": tuple(said["networks"]), "plans": tuple(said["plans"])})


def remove_staff(conn: Connection, staff: StaffId, now: float) -> None:
    """Their sessions end with it, and nothing of them is kept but the name, which stays on what they did."""
    conn.execute(
        "UPDATE staff SET removed_at = ?, token_hash = NULL, invited_hash = NULL, second_sealed = NULL, mail = '',"
        " password_hash = '' WHERE id = ?",
        (now, staff),
    )
    conn.execute("DELETE FROM recovery_code WHERE staff = ?", (staff,))
    end_sessions(conn, staff)


def set_password(conn: Connection, staff: StaffId, password_hash: str) -> None:
    """Also ends every other session of this person, and the link of an invitation."""
    conn.execute(
        "UPDATE staff SET password_hash = ?, must_change = 0, password_until = NULL, invited_hash = NULL"
        " WHERE id = ?",
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


def end_sessions(conn: Connection, staff: StaffId) -> None:
    conn.execute("DELETE FROM staff_session WHERE staff = ?", (staff,))


def count_sessions(conn: Connection, staff: StaffId, now: float) -> int:
    sql = "SELECT count(*) FROM staff_session WHERE staff = ? AND expires > ?"
    return int(conn.execute(sql, (staff, now)).fetchone()[0])


def staff_names(conn: Connection) -> dict[int, str]:
    return dict(conn.execute("SELECT id, name FROM staff"))
