"""New devices that an access device asked about by address, and the passphrases that it was given to try."""

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
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


class Limit(StrEnum):
    """Which limit an access device reached."""

    NEW_DEVICES = "new_devices"
    SHOWN = "shown"
    HANDSHAKES = "handshakes"


@dataclass(frozen=True, slots=True)
class Reached:
    """An access device that asked for more than it gets: by address, or by handshakes."""

    access_device: AccessDeviceId
    network: NetworkId
    what: Limit
    at: float


def note_reached(
    conn: Connection, place: AccessDeviceId, network: NetworkId, what: Limit, now: float
) -> None:
    conn.execute(
        "INSERT INTO key_limit (access_device, network, what, at) VALUES (?, ?, ?, ?)"
        " ON CONFLICT DO UPDATE SET at = excluded.at",
        (place, network, what, now),
    )


def reached_since(conn: Connection, since: float, at_most: int) -> list[Reached]:
    """Return the newest first."""
    rows = conn.execute(
        "SELECT access_device, network, what, at FROM key_limit WHERE at > ? ORDER BY at DESC LIMIT ?",
        (since, at_most),
    )
    return [Reached(place, network, Limit(what), at) for place, network, what, at in rows]
