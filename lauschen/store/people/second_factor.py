"""The second factor of people, sealed, and their recovery codes, hashed."""

from collections.abc import Iterable
from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import StaffId
from lauschen.store.keys import KeyRing


@dataclass(frozen=True, slots=True)
class SecondFactor:
    """One person's."""

    secret: str
    step: int
    """The last step of time whose code was taken."""
    recovery_codes: int
    """How many are left."""


def find(conn: Connection, keys: KeyRing, staff: StaffId) -> SecondFactor | None:
    """None of whoever has none."""
    row = conn.execute(
        "SELECT second_sealed, second_step, (SELECT count(*) FROM recovery_code r WHERE r.staff = s.id)"
        " FROM staff s WHERE id = ?",
        (staff,),
    ).fetchone()
    if row is None or row[0] is None:
        return None
    sealed, step, recovery_codes = row
    secret = keys.unseal(sealed, table="staff", column="second_sealed", row=staff).decode()
    return SecondFactor(secret, step, recovery_codes)


def put(
    conn: Connection, keys: KeyRing, staff: StaffId, secret: str, step: int, recovery: Iterable[bytes]
) -> None:
    forget(conn, staff)
    sealed = keys.seal(secret.encode(), table="staff", column="second_sealed", row=staff)
    conn.execute("UPDATE staff SET second_sealed = ?, second_step = ? WHERE id = ?", (sealed, step, staff))
    conn.executemany(
        "INSERT INTO recovery_code (staff, hash) VALUES (?, ?)", [(staff, digest) for digest in recovery]
    )


def forget(conn: Connection, staff: StaffId) -> None:
    conn.execute("UPDATE staff SET second_sealed = NULL, second_step = 0 WHERE id = ?", (staff,))
    conn.execute("DELETE FROM recovery_code WHERE staff = ?", (staff,))


def take_step(conn: Connection, staff: StaffId, step: int) -> bool:
    """False when this code, or a later one, was taken already."""
    sql = "UPDATE staff SET second_step = ?1 WHERE id = ?2 AND second_step < ?1"
    return conn.execute(sql, (step, staff)).rowcount > 0


def take_recovery_code(conn: Connection, staff: StaffId, digest: bytes) -> bool:
    """False when there is no such code, or no more."""
    sql = "DELETE FROM recovery_code WHERE staff = ? AND hash = ?"
    return conn.execute(sql, (staff, digest)).rowcount > 0
