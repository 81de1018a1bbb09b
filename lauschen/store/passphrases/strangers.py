"""New devices that an access device asked about by address, and the passphrases that it was given to try."""

from collections.abc import Iterable
from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import AccessDeviceId, KeyId, Mac, NetworkId

_HERE = "access_device = ? AND network = ?"


def note_asked(conn: Connection, place: AccessDeviceId, network: NetworkId, mac: Mac, now: float) -> None:
    """A device is tried on passphrases; it stays the same one while it is asked about again and again."""
    conn.execute(
        "INSERT INTO key_asked (access_device, network, mac, at) VALUES (?, ?, ?, ?)"
        " ON CONFLICT DO UPDATE SET at = excluded.at",
        (place, network, mac, now),
    )


def count_asked(conn: Connection, place: AccessDeviceId, network: NetworkId, since: float, but: Mac) -> int:
    """Return how many devices were tried there, not counting `but`."""
    sql = f"SELECT count(*) FROM key_asked INDEXED BY key_asked_by_time WHERE {_HERE} AND at > ? AND mac <> ?"
    return int(conn.execute(sql, (place, network, since, but)).fetchone()[0])


def note_shown(
    conn: Connection, place: AccessDeviceId, network: NetworkId, keys: Iterable[KeyId], now: float
) -> None:
    conn.executemany(
        "INSERT INTO key_shown (access_device, network, key, at) VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING",
        [(place, network, key, now) for key in keys],
    )


def shown_since(conn: Connection, place: AccessDeviceId, network: NetworkId, since: float) -> set[KeyId]:
    """Return the passphrases that went there; older ones are forgotten, and count when they go again."""
    conn.execute(f"DELETE FROM key_shown WHERE {_HERE} AND at <= ?", (place, network, since))
    rows = conn.execute(f"SELECT key FROM key_shown WHERE {_HERE}", (place, network))
    return {KeyId(row[0]) for row in rows}


@dataclass(frozen=True, slots=True)
class Busy:
    """An access device that asked about many new devices, or was given many passphrases."""

    access_device: AccessDeviceId
    network: NetworkId
    count: int


def asked_often(conn: Connection, since: float, at_least: int) -> list[Busy]:
    return _busy(conn, "key_asked", since, at_least)


def shown_often(conn: Connection, since: float, at_least: int) -> list[Busy]:
    return _busy(conn, "key_shown", since, at_least)


def _busy(conn: Connection, table: str, since: float, at_least: int) -> list[Busy]:
    rows = conn.execute(
        f"SELECT access_device, network, count(*) FROM {table} INDEXED BY {table}_ageing WHERE at > ?"
        " GROUP BY access_device, network HAVING count(*) >= ?",
        (since, at_least),
    )
    return [Busy(*row) for row in rows]
