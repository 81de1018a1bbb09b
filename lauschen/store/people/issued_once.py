"""Requests to issue that name themselves (an idempotency key), and what came of each."""

import hashlib
from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import BatchId, StaffId


@dataclass(frozen=True, slots=True)
class Once:
    """A request's own name, and what it asked for."""

    key: str
    asked: str


def find(conn: Connection, staff: StaffId, once: Once) -> tuple[BatchId, bool] | None:
    """What was issued under this key, and whether the very same was asked for then."""
    row = conn.execute(
        "SELECT batch, asked FROM issued_once WHERE staff = ? AND key_hash = ?", (staff, _hash(once.key))
    ).fetchone()
    if row is None:
        return None
    batch, asked = row
    return BatchId(batch), asked == _hash(once.asked)


def note(conn: Connection, staff: StaffId, once: Once, batch: BatchId, now: float) -> None:
    conn.execute(
        "INSERT INTO issued_once (staff, key_hash, asked, at, batch) VALUES (?, ?, ?, ?, ?)",
        (staff, _hash(once.key), _hash(once.asked), now, batch),
    )


def _hash(text: str) -> bytes:
    return hashlib.sha256(text.encode()).digest()
