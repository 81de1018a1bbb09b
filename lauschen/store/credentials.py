"""What was issued, in batches or at the door; found by keyed hash, readable again only through the key."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from sqlite3 import Connection
from typing import NamedTuple

from lauschen.core.decide.grant import Grant
from lauschen.core.decide.standing import State
from lauschen.core.errors import NotThere
from lauschen.core.ids import BatchId, CredentialId, Mac, NetworkId, PlanId, RoleId, StaffId, TrustedId
from lauschen.core.limits.terms import AS_PLAN, Own, Terms
from lauschen.core.people.sight import EVERYTHING, Sight
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import Finder
from lauschen.core.ways.passphrase import HOLDER
from lauschen.store.allowances import GRANT, read_grant
from lauschen.store.keys import KeyRing

DEVICES_IN = (
    "(SELECT count(*) FROM allowance y JOIN admission x ON x.allowance = y.id AND x.ended IS NULL"
    " WHERE y.credential = c.id)"
)
"""Devices that have an open admission by a credential `c`: counted so wherever it is shown."""
_DEVICES_AWAY = (
    "(SELECT count(*) FROM allowance y JOIN admission x ON x.allowance = y.id AND x.ended IS NULL"
    f" JOIN standing z ON z.mac = x.mac AND z.network = x.network AND z.state = '{State.LEFT}'"
    " WHERE y.credential = c.id)"
)
CODE, CHOSEN, ACCOUNT = "code", "chosen", "account"
READABLE = f"f.kind IN ('{CODE}', '{CHOSEN}', '{ACCOUNT}', '{HOLDER}')"
"""What a code was sealed with: drawn and chosen ones, names of accounts, and for whom a passphrase is."""


TERMS = "devices, seats, valid_from, valid_until, network, role, seconds, octets, down_bps, up_bps"
TERMS_VALUES = ", ".join("?" * 10)
"""Columns of `terms_row`, and places for them."""


def terms_row(terms: Terms) -> tuple[object, ...]:
    own = terms.own or Own()
    return (
        terms.devices, terms.seats, terms.valid_from, terms.valid_until, terms.network, terms.role,
        own.seconds, own.octets, own.down_bps, own.up_bps,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Issued:
    """A voucher or a guest pass with its readable code."""

    id: CredentialId
    grant: Grant
    batch: BatchId | None
    code: str
    """Ten signs, or as it was chosen; of an account its name."""
    is_chosen: bool
    devices_in: int
    """Devices that have an open admission by it."""
    devices_away: int
    """Of them, those that have left: they would be let back in."""
    issuer: StaffId | None
    """Which person issued it, if one did."""


def add_issued(
    conn: Connection,
    keys: KeyRing,
    code: str,
    *,
    way: WayIn = WayIn.VOUCHER,
    plan: PlanId,
    batch: BatchId,
    now: float,
    terms: Terms = AS_PLAN,
) -> CredentialId | None:
    """None when this very code was issued before (one chance in ten million million): draw another."""
    (credential,) = add_unsealed(
        conn, [keys.lookup_hash(code)], way=way, plan=plan, batch=batch, now=now, terms=terms
    )
    if credential is not None:
        seal_all(conn, [(seal_code(keys, code, credential), credential)])
    return credential


def add_unsealed(
    conn: Connection,
    hashes: Iterable[bytes],
    *,
    way: WayIn = WayIn.VOUCHER,
    plan: PlanId,
    batch: BatchId,
    now: float,
    kind: str = CODE,
    terms: Terms = AS_PLAN,
) -> list[CredentialId | None]:
    """Those of a batch that is not valid yet, each to be sealed; None for a code that was issued before."""
    ids: list[CredentialId | None] = []
    for digest in hashes:
        if conn.execute("SELECT 1 FROM finder WHERE hash = ?", (digest,)).fetchone() is not None:
            ids.append(None)
            continue
        made = add_bare(conn, way=way, plan=plan, batch=batch, now=now, terms=terms)
        conn.execute("INSERT INTO finder (hash, credential, kind) VALUES (?, ?, ?)", (digest, made, kind))
        ids.append(made)
    return ids


def add_bare(
    conn: Connection, *, way: WayIn, plan: PlanId, batch: BatchId, now: float, terms: Terms
) -> CredentialId:
    """One of a batch that is not valid yet, which nothing finds so far."""
    row = conn.execute(
        f"INSERT INTO credential (way, plan, batch, issued_at, {TERMS}) VALUES (?, ?, ?, ?, {TERMS_VALUES})"
        " RETURNING id",
        (way, plan, batch, now, *terms_row(terms)),
    ).fetchone()
    return CredentialId(row[0])


class Prepared(NamedTuple):
    """One before it is stored: its id was reserved, its code is hashed and sealed."""

    id: CredentialId
    hash: bytes
    sealed: bytes


def reserve(conn: Connection, count: int) -> CredentialId:
    """The first of so many ids in a row, which nobody else is given."""
    known = conn.execute("UPDATE sqlite_sequence SET seq = seq + ? WHERE name = 'credential'", (count,))
    if not known.rowcount:
        conn.execute("INSERT INTO sqlite_sequence (name, seq) VALUES ('credential', ?)", (count,))
    row = conn.execute("SELECT seq FROM sqlite_sequence WHERE name = 'credential'").fetchone()
    return CredentialId(row[0] - count + 1)


def add_prepared(
    conn: Connection,
    prepared: Sequence[Prepared],
    *,
    way: WayIn,
    plan: PlanId,
    batch: BatchId,
    now: float,
    terms: Terms,
) -> bool:
    """False, and nothing is stored, when one of the codes was issued before."""
    marks = ", ".join("?" * len(prepared))
    if (
        len({one.hash for one in prepared}) < len(prepared)
        or conn.execute(
            f"SELECT 1 FROM finder WHERE hash IN ({marks}) LIMIT 1", [one.hash for one in prepared]
        ).fetchone()
    ):
        return False
    same = (way, plan, batch, now, *terms_row(terms))
    conn.executemany(
        f"INSERT INTO credential (id, way, plan, batch, issued_at, {TERMS})"
        f" VALUES (?, ?, ?, ?, ?, {TERMS_VALUES})",
        [(one.id, *same) for one in prepared],
    )
    conn.executemany(
        f"INSERT INTO finder (hash, credential, kind, sealed) VALUES (?, ?, '{CODE}', ?)",
        [(one.hash, one.id, one.sealed) for one in prepared],
    )
    return True


def add_chosen(
    conn: Connection,
    keys: KeyRing,
    *,
    words: str,
    text: str,
    plan: PlanId,
    batch: BatchId,
    now: float,
    terms: Terms,
) -> CredentialId | None:
    """A guest pass with a code that somebody chose; None when somebody else has it already."""
    digest = finder_hash(keys, Finder(CHOSEN, words))
    (credential,) = add_unsealed(
        conn, [digest], way=WayIn.GUEST_PASS, plan=plan, batch=batch, now=now, kind=CHOSEN, terms=terms
    )
    if credential is not None:
        seal_all(conn, [(seal_code(keys, text, credential), credential)])
    return credential


def only_of(conn: Connection, batch: BatchId) -> CredentialId:
    """That of a batch of one."""
    row = conn.execute("SELECT id FROM credential WHERE batch = ? ORDER BY id LIMIT 1", (batch,)).fetchone()
    return CredentialId(row[0])


def seal_code(keys: KeyRing, code: str, credential: CredentialId) -> bytes:
    """Opens for this credential alone."""
    return keys.seal(code.encode(), table="credential", column="code_sealed", row=credential)


def unseal_code(keys: KeyRing, sealed: bytes, credential: CredentialId) -> str:
    return keys.unseal(sealed, table="credential", column="code_sealed", row=credential).decode()


def seal_all(conn: Connection, sealed: Iterable[tuple[bytes, CredentialId]]) -> None:
    conn.executemany(f"UPDATE finder AS f SET sealed = ? WHERE credential = ? AND {READABLE}", sealed)


def issue_at_door(
    conn: Connection,
    keys: KeyRing,
    finder: Finder,
    *,
    way: WayIn,
    plan: PlanId,
    now: float,
    role: RoleId | None = None,
    trusted: TrustedId | None = None,
) -> CredentialId:
    """Made by the decision that lets somebody in; what the finder led to before is found by it no more."""
    row = conn.execute(
        "INSERT INTO credential (way, plan, issued_at, role, trusted) VALUES (?, ?, ?, ?, ?) RETURNING id",
        (way, plan, now, role, trusted),
    ).fetchone()
    conn.execute(
        "INSERT INTO finder (hash, credential, kind) VALUES (?, ?, ?)"
        " ON CONFLICT (hash) DO UPDATE SET credential = excluded.credential",
        (finder_hash(keys, finder), row[0], finder.kind),
    )
    return CredentialId(row[0])


def find(conn: Connection, keys: KeyRing, finder: Finder, mac: Mac | None) -> Grant | None:
    """What a finder leads to, with the allowance of `mac`, or of all its devices together."""
    row = conn.execute(
        f"SELECT {GRANT} FROM finder f JOIN credential c ON c.id = f.credential"
        " LEFT JOIN allowance w ON w.credential = c.id AND coalesce(w.mac, 0) = coalesce(?, 0) WHERE f.hash = ?"
        " AND NOT EXISTS (SELECT 1 FROM batch b WHERE b.id = c.batch AND NOT b.is_valid)",
        (mac, finder_hash(keys, finder)),
    ).fetchone()
    return None if row is None else read_grant(row)


def issued_where(conn: Connection, credential: CredentialId) -> tuple[StaffId | None, NetworkId | None]:
    """Who issued it, if a person did, and where alone it is good, if anywhere. NotThere when there is none."""
    row = conn.execute(
        "SELECT b.issued_by, c.network FROM credential c LEFT JOIN batch b ON b.id = c.batch WHERE c.id = ?",
        (credential,),
    ).fetchone()
    if row is None:
        raise NotThere("voucher")
    issued_by, network = row
    return issued_by, network


def words_of(conn: Connection, credential: CredentialId) -> str:
    """*Words to the guest*; empty where there are none."""
    row = conn.execute(
        "SELECT b.words FROM credential c JOIN batch b ON b.id = c.batch WHERE c.id = ?", (credential,)
    ).fetchone()
    return "" if row is None else str(row[0])


def withdraw(conn: Connection, credential: CredentialId, now: float) -> None:
    conn.execute(
        "UPDATE credential SET withdrawn_at = coalesce(withdrawn_at, ?) WHERE id = ?", (now, credential)
    )


def restore(conn: Connection, credential: CredentialId) -> None:
    """It is withdrawn no more."""
    conn.execute("UPDATE credential SET withdrawn_at = NULL WHERE id = ?", (credential,))


def set_paused(conn: Connection, credential: CredentialId, since: float | None) -> None:
    """None: it is paused no more."""
    conn.execute("UPDATE credential SET paused_at = ? WHERE id = ?", (since, credential))


def replace_code(conn: Connection, keys: KeyRing, credential: CredentialId, code: str) -> bool:
    """In place of the code that it had; False when this very code was issued before: draw another."""
    digest = keys.lookup_hash(code)
    if conn.execute("SELECT 1 FROM finder WHERE hash = ?", (digest,)).fetchone() is not None:
        return False
    conn.execute(f"DELETE FROM finder AS f WHERE credential = ? AND {READABLE}", (credential,))
    conn.execute(
        "INSERT INTO finder (hash, credential, kind, sealed) VALUES (?, ?, ?, ?)",
        (digest, credential, CODE, seal_code(keys, code, credential)),
    )
    return True


def move_end(conn: Connection, credential: CredentialId, until: float) -> None:
    """The moment until which it is good."""
    conn.execute("UPDATE credential SET valid_until = ? WHERE id = ?", (until, credential))


def issued_of(conn: Connection, keys: KeyRing, batch: BatchId, *, after: int, at_most: int) -> list[Issued]:
    """In the order in which they were issued, from the one after `after`."""
    return _issued(conn, keys, "c.batch = ? AND c.id > ? ORDER BY c.id LIMIT ?", (batch, after, at_most))


def all_issued_of(conn: Connection, keys: KeyRing, batch: BatchId, *, after: int = 0) -> Iterator[Issued]:
    """However many they are, a page at a time, from the one after `after`."""
    while page := issued_of(conn, keys, batch, after=after, at_most=500):
        yield from page
        after = page[-1].id


def get_issued(
    conn: Connection, keys: KeyRing, credential: CredentialId, sight: Sight = EVERYTHING
) -> Issued:
    """NotThere also for one that is not theirs to see."""
    found = _issued(conn, keys, "c.id = ?", (credential,))
    if not found or not sight.sees_issued(found[0].grant.network, found[0].issuer):
        raise NotThere("voucher")
    return found[0]


def _issued(conn: Connection, keys: KeyRing, which: str, values: tuple[int, ...]) -> list[Issued]:
    rows = conn.execute(
        f"SELECT c.id, c.batch, f.sealed, {DEVICES_IN}, f.kind, {_DEVICES_AWAY}, b.issued_by, {GRANT}"
        " FROM credential c LEFT JOIN batch b ON b.id = c.batch"
        f" JOIN finder f ON f.credential = c.id AND {READABLE}"
        f" LEFT JOIN allowance w ON w.credential = c.id AND w.mac IS NULL WHERE {which}",
        values,
    )
    found = []
    for number, batch, sealed, devices_in, kind, away, issuer, *granted in rows:
        grant, credential = read_grant(granted), CredentialId(number)
        code = unseal_code(keys, sealed, credential)
        found.append(Issued(credential, grant, batch, code, kind != CODE, devices_in, away, issuer))
    return found


def finder_hash(keys: KeyRing, finder: Finder) -> bytes:
    """As it is looked up."""
    # A code's own hash has no kind in it, so that those of all versions are found.
    return keys.lookup_hash(finder.text if finder.kind == CODE else f"{finder.kind} {finder.text}")
