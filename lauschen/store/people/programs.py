"""Programs that speak to the API by a token: a property-management or event system, for instance."""

from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import StaffId
from lauschen.core.people.duties import Duty
from lauschen.core.people.limits import Limits
from lauschen.store.people.sessions import hash_token
from lauschen.store.people.staff import read_limits


@dataclass(frozen=True, slots=True)
class Program:
    """One of them; its token is known to it alone."""

    id: StaffId
    name: str
    duty: Duty
    limits: Limits
    until: float | None
    """How long its token is good."""
    used: float | None
    """When it asked last, to the hour."""


def all_programs(conn: Connection) -> list[Program]:
    """By name, without removed ones."""
    rows = conn.execute(
        "SELECT id, name, duty, limits, token_until, token_used FROM staff"
        " WHERE removed_at IS NULL AND token_hash IS NOT NULL ORDER BY name"
    )
    return [
        Program(StaffId(id), name, Duty(duty), read_limits(limits), until, used)
        for id, name, duty, limits, until, used in rows
    ]


def add_program(conn: Connection, name: str, duty: Duty, token: str, until: float | None) -> StaffId:
    """One that was removed under this name is there again."""
    row = conn.execute(
        "INSERT INTO staff (name, password_hash, must_change, duty, token_hash, token_until)"
        " VALUES (?, '', 0, ?, ?, ?) ON CONFLICT (name) DO UPDATE SET password_hash = '', must_change = 0,"
        " duty = excluded.duty, token_hash = excluded.token_hash, token_until = excluded.token_until,"
        " token_used = NULL, limits = NULL, removed_at = NULL RETURNING id",
        (name, duty, hash_token(token), until),
    ).fetchone()
    return StaffId(row[0])


def set_token(conn: Connection, program: StaffId, token: str, until: float | None) -> None:
    """The one before is good no more."""
    conn.execute(
        "UPDATE staff SET token_hash = ?, token_until = ?, token_used = NULL WHERE id = ?",
        (hash_token(token), until, program),
    )


def note_use(conn: Connection, program: StaffId, now: float) -> None:
    conn.execute("UPDATE staff SET token_used = ? WHERE id = ?", (now, program))
