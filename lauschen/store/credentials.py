"""Vouchers: issued in batches, found by keyed hash, readable again only through the key."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.decide.picture import CredentialFacts
from lauschen.core.errors import NotThere
from lauschen.core.ids import BatchId, CredentialId, PlanId, StaffId
from lauschen.core.limits.counters import CEILING
from lauschen.core.limits.left import Use
from lauschen.store.keys import KeyRing

_FACTS = (
    "c.id, c.plan, c.issued_at, c.first_used, c.octets, c.given_seconds, c.given_octets, c.withdrawn_at,"
    " c.data_out_at"
)

DEVICES_IN = "(SELECT count(*) FROM admission x WHERE x.credential = c.id AND x.ended IS NULL)"
"""Devices that have an open admission by a credential `c`: counted so wherever it is shown."""


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

    facts: CredentialFacts
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
    row = conn.execute(
        "INSERT INTO credential (kind, plan, batch, code_hash, code_sealed, issued_at)"
        " VALUES ('voucher', ?, ?, ?, x'', ?) ON CONFLICT (code_hash) DO NOTHING RETURNING id",
        (plan, batch, keys.lookup_hash(code), now),
    ).fetchone()
    if row is None:
        return None
    sealed = keys.seal(code.encode(), table="credential", column="code_sealed", row=row[0])
    conn.execute("UPDATE credential SET code_sealed = ? WHERE id = ?", (sealed, row[0]))
    return CredentialId(row[0])


def add_unsealed(
    conn: Connection, hashes: Iterable[bytes], *, plan: PlanId, batch: BatchId, now: float
) -> list[CredentialId | None]:
    """Vouchers of a batch that is not valid yet, each to be sealed; None for a code that was issued before."""
    ids: list[CredentialId | None] = []
    for digest in hashes:
        row = conn.execute(
            "INSERT INTO credential (kind, plan, batch, code_hash, code_sealed, issued_at)"
            " VALUES ('voucher', ?, ?, ?, x'', ?) ON CONFLICT (code_hash) DO NOTHING RETURNING id",
            (plan, batch, digest, now),
        ).fetchone()
        ids.append(None if row is None else CredentialId(row[0]))
    return ids


def seal_all(conn: Connection, sealed: Iterable[tuple[bytes, CredentialId]]) -> None:
    conn.executemany("UPDATE credential SET code_sealed = ? WHERE id = ?", sealed)


def find_by_code(conn: Connection, keys: KeyRing, code: str) -> CredentialFacts | None:
    row = conn.execute(
        f"SELECT {_FACTS} FROM credential c WHERE code_hash = ?"
        " AND NOT EXISTS (SELECT 1 FROM batch b WHERE b.id = c.batch AND NOT b.is_valid)",
        (keys.lookup_hash(code),),
    ).fetchone()
    return None if row is None else CredentialFacts(row[0], row[1], Use(*row[2:]))


def get_credential(conn: Connection, credential: CredentialId) -> CredentialFacts:
    row = conn.execute(f"SELECT {_FACTS} FROM credential c WHERE id = ?", (credential,)).fetchone()
    if row is None:
        raise NotThere("voucher")
    return CredentialFacts(row[0], row[1], Use(*row[2:]))


def start_use(conn: Connection, credential: CredentialId, now: float) -> None:
    """*From first use* runs from the committed decision (rulings 5.2)."""
    conn.execute(
        "UPDATE credential SET first_used = ? WHERE id = ? AND first_used IS NULL", (now, credential)
    )


def charge(conn: Connection, octets: Mapping[CredentialId, int]) -> None:
    """Adds to what each of these has used, up to what a number of 64 bits holds."""
    conn.executemany(
        "UPDATE credential SET octets = min(octets + ?, ?) WHERE id = ?",
        [(min(used, CEILING), CEILING, credential) for credential, used in octets.items()],
    )


def note_data_out(conn: Connection, credential: CredentialId, at: float) -> None:
    """The last octet of its allowance was used."""
    conn.execute(
        "UPDATE credential SET data_out_at = coalesce(data_out_at, ?) WHERE id = ?", (at, credential)
    )


def give(conn: Connection, credential: CredentialId, seconds: int) -> None:
    conn.execute(
        "UPDATE credential SET given_seconds = given_seconds + ? WHERE id = ?", (seconds, credential)
    )


def withdraw(conn: Connection, credential: CredentialId, now: float) -> None:
    conn.execute(
        "UPDATE credential SET withdrawn_at = coalesce(withdrawn_at, ?) WHERE id = ?", (now, credential)
    )


_BATCH = (
    "SELECT b.id, b.plan, b.size, b.label, b.issued_at, s.name, count(c.first_used), count(c.withdrawn_at)"
    " FROM batch b LEFT JOIN staff s ON s.id = b.issued_by LEFT JOIN credential c ON c.batch = b.id"
    " WHERE b.is_valid AND "
)


def make_valid(conn: Connection, batch: BatchId) -> None:
    """All vouchers of a batch are there: it is shown from now on."""
    conn.execute("UPDATE batch SET is_valid = 1 WHERE id = ?", (batch,))


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
        after = page[-1].facts.id


def get_voucher(conn: Connection, keys: KeyRing, credential: CredentialId) -> Voucher:
    found = _vouchers(conn, keys, "c.id = ?", (credential,))
    if not found:
        raise NotThere("voucher")
    return found[0]


def _vouchers(conn: Connection, keys: KeyRing, which: str, values: tuple[int, ...]) -> list[Voucher]:
    rows = conn.execute(
        f"SELECT {_FACTS}, c.batch, c.code_sealed, {DEVICES_IN} FROM credential c WHERE {which}",
        values,
    )
    return [
        Voucher(
            CredentialFacts(row[0], row[1], Use(*row[2:9])),
            row[9],
            keys.unseal(row[10], table="credential", column="code_sealed", row=row[0]).decode(),
            row[11],
        )
        for row in rows
    ]
