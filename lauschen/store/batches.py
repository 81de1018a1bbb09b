"""Batches: what was issued with one gesture. None counts before it is valid."""

from dataclasses import dataclass
from sqlite3 import Connection
from typing import Any

from lauschen.core.errors import NotThere
from lauschen.core.ids import BatchId, CredentialId, NetworkId, PlanId, StaffId
from lauschen.core.people.sight import EVERYTHING, Sight
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.codes import LENGTH


@dataclass(frozen=True, slots=True)
class Said:
    """What is said of a batch."""

    label: str = ""
    """For whom."""
    words: str = ""
    """*Words to the guest*: on the slip, in the message, on the page."""
    note: str = ""
    """*Note for us*: no guest ever sees it."""
    price: int | None = None
    """Of each, in hundredths of what the house counts in."""


@dataclass(frozen=True, slots=True)
class Batch:
    """What was issued with one gesture: vouchers, or one guest pass."""

    id: BatchId
    way: WayIn
    plan: PlanId
    size: int
    said: Said
    issued_at: float
    issued_by: str | None
    """By name."""
    issuer: StaffId | None
    used: int
    """Of them, those that were used at least once."""
    withdrawn: int
    network: NetworkId | None
    """Where alone it is good; None: everywhere."""


def add_batch(
    conn: Connection,
    *,
    plan: PlanId,
    size: int,
    said: Said,
    now: float,
    by: StaffId | None,
    length: int = LENGTH,
) -> BatchId:
    row = conn.execute(
        "INSERT INTO batch (plan, size, unused, label, issued_at, issued_by, words, note, price, code_length)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (plan, size, size, said.label, now, by, said.words, said.note, said.price, length),
    ).fetchone()
    return BatchId(row[0])


_NETWORK = "(SELECT c.network FROM credential c WHERE c.batch = b.id LIMIT 1)"
"""All that was issued with one gesture is good on the same network."""
_BATCH = (
    f"SELECT b.id, coalesce((SELECT c.way FROM credential c WHERE c.batch = b.id LIMIT 1), '{WayIn.VOUCHER}'),"
    " b.plan, b.size, b.label, b.words, b.note, b.price, b.issued_at, s.name, b.issued_by, b.used, b.withdrawn,"
    f" {_NETWORK} FROM batch b LEFT JOIN staff s ON s.id = b.issued_by WHERE b.is_valid AND "
)


def make_valid(conn: Connection, batch: BatchId) -> None:
    """All vouchers of a batch are there: it is shown from now on."""
    conn.execute("UPDATE batch SET is_valid = 1 WHERE id = ?", (batch,))


def is_valid(conn: Connection, batch: BatchId) -> bool:
    """False while its vouchers are being made."""
    return conn.execute("SELECT 1 FROM batch WHERE id = ? AND is_valid", (batch,)).fetchone() is not None


def forget_unfinished(conn: Connection, batch: BatchId, at_most: int) -> int:
    """Takes back some vouchers of a batch that never became valid, and at last the batch; how many went."""
    rows = conn.execute(
        "SELECT c.id FROM credential c JOIN batch b ON b.id = c.batch WHERE b.id = ? AND NOT b.is_valid LIMIT ?",
        (batch, at_most),
    ).fetchall()
    conn.executemany("DELETE FROM finder WHERE credential = ?", rows)
    conn.executemany("DELETE FROM credential WHERE id = ?", rows)
    if len(rows) < at_most:
        conn.execute("DELETE FROM batch WHERE id = ? AND NOT is_valid", (batch,))
    return len(rows)


def unfinished_before(conn: Connection, before: float) -> BatchId | None:
    """A batch that was begun before and never became valid: its process ended."""
    row = conn.execute(
        "SELECT id FROM batch INDEXED BY batch_unfinished WHERE NOT is_valid AND issued_at < ? LIMIT 1",
        (before,),
    ).fetchone()
    return None if row is None else BatchId(row[0])


def batches_since(conn: Connection, since: float, at_most: int, sight: Sight = EVERYTHING) -> list[Batch]:
    """Newest first."""
    seen = sight.where_issued(_NETWORK, "b.issued_by")
    sql = f"{_BATCH} b.issued_at >= ? AND {seen} ORDER BY b.issued_at DESC, b.id DESC LIMIT ?"
    return [_read_batch(row) for row in conn.execute(sql, (since, at_most))]


def get_batch(conn: Connection, batch: BatchId, sight: Sight = EVERYTHING) -> Batch:
    """NotThere also for one that is not theirs to see."""
    row = conn.execute(f"{_BATCH} b.id = ?", (batch,)).fetchone()
    found = None if row is None else _read_batch(row)
    if found is None or not sight.sees_issued(found.network, found.issuer):
        raise NotThere("batch")
    return found


def batch_of(conn: Connection, credential: CredentialId) -> Batch | None:
    """With which something was issued; None of what nobody issued."""
    row = conn.execute(
        f"{_BATCH} b.id = (SELECT batch FROM credential WHERE id = ?)", (credential,)
    ).fetchone()
    return None if row is None else _read_batch(row)


def _read_batch(row: tuple[Any, ...]) -> Batch:
    id, way, plan, size, label, words, note, price, *rest = row
    return Batch(id, WayIn(way), plan, size, Said(label, words, note, price), *rest)
