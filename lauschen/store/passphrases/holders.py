"""For whom or what passphrases are: the house plan of keys, a page at a time."""

from dataclasses import dataclass
from pathlib import Path
from sqlite3 import Connection
from typing import Any

from lauschen.core.decide.grant import Grant
from lauschen.core.ids import BatchId, CredentialId, NetworkId, RoleId, StaffId
from lauschen.core.passphrases.holder import HolderKind
from lauschen.core.people.sight import EVERYTHING, Sight
from lauschen.store.admissions import SEATS_TAKEN
from lauschen.store.allowances import GRANT, read_grant
from lauschen.store.credentials import DEVICES_IN
from lauschen.store.db import open_reader

LAST_SIGN = "\U0010ffff"
_KINDS = {kind.value: kind for kind in HolderKind}


@dataclass(frozen=True, slots=True)
class Holder:
    """Somebody or something that has a passphrase."""

    credential: CredentialId
    network: NetworkId
    kind: HolderKind
    name: str
    link_stamp: int
    """Of the links to their own page that are good."""


@dataclass(frozen=True, slots=True)
class HolderLine:
    """One of the house plan, with what is known of its key."""

    holder: Holder
    grant: Grant
    batch: BatchId
    issuer: StaffId | None
    devices: int
    """That joined with one of its keys, and were not taken off."""
    devices_in: int
    seats_taken: int
    """As many devices as count now."""
    joined_at: float | None
    """When one of them joined for the first time, last."""
    made_at: float
    """Of the newest key."""
    old_until: float | None
    """How long an older one holds as well; may be over."""
    note: str


def find(conn: Connection, credential: CredentialId) -> Holder | None:
    row = conn.execute(
        "SELECT credential, network, kind, name, link_stamp FROM passphrase WHERE credential = ?",
        (credential,),
    ).fetchone()
    return None if row is None else _holder(*row)


def count_link(conn: Connection, credential: CredentialId) -> None:
    """Links to their own page that were given out are void."""
    conn.execute("UPDATE passphrase SET link_stamp = link_stamp + 1 WHERE credential = ?", (credential,))


_LINE = (
    "SELECT p.credential, p.network, p.kind, p.name, p.link_stamp, b.id, b.issued_by,"
    " iif(p.note = '', b.note, p.note),"
    " (SELECT count(*) FROM passphrase_key k JOIN key_device d ON d.key = k.id"
    " WHERE k.credential = p.credential AND d.removed_at IS NULL),"
    f" {DEVICES_IN}, {SEATS_TAKEN},"
    " (SELECT max(k.joined_at) FROM passphrase_key k WHERE k.credential = p.credential),"
    " (SELECT max(k.made_at) FROM passphrase_key k WHERE k.credential = p.credential),"
    " (SELECT max(k.ends_at) FROM passphrase_key k WHERE k.credential = p.credential),"
    f" {GRANT} FROM passphrase p JOIN credential c ON c.id = p.credential JOIN batch b ON b.id = c.batch"
    " AND b.is_valid LEFT JOIN allowance w ON w.credential = c.id AND w.mac IS NULL"
)
UNUSED = "NOT EXISTS (SELECT 1 FROM passphrase_key k WHERE k.credential = p.credential AND k.joined_at IS NOT NULL)"
GOOD = "c.withdrawn_at IS NULL AND (c.valid_until IS NULL OR c.valid_until > :now)"
ENDING = (
    "c.withdrawn_at IS NULL AND ((c.valid_until > :now AND c.valid_until <= :soon) OR EXISTS (SELECT 1 FROM"
    " passphrase_key k WHERE k.credential = p.credential AND k.ends_at > :now AND k.ends_at <= :soon))"
)
WHICH = {
    "all": GOOD,
    "unused": f"{GOOD} AND {UNUSED}",
    "ending": ENDING,
    "over": "(c.withdrawn_at IS NOT NULL OR c.valid_until <= :now)",
}


def list_holders(
    conn: Connection,
    network: NetworkId,
    kind: HolderKind,
    *,
    which: str,
    name: str,
    now: float,
    soon: float,
    after: tuple[str, int],
    at_most: int,
    sight: Sight = EVERYTHING,
) -> list[HolderLine]:
    """By name, from the one after `after` (its name and id). `name`: those that begin so."""
    rows = conn.execute(
        f"{_LINE} WHERE p.network = :network AND p.kind = :kind AND {WHICH[which]}"
        f" AND {sight.where_issued('p.network', 'b.issued_by')}"
        " AND p.name COLLATE NOCASE >= :name AND p.name COLLATE NOCASE < :name || :last"
        " AND (p.name COLLATE NOCASE, p.credential) > (:after_name, :id)"
        " ORDER BY p.name COLLATE NOCASE, p.credential LIMIT :most",
        {
            "network": network, "kind": kind, "now": now, "soon": soon, "name": name, "last": LAST_SIGN,
            "after_name": after[0], "id": after[1], "most": at_most,
        },
    )  # fmt: skip
    return [_read(row) for row in rows]


def get_line(conn: Connection, credential: CredentialId) -> HolderLine | None:
    row = conn.execute(f"{_LINE} WHERE p.credential = ?", (credential,)).fetchone()
    return None if row is None else _read(row)


def count_by_role(conn: Connection, role: RoleId, now: float) -> int:
    """Those that are good, and bring this role along."""
    row = conn.execute(
        f"SELECT count(*) FROM passphrase p JOIN credential c ON c.id = p.credential WHERE c.role = :role AND {GOOD}",
        {"role": role, "now": now},
    ).fetchone()
    return int(row[0])


def count_holders(
    database: Path, network: NetworkId, now: float, soon: float, sight: Sight = EVERYTHING
) -> dict[tuple[str, str], int]:
    """In the worker, since it walks all of them: by kind, and by which of them."""
    conn = open_reader(database)
    try:
        return counts(conn, network, now, soon, sight)
    finally:
        conn.close()


def counts(
    conn: Connection, network: NetworkId, now: float, soon: float, sight: Sight = EVERYTHING
) -> dict[tuple[str, str], int]:
    each = ", ".join(f"total({where})" for where in WHICH.values())
    rows = conn.execute(
        f"SELECT p.kind, {each} FROM passphrase p JOIN credential c ON c.id = p.credential"
        " JOIN batch b ON b.id = c.batch AND b.is_valid WHERE p.network = :network"
        f" AND {sight.where_issued('p.network', 'b.issued_by')} GROUP BY p.kind",
        {"network": network, "now": now, "soon": soon},
    )
    return {(kind, which): int(n) for kind, *found in rows for which, n in zip(WHICH, found, strict=True)}


def _read(row: tuple[Any, ...]) -> HolderLine:
    (
        credential, network, kind, name, link_stamp, batch, issuer, note, devices, devices_in, seats_taken, joined_at,
        made_at, old_until, *grant,
    ) = row  # fmt: skip
    return HolderLine(
        holder=_holder(credential, network, kind, name, link_stamp),
        grant=read_grant(grant),
        batch=batch,
        issuer=issuer,
        note=note,
        devices=devices,
        devices_in=devices_in,
        seats_taken=seats_taken,
        joined_at=joined_at,
        made_at=made_at,
        old_until=old_until,
    )


def _holder(credential: CredentialId, network: NetworkId, kind: str, name: str, link_stamp: int) -> Holder:
    return Holder(credential, network, _KINDS[kind], name, link_stamp)
