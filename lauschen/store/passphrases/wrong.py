"""Devices that tried keys which nobody has, or which do not hold any more; counted by access device."""

from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import AccessDeviceId, KeyId, Mac, NetworkId


@dataclass(frozen=True, slots=True)
class WrongKey:
    """One device at one access device."""

    network: NetworkId
    mac: Mac
    access_device: AccessDeviceId
    tries: int
    first_at: float
    last_at: float
    holder: str | None
    """Whose key it is, or was; None: nobody has it."""
    ended_at: float | None
    """Since when that does not hold."""
    withdrawn_at: float | None
    """Since when all that was issued with it is withdrawn; likewise:"""
    paused_at: float | None


def count(
    conn: Connection, network: NetworkId, mac: Mac, place: AccessDeviceId, key: KeyId | None, now: float
) -> None:
    """One more try. `key`: the old one that it has, if it is one."""
    conn.execute(
        "INSERT INTO wrong_key (network, mac, access_device, key, tries, first_at, last_at)"
        " VALUES (?1, ?2, ?3, ?4, 1, ?5, ?5) ON CONFLICT (network, mac, access_device) DO UPDATE SET"
        " tries = tries + 1, last_at = excluded.last_at, key = excluded.key",
        (network, mac, place, key, now),
    )


def count_unseen(conn: Connection, network: NetworkId, mac: Mac, place: AccessDeviceId, now: float) -> None:
    """One more, of which nobody looked what key it was: after several wrong ones."""
    conn.execute(
        "UPDATE wrong_key SET tries = tries + 1, last_at = ? WHERE network = ? AND mac = ? AND access_device = ?",
        (now, network, mac, place),
    )


def forget_of(conn: Connection, mac: Mac, network: NetworkId) -> None:
    """It has a key that holds, now."""
    conn.execute("DELETE FROM wrong_key WHERE network = ? AND mac = ?", (network, mac))


def wrong_since(conn: Connection, since: float, at_most: int) -> list[WrongKey]:
    """The newest first."""
    return _read(conn, "w.last_at >= ?", (since, at_most))


def wrong_of(conn: Connection, mac: Mac) -> list[WrongKey]:
    return _read(conn, "w.mac = ?", (mac, 100))


def _read(conn: Connection, which: str, values: tuple[float, int]) -> list[WrongKey]:
    rows = conn.execute(
        "SELECT w.network, w.mac, w.access_device, w.tries, w.first_at, w.last_at, p.name, k.ends_at,"
        " c.withdrawn_at, c.paused_at"
        " FROM wrong_key w LEFT JOIN passphrase_key k ON k.id = w.key"
        " LEFT JOIN passphrase p ON p.credential = k.credential LEFT JOIN credential c ON c.id = k.credential"
        f" WHERE {which} ORDER BY w.last_at DESC LIMIT ?",
        values,
    )
    return [WrongKey(*row) for row in rows]
