"""What was issued, in batches or at the door; found by keyed hash, readable again only through the key."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.decide.grant import Grant
from lauschen.core.errors import NotThere
from lauschen.core.ids import BatchId, CredentialId, Mac, PlanId, StaffId
from lauschen.core.ways.finder import Finder
from lauschen.core.ways.kinds import WayIn
from lauschen.store.allowances import GRANT, GRANT_COLUMNS, read_grant
from lauschen.store.keys import KeyRing

DEVICES_IN = (
    "(SELECT count(*) FROM allowance y JOIN admission x ON x.allowance = y.id AND x.ended IS NULL"
    " WHERE y.credential = c.id)"
)
"""Devices that have an open admission by a credential `c`: counted so wherever it is shown."""
CODE = "code"


@dataclass(frozen=True, slots=True)
class Batch:
    """Vouchers that were issued with one gesture."""

    id: BatchId
    plan: PlanId
    size: int
    label: str
    issued_at: float
    issued_by: str | None
    used: int
    """Vouchers of it that were used at least once."""
    withdrawn: int


@dataclass(frozen=True, slots=True)
class Voucher:
    """One voucher with its readable code."""

    id: CredentialId
    grant: Grant
    batch: BatchId | None
    code: str
    devices_in: int
    """Devices that have an open admission by it."""


def add_batch(
    conn: Connection, *, plan: PlanId, size: int, label: str, now: float, by: StaffId | None
) -> BatchId:
    row = conn.execute(
        "INSERT INTO batch (plan, size, label, issued_at, issued_by) VALUES (?, ?, ?, ?, ?) RETURNING id",
        (plan, size, label, now, by),
    ).fetchone()
    return BatchId(row[0])


def add_voucher(
    conn: Connection, keys: KeyRing, code: str, *, plan: PlanId, batch: BatchId, now: float
) -> CredentialId | None:
    """None when this very code was issued before (one chance in ten million million): draw another."""
    (credential,) = add_unsealed(conn, [keys.lookup_hash(code)], plan=plan, batch=batch, now=now)
    if credential is not None:
        seal_all(conn, [(seal_code(keys, code, credential), credential)])
    return credential


def add_unsealed(
    conn: Connection, hashes: Iterable[bytes], *, plan: PlanId, batch: BatchId, now: float
) -> list[CredentialId | None]:
    """Vouchers of a batch that is not valid yet, each to be sealed; None for a code that was issued before."""
    ids: list[CredentialId | None] = []
    for digest in hashes:
        if conn.execute("SELECT 1 FROM finder WHERE hash = ?", (digest,)).fetchone() is not None:
            ids.append(None)
            continue
        row = conn.execute(
            "INSERT INTO credential (way, plan, batch, issued_at) VALUES (?, ?, ?, ?) RETURNING id",
            (WayIn.VOUCHER, plan, batch, now),
        ).fetchone()
        conn.execute("INSERT INTO finder (hash, credential, kind) VALUES (?, ?, ?)", (digest, row[0], CODE))
        ids.append(CredentialId(row[0]))
    return ids


def seal_code(keys: KeyRing, code: str, credential: CredentialId) -> bytes:
    """Opens for this credential alone."""
    return keys.seal(code.encode(), table="credential", column="code_sealed", row=credential)


def unseal_code(keys: KeyRing, sealed: bytes, credential: CredentialId) -> str:
    return keys.unseal(sealed, table="credential", column="code_sealed", row=credential).decode()


def seal_all(conn: Connection, sealed: Iterable[tuple[bytes, CredentialId]]) -> None:
    conn.executemany(f"UPDATE finder SET sealed = ? WHERE credential = ? AND kind = '{CODE}'", sealed)


def issue_at_door(
    conn: Connection, keys: KeyRing, finder: Finder, *, way: WayIn, plan: PlanId, now: float
) -> CredentialId:
    """Made by the decision that lets somebody in; what the finder led to before is found by it no more."""
    row = conn.execute(
        "INSERT INTO credential (way, plan, issued_at) VALUES (?, ?, ?) RETURNING id", (way, plan, now)
    ).fetchone()
    conn.execute(
        "INSERT INTO finder (hash, credential, kind) VALUES (?, ?, ?)"
        " ON CONFLICT (hash) DO UPDATE SET credential = excluded.credential",
        (_hash(keys, finder), row[0], finder.kind),
    )
    return CredentialId(row[0])


def find(conn: Connection, keys: KeyRing, finder: Finder, mac: Mac | None) -> Grant | None:
    """What a finder leads to, with the allowance of `mac`, or of all its devices together."""
    row = conn.execute(
        f"SELECT {GRANT} FROM finder f JOIN credential c ON c.id = f.credential"
        " LEFT JOIN allowance w ON w.credential = c.id AND coalesce(w.mac, 0) = coalesce(?, 0) WHERE f.hash = ?"
        " AND NOT EXISTS (SELECT 1 FROM batch b WHERE b.id = c.batch AND NOT b.is_valid)",
        (mac, _hash(keys, finder)),
    ).fetchone()
    return None if row is None else read_grant(row)


def get_credential(conn: Connection, credential: CredentialId) -> None:
    """NotThere when there is none."""
    if conn.execute("SELECT 1 FROM credential WHERE id = ?", (credential,)).fetchone() is None:
        raise NotThere("voucher")


def withdraw(conn: Connection, credential: CredentialId, now: float) -> None:
    conn.execute(
        "UPDATE credential SET withdrawn_at = coalesce(withdrawn_at, ?) WHERE id = ?", (now, credential)
    )


_BATCH = (
    "SELECT b.id, b.plan, b.size, b.label, b.issued_at, s.name, count(w.first_used), count(c.withdrawn_at)"
    " FROM batch b LEFT JOIN staff s ON s.id = b.issued_by LEFT JOIN credential c ON c.batch = b.id"
    " LEFT JOIN allowance w ON w.credential = c.id AND w.mac IS NULL"
    " WHERE b.is_valid AND "
)


def make_valid(conn: Connection, batch: BatchId) -> None:
    """All vouchers of a batch are there: it is shown from now on."""
    conn.execute("UPDATE batch SET is_valid = 1 WHERE id = ?", (batch,))


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
        "SELECT id FROM batch WHERE NOT is_valid AND issued_at < ? LIMIT 1", (before,)
    ).fetchone()
    return None if row is None else BatchId(row[0])


def batches_since(conn: Connection, since: float, at_most: int) -> list[Batch]:
    """Newest first."""
    sql = f"{_BATCH} b.issued_at >= ? GROUP BY b.id ORDER BY b.issued_at DESC, b.id DESC LIMIT ?"
    return [Batch(*row) for row in conn.execute(sql, (since, at_most))]


def get_batch(conn: Connection, batch: BatchId) -> Batch:
    row = conn.execute(f"{_BATCH} b.id = ? GROUP BY b.id", (batch,)).fetchone()
    if row is None:
        raise NotThere("batch")
    return Batch(*row)


def vouchers_of(
    conn: Connection, keys: KeyRing, batch: BatchId, *, after: int, at_most: int
) -> list[Voucher]:
    """In the order in which they were issued, from the one after `after`."""
    return _vouchers(conn, keys, "c.batch = ? AND c.id > ? ORDER BY c.id LIMIT ?", (batch, after, at_most))


def all_vouchers_of(conn: Connection, keys: KeyRing, batch: BatchId) -> Iterator[Voucher]:
    """However many they are, a page at a time."""
    after = 0
    while page := vouchers_of(conn, keys, batch, after=after, at_most=500):
        yield from page
        after = page[-1].id


def get_voucher(conn: Connection, keys: KeyRing, credential: CredentialId) -> Voucher:
    found = _vouchers(conn, keys, "c.id = ?", (credential,))
    if not found:
        raise NotThere("voucher")
    return found[0]


def _vouchers(conn: Connection, keys: KeyRing, which: str, values: tuple[int, ...]) -> list[Voucher]:
    rows = conn.execute(
        f"SELECT {GRANT}, c.batch, f.sealed, {DEVICES_IN} FROM credential c"
        f" JOIN finder f ON f.credential = c.id AND f.kind = '{CODE}'"
        f" LEFT JOIN allowance w ON w.credential = c.id AND w.mac IS NULL WHERE {which}",
        values,
    )
    found = []
    for row in rows:
        grant, (batch, sealed, devices_in) = read_grant(row[:GRANT_COLUMNS]), row[GRANT_COLUMNS:]
        credential = CredentialId(row[2])
        found.append(Voucher(credential, grant, batch, unseal_code(keys, sealed, credential), devices_in))
    return found


def _hash(keys: KeyRing, finder: Finder) -> bytes:
    # A code's own hash has no kind in it, so that those of all versions are found.
    return keys.lookup_hash(finder.text if finder.kind == CODE else f"{finder.kind} {finder.text}")
