"""Keys: the passphrases of one holder, old ones too. Sealed, as their PMKs are; found by keyed hash."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from sqlite3 import Connection
from typing import Any, NamedTuple

from lauschen.core.decide.grant import Grant
from lauschen.core.ids import CredentialId, KeyId, Mac, NetworkId
from lauschen.core.passphrases.holder import HolderKind
from lauschen.core.ways.passphrase import holder_finder
from lauschen.store.allowances import GRANT, read_grant
from lauschen.store.credentials import finder_hash, seal_code
from lauschen.store.keys import KeyRing

MOST_SHOWN = 50
_COLUMNS = "k.id, k.credential, k.network, k.sealed, k.made_at, k.ends_at, k.joined_at"


@dataclass(frozen=True, slots=True)
class HolderKey:
    """One passphrase, readable."""

    id: KeyId
    credential: CredentialId
    network: NetworkId
    text: str
    made_at: float
    ends_at: float | None
    """From then on it does not hold; None: as long as what it was issued with does."""
    joined_at: float | None
    """When another device joined with it last."""

    def holds(self, now: float) -> bool:
        return self.ends_at is None or now < self.ends_at


@dataclass(frozen=True, slots=True)
class NewKey:
    """A passphrase with its PMK, before it is stored."""

    text: str
    pmk: bytes
    ssid: bytes
    """What the PMK was made with."""


def add_holder(
    conn: Connection,
    keys: KeyRing,
    credential: CredentialId,
    network: NetworkId,
    kind: HolderKind,
    name: str,
    note: str = "",
) -> None:
    """Whose a credential is, and by what it is found."""
    conn.execute(
        "INSERT INTO passphrase (credential, network, kind, name, note) VALUES (?, ?, ?, ?, ?)",
        (credential, network, kind, name, note),
    )
    finder = holder_finder(credential)
    conn.execute(
        "INSERT INTO finder (hash, credential, kind, sealed) VALUES (?, ?, ?, ?)",
        (finder_hash(keys, finder), credential, finder.kind, seal_code(keys, name, credential)),
    )


def is_taken(conn: Connection, keys: KeyRing, network: NetworkId, text: str) -> bool:
    """Whether anybody has this passphrase on this network, or had it."""
    row = conn.execute(
        "SELECT 1 FROM passphrase_key WHERE network = ? AND hash = ?", (network, _hash(keys, network, text))
    )
    return row.fetchone() is not None


def add_key(
    conn: Connection, keys: KeyRing, credential: CredentialId, network: NetworkId, new: NewKey, now: float
) -> KeyId | None:
    """None when somebody has this very passphrase, or had it."""
    row = conn.execute(
        "INSERT INTO passphrase_key (credential, network, hash, sealed, pmk_sealed, ssid, made_at)"
        " VALUES (?, ?, ?, x'', x'', ?, ?) ON CONFLICT (network, hash) DO NOTHING RETURNING id",
        (credential, network, _hash(keys, network, new.text), new.ssid, now),
    ).fetchone()
    if row is None:
        return None
    conn.execute(
        "UPDATE passphrase_key SET sealed = ?, pmk_sealed = ? WHERE id = ?",
        (
            keys.seal(new.text.encode(), table="passphrase_key", column="sealed", row=row[0]),
            seal_pmk(keys, new.pmk, row[0]),
            row[0],
        ),
    )
    return KeyId(row[0])


def get_key(conn: Connection, keys: KeyRing, key: KeyId) -> HolderKey | None:
    row = conn.execute(f"SELECT {_COLUMNS} FROM passphrase_key k WHERE k.id = ?", (key,)).fetchone()
    return None if row is None else _read(keys, row)


def holding_of(conn: Connection, keys: KeyRing, credential: CredentialId, now: float) -> list[HolderKey]:
    """Those of one holder that hold, the newest first."""
    rows = conn.execute(
        f"SELECT {_COLUMNS} FROM passphrase_key k WHERE k.credential = ? AND (k.ends_at IS NULL OR k.ends_at > ?)"
        " ORDER BY k.id DESC",
        (credential, now),
    )
    return [_read(keys, row) for row in rows]


def newest_key(conn: Connection, keys: KeyRing, credential: CredentialId, now: float) -> HolderKey | None:
    """The newest that holds; None when none does."""
    return next(iter(holding_of(conn, keys, credential, now)), None)


@dataclass(frozen=True, slots=True)
class KeyTimes:
    """A passphrase without its text."""

    id: KeyId
    made_at: float
    ends_at: float | None
    joined_at: float | None


def times_of(conn: Connection, credential: CredentialId) -> list[KeyTimes]:
    """Of one holder, the newest first, also those that do not hold any more; not more than somebody looks through."""
    rows = conn.execute(
        "SELECT id, made_at, ends_at, joined_at FROM passphrase_key WHERE credential = ? ORDER BY id DESC LIMIT ?",
        (credential, MOST_SHOWN),
    )
    return [KeyTimes(KeyId(key), *moments) for key, *moments in rows]


def end_keys(conn: Connection, credential: CredentialId, at: float) -> None:
    """All that it has end then, or before if they did."""
    conn.execute(
        "UPDATE passphrase_key SET ends_at = min(coalesce(ends_at, ?1), ?1) WHERE credential = ?2",
        (at, credential),
    )


def end_key(conn: Connection, key: KeyId, at: float | None) -> None:
    """None: it holds as long as what it was issued with."""
    conn.execute("UPDATE passphrase_key SET ends_at = ? WHERE id = ?", (at, key))


def remove_key(conn: Connection, key: KeyId) -> None:
    """One that nobody used: it was never given out."""
    conn.execute("DELETE FROM passphrase_key WHERE id = ?", (key,))


def ending_keys(conn: Connection, since: float, until: float) -> list[KeyId]:
    """Those whose last moment is in that time."""
    rows = conn.execute(
        "SELECT id FROM passphrase_key WHERE ends_at > ? AND ends_at <= ? ORDER BY ends_at", (since, until)
    )
    return [KeyId(row[0]) for row in rows]


@dataclass(frozen=True, slots=True)
class Remade:
    """The PMK of a passphrase under another SSID."""

    key: KeyId
    pmk: bytes


def made_for_others(
    conn: Connection, keys: KeyRing, network: int, ssid: bytes, at_most: int
) -> list[tuple[KeyId, str]]:
    """Keys of a network whose PMK was made with another SSID, and their texts."""
    rows = conn.execute(
        "SELECT id, sealed FROM passphrase_key WHERE network = ? AND ssid <> ? ORDER BY id LIMIT ?",
        (network, ssid, at_most),
    )
    return [
        (KeyId(row), keys.unseal(sealed, table="passphrase_key", column="sealed", row=row).decode())
        for row, sealed in rows
    ]


def save_remade(conn: Connection, keys: KeyRing, ssid: bytes, remade: Iterable[Remade]) -> None:
    conn.executemany(
        "UPDATE passphrase_key SET pmk_sealed = ?, ssid = ? WHERE id = ?",
        [(seal_pmk(keys, one.pmk, one.key), ssid, one.key) for one in remade],
    )


class Share(NamedTuple):
    """Of all keys, those that one of several processes looks through: each `of`th, from `number` on."""

    number: int = 0
    of: int = 1


def count_made_for(conn: Connection, network: NetworkId, ssid: bytes, share: Share) -> int:
    row = conn.execute(
        "SELECT count(*) FROM passphrase_key WHERE network = ? AND ssid = ? AND id % ? = ?",
        (network, ssid, share.of, share.number),
    ).fetchone()
    return int(row[0])


def holding(
    conn: Connection, keys: KeyRing, network: NetworkId, now: float
) -> Iterator[tuple[KeyId, str, Grant]]:
    """All that hold, with what they lead to; in the order of their making."""
    rows = conn.execute(
        f"SELECT k.id, k.sealed, {GRANT} FROM passphrase_key k JOIN credential c ON c.id = k.credential"
        " JOIN batch b ON b.id = c.batch AND b.is_valid"
        " LEFT JOIN allowance w ON w.credential = c.id AND w.mac IS NULL"
        " WHERE k.network = ? AND (k.ends_at IS NULL OR k.ends_at > ?) ORDER BY k.id",
        (network, now),
    )
    for key, sealed, *grant in rows:
        text = keys.unseal(sealed, table="passphrase_key", column="sealed", row=key).decode()
        yield KeyId(key), text, read_grant(tuple(grant))


def pmks_after(
    conn: Connection, keys: KeyRing, network: NetworkId, ssid: bytes, after: KeyId, share: Share
) -> Iterable[tuple[KeyId, bytes]]:
    """In the order of their making, those of a share that were made for this SSID."""
    rows = conn.execute(
        "SELECT id, pmk_sealed FROM passphrase_key WHERE network = ? AND ssid = ? AND id > ? AND id % ? = ?"
        " ORDER BY id",
        (network, ssid, after, share.of, share.number),
    )
    for row, sealed in rows:
        yield KeyId(row), open_pmk(keys, sealed, row)


def pmk_of_device(
    conn: Connection, keys: KeyRing, mac: Mac, network: NetworkId, ssid: bytes
) -> tuple[KeyId, bytes] | None:
    """The key that a device joined with last, and its PMK, if one was made for this SSID."""
    row = conn.execute(
        "SELECT k.id, k.pmk_sealed FROM key_device d JOIN passphrase_key k ON k.id = d.key"
        " WHERE d.mac = ? AND d.network = ? AND k.ssid = ?",
        (mac, network, ssid),
    ).fetchone()
    if row is None:
        return None
    key, sealed = row
    return KeyId(key), open_pmk(keys, sealed, key)


def seal_pmk(keys: KeyRing, pmk: bytes, key: int) -> bytes:
    return keys.seal(pmk, table="passphrase_key", column="pmk_sealed", row=key)


def open_pmk(keys: KeyRing, sealed: bytes, key: int) -> bytes:
    return keys.unseal(sealed, table="passphrase_key", column="pmk_sealed", row=key)


def _hash(keys: KeyRing, network: NetworkId, text: str) -> bytes:
    return keys.lookup_hash(f"passphrase {network} {text}")


def _read(keys: KeyRing, row: Sequence[Any]) -> HolderKey:
    key, credential, network, sealed, *moments = row
    text = keys.unseal(sealed, table="passphrase_key", column="sealed", row=key).decode()
    return HolderKey(KeyId(key), CredentialId(credential), NetworkId(network), text, *moments)
