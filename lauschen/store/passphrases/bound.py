"""Which device joined with which key, and which keys its access point was given to try."""

import json
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from sqlite3 import Connection
from typing import Any

from lauschen.core.decide.grant import Grant
from lauschen.core.ids import AccessDeviceId, CredentialId, KeyId, Mac, NetworkId
from lauschen.core.passphrases.trial import Trial
from lauschen.store.admissions import SEATS_TAKEN
from lauschen.store.allowances import GRANT, read_grant
from lauschen.store.keys import KeyRing

WALKED = 300
"""Keys of each kind that are looked at for one request."""
MOST_SHOWN = 100
"""Devices of one holder."""


def bind(
    conn: Connection, mac: Mac, network: NetworkId, key: KeyId, place: AccessDeviceId, now: float
) -> None:
    """From now on this device has this key."""
    is_new = conn.execute(
        "INSERT INTO key_device (mac, network, key, bound_at) VALUES (?, ?, ?, ?)"
        " ON CONFLICT (mac, network) DO UPDATE SET key = excluded.key, bound_at = excluded.bound_at,"
        " removed_at = NULL WHERE key <> excluded.key",
        (mac, network, key, now),
    ).rowcount
    if is_new:
        conn.execute(
            "UPDATE passphrase_key SET joined_at = ?, joined_where = ? WHERE id = ?", (now, place, key)
        )
    conn.execute("DELETE FROM key_trial WHERE mac = ? AND network = ?", (mac, network))


def set_removed(conn: Connection, mac: Mac, network: NetworkId, at: float | None) -> None:
    """It may not join by the key that it has any more; None: it may again."""
    conn.execute("UPDATE key_device SET removed_at = ? WHERE mac = ? AND network = ?", (at, mac, network))


@dataclass(frozen=True, slots=True)
class BoundDevice:
    """A device that joined with a key of somebody's."""

    mac: Mac
    key: KeyId
    credential: CredentialId
    bound_at: float
    removed_at: float | None
    """Since when it may not join by that key any more."""


_BOUND = (
    "SELECT d.mac, d.key, k.credential, d.bound_at, d.removed_at"
    " FROM passphrase_key k JOIN key_device d ON d.key = k.id WHERE "
)


def find_bound(conn: Connection, mac: Mac, network: NetworkId) -> BoundDevice | None:
    """With which key a device joined last, and whose that is."""
    row = conn.execute(f"{_BOUND} d.mac = ? AND d.network = ?", (mac, network)).fetchone()
    return None if row is None else BoundDevice(*row)


def devices_of(conn: Connection, credential: CredentialId) -> list[BoundDevice]:
    """The newest first, and not more than somebody looks through."""
    rows = conn.execute(
        f"{_BOUND} k.credential = ? ORDER BY d.bound_at DESC LIMIT ?", (credential, MOST_SHOWN)
    )
    return [BoundDevice(*row) for row in rows]


@dataclass(frozen=True, slots=True)
class Likely:
    """A key that an unknown device may have, with what it leads to."""

    key: KeyId
    sealed: bytes
    grant: Grant
    seats_taken: int

    def text(self, keys: KeyRing) -> str:
        return keys.unseal(self.sealed, table="passphrase_key", column="sealed", row=self.key).decode()


_UNUSED = "network = ?1 AND joined_at IS NULL ORDER BY id DESC"
_HERE = "network = ?1 AND joined_where = ?2 AND joined_at IS NOT NULL ORDER BY joined_at DESC"
_ANYWHERE = "network = ?1 AND joined_at IS NOT NULL ORDER BY joined_at DESC"
_LIKELY = f"SELECT k.id, k.sealed, {SEATS_TAKEN}, {GRANT} FROM"
_LEADS = (
    " JOIN credential c ON c.id = k.credential JOIN batch b ON b.id = c.batch AND b.is_valid"
    " LEFT JOIN allowance w ON w.credential = c.id AND w.mac IS NULL"
)


def likely_keys(conn: Connection, network: NetworkId, place: AccessDeviceId, now: float) -> Iterator[Likely]:
    """Keys that hold and that an unknown device may have, the likeliest first.

    First those that no device joined with yet, the newest before others; then those that another device joined with
    last at this access device; then at any. Not all: some hundreds of each kind are looked at.
    """
    seen: set[int] = set()
    for which in (_UNUSED, _HERE, _ANYWHERE):
        rows = conn.execute(
            f"{_LIKELY} (SELECT * FROM passphrase_key WHERE (ends_at IS NULL OR ends_at > ?3) AND {which}"
            f" LIMIT {WALKED}) k {_LEADS}",
            (network, place, now),
        )
        for row in rows:
            if row[0] not in seen:
                seen.add(row[0])
                yield _likely(row)


def likely_of(conn: Connection, key: KeyId, now: float) -> Likely | None:
    """One of them; None when it does not hold any more."""
    row = conn.execute(
        f"{_LIKELY} passphrase_key k {_LEADS} WHERE k.id = ? AND (k.ends_at IS NULL OR k.ends_at > ?)",
        (key, now),
    ).fetchone()
    return None if row is None else _likely(row)


def _likely(row: tuple[Any, ...]) -> Likely:
    key, sealed, seats_taken, *grant = row
    return Likely(KeyId(key), sealed, read_grant(grant), seats_taken)


def find_trial(conn: Connection, mac: Mac, network: NetworkId) -> Trial | None:
    row = conn.execute(
        "SELECT keys, offered, joined_at IS NOT NULL, passed FROM key_trial WHERE mac = ? AND network = ?",
        (mac, network),
    ).fetchone()
    if row is None:
        return None
    tried, offered, has_joined, passed = row
    return Trial(tuple(KeyId(key) for key in json.loads(tried)), offered, bool(has_joined), passed)


def save_trial(conn: Connection, mac: Mac, network: NetworkId, trial: Trial, now: float) -> None:
    conn.execute(
        "INSERT INTO key_trial (mac, network, keys, offered, passed, asked_at) VALUES (?, ?, ?, ?, ?, ?)"
        " ON CONFLICT (mac, network) DO UPDATE SET keys = excluded.keys, offered = excluded.offered,"
        " passed = excluded.passed, asked_at = excluded.asked_at, joined_at = NULL",
        (mac, network, json.dumps(trial.keys), trial.offered, trial.passed, now),
    )


def note_joined(conn: Connection, mac: Mac, network: NetworkId, now: float) -> None:
    """It joined, with one of the keys that its access point was given."""
    conn.execute(
        "UPDATE key_trial SET joined_at = coalesce(joined_at, ?) WHERE mac = ? AND network = ?",
        (now, mac, network),
    )


def inside_at(conn: Connection, network: NetworkId, place: AccessDeviceId) -> list[Mac]:
    """Devices with a key that are inside at an access device."""
    rows = conn.execute(
        "SELECT s.mac FROM standing s INDEXED BY standing_by_place"
        " CROSS JOIN key_device d ON d.mac = s.mac AND d.network = s.network"
        " WHERE s.network = ? AND s.access_device = ? AND s.state = 'inside'",
        (network, place),
    )
    return [Mac(row[0]) for row in rows]


def inside_by_ended(conn: Connection, since: float, now: float, at_most: int) -> list[tuple[Mac, NetworkId]]:
    """Devices that are in still by a key that ended after `since`."""
    return conn.execute(
        "SELECT d.mac, d.network FROM passphrase_key k INDEXED BY passphrase_key_ending"
        " CROSS JOIN key_device d ON d.key = k.id"
        " CROSS JOIN standing s ON s.mac = d.mac AND s.network = d.network AND s.admission IS NOT NULL"
        " WHERE k.ends_at <= ? AND k.ends_at > ? LIMIT ?",
        (now, since, at_most),
    ).fetchall()


def macs_by_key(conn: Connection, keys: Sequence[KeyId]) -> list[tuple[Mac, NetworkId]]:
    """Devices that joined with one of these."""
    marks = ", ".join("?" * len(keys))
    return conn.execute(f"SELECT mac, network FROM key_device WHERE key IN ({marks})", keys).fetchall()
