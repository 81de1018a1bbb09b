"""What was issued, walked over by id: what of it nothing refers to any more, and how that is deleted."""

from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.decide.grant import Grant
from lauschen.core.ids import AllowanceId, CredentialId
from lauschen.store.allowances import GRANT, allowances_of, read_grant

_KEPT_ELSEWHERE = " OR ".join(
    f"EXISTS (SELECT 1 FROM {table} t WHERE t.credential = c.id)"
    for table in ("message", "registration", "vouching", "consent")
)
_FOUND = "EXISTS (SELECT 1 FROM finder f WHERE f.credential = c.id), c.batch IS NULL"
_ADMITS = "EXISTS (SELECT 1 FROM admission a WHERE a.allowance = w.id)"


@dataclass(frozen=True, slots=True)
class Unused:
    """Something issued that no admission, message or record names any more."""

    grant: Grant
    is_found: bool
    """Whether a code, a name or a device still leads to it."""
    is_of_door: bool
    """It began with a login; nobody issued it."""


def allowances_after(
    conn: Connection, after: AllowanceId, at_most: int
) -> tuple[list[Unused], AllowanceId | None]:
    """Of the next allowances, those of one device each that no admission names; and the last id, None at the end."""
    rows = conn.execute(
        f"SELECT w.id, w.mac IS NOT NULL AND NOT {_ADMITS}, {_FOUND}, {GRANT} FROM allowance w"
        " CROSS JOIN credential c ON c.id = w.credential WHERE w.id > ? ORDER BY w.id LIMIT ?",
        (after, at_most),
    ).fetchall()
    ids = [id for id, *_ in rows]
    free = [
        Unused(read_grant(grant), bool(is_found), bool(is_of_door))
        for _, is_free, is_found, is_of_door, *grant in rows
        if is_free
    ]
    return free, ids[-1] if len(ids) == at_most else None


def credentials_after(
    conn: Connection, issued_before: float, after: CredentialId, at_most: int
) -> tuple[list[Unused], CredentialId | None]:
    """Of the next ones, those that nothing names; and the last id, None after the last that was issued before."""
    rows = conn.execute(
        f"SELECT c.id, NOT ({_KEPT_ELSEWHERE})"
        " AND NOT EXISTS (SELECT 1 FROM allowance w WHERE w.credential = c.id"
        f" AND (w.mac IS NOT NULL OR {_ADMITS})), {_FOUND}"
        " FROM credential c WHERE c.id > ? AND c.issued_at < ? ORDER BY c.id LIMIT ?",
        (after, issued_before, at_most),
    ).fetchall()
    ids = [id for id, *_ in rows]
    free = [
        Unused(allowances_of(conn, id)[0], bool(is_found), bool(is_of_door))
        for id, is_free, is_found, is_of_door in rows
        if is_free
    ]
    return free, ids[-1] if len(ids) == at_most else None


def forget_allowance(conn: Connection, allowance: AllowanceId) -> None:
    conn.execute("DELETE FROM allowance WHERE id = ?", (allowance,))


def forget_credential(conn: Connection, credential: CredentialId) -> None:
    """With what leads to it, what was used of it, and its passphrases."""
    for table in ("finder", "account", "allowance"):
        conn.execute(f"DELETE FROM {table} WHERE credential = ?", (credential,))
    conn.execute("DELETE FROM credential WHERE id = ?", (credential,))


def blank_batches(
    conn: Connection, before: float, counts_before: float, after: int, at_most: int
) -> tuple[int, int]:
    """Of the next batches that were issued `before`, those with nothing left lose all that was said of them.

    How many there were is kept until `counts_before`. How many were blanked or deleted, and the id to go on from.
    """
    rows = conn.execute(
        "SELECT id, issued_at, label || words || note <> '' FROM batch AS b"
        " WHERE id > ? AND issued_at < ? ORDER BY id LIMIT ?",
        (after, before, at_most),
    ).fetchall()
    empty = [
        (id, issued_at, is_said)
        for id, issued_at, is_said in rows
        if conn.execute("SELECT 1 FROM credential WHERE batch = ? LIMIT 1", (id,)).fetchone() is None
    ]
    gone = [(id,) for id, issued_at, _ in empty if issued_at < counts_before]
    said = [(id,) for id, issued_at, is_said in empty if is_said and issued_at >= counts_before]
    conn.executemany("DELETE FROM batch WHERE id = ?", gone)
    conn.executemany("UPDATE batch SET label = '', words = '', note = '' WHERE id = ?", said)
    return len(gone) + len(said), int(rows[-1][0]) if len(rows) == at_most else 0
