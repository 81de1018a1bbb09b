"""Access devices with their sealed secrets, and what was last heard of each."""

from collections.abc import Iterable
from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.config.access_device import AccessDevice
from lauschen.core.errors import Invalid
from lauschen.core.ids import AccessDeviceId, DialectId, NetworkId
from lauschen.store.db import insert
from lauschen.store.keys import KeyRing


@dataclass(frozen=True, slots=True)
class HeardFrom:
    """The last verified packet of an access device, by the address that it came from."""

    access_device: AccessDeviceId
    source: str
    last_heard: float
    uses_old_secret: bool
    was_signed: bool


def load_access_devices(conn: Connection, keys: KeyRing) -> list[AccessDevice]:
    def unseal(column: str, row: int, sealed: bytes) -> bytes:
        return keys.unseal(sealed, table="access_device", column=column, row=row)

    serves = _load_serves(conn)
    return [
        AccessDevice(
            AccessDeviceId(row),
            name,
            address,
            unseal("secret_sealed", row, sealed),
            dialect,
            coa_port,
            coa_address,
            unseal("old_secret_sealed", row, old) if old is not None else None,
            bool(hears_unsigned),
            tls_identity,
            serves.get(AccessDeviceId(row), frozenset()),
        )
        for row, name, address, sealed, old, dialect, coa_port, coa_address, hears_unsigned, tls_identity in (
            conn.execute(
                "SELECT id, name, address, secret_sealed, old_secret_sealed, dialect, coa_port, coa_address,"
                " hears_unsigned, tls_identity FROM access_device"
            )
        )
    ]


def add_access_device(
    conn: Connection,
    keys: KeyRing,
    name: str,
    *,
    address: str,
    secret: bytes,
    dialect: DialectId,
    coa_port: int = 3799,
    coa_address: str | None = None,
    tls_identity: str | None = None,
    serves: Iterable[NetworkId] = (),
) -> AccessDeviceId:
    """The secret is sealed into the row that it belongs to."""
    row = insert(
        conn,
        "access_device",
        "address",
        "INSERT INTO access_device (name, address, secret_sealed, dialect, coa_port, coa_address, tls_identity)"
        " VALUES (?, ?, x'', ?, ?, ?, ?)",
        (name, address, dialect, coa_port, coa_address, tls_identity),
    )
    _seal(conn, keys, row, "secret_sealed", secret)
    save_serves(conn, AccessDeviceId(row), serves)
    return AccessDeviceId(row)


def save_access_device(conn: Connection, device: AccessDevice) -> None:
    """Writes all but the secrets."""
    changed = insert(
        conn,
        "access_device",
        "address",
        "UPDATE access_device SET name = ?, address = ?, dialect = ?, coa_port = ?, coa_address = ?,"
        " hears_unsigned = ?, tls_identity = ? WHERE id = ?",
        (
            device.name,
            device.address,
            device.dialect,
            device.coa_port,
            device.coa_address,
            int(device.hears_unsigned),
            device.tls_identity,
            device.id,
        ),
    )
    assert changed == device.id
    save_serves(conn, device.id, device.serves)


def save_serves(conn: Connection, device: AccessDeviceId, networks: Iterable[NetworkId]) -> None:
    """The networks that it may ask for, all of them; what it asked for in vain and may now is forgotten."""
    conn.execute("DELETE FROM serves WHERE access_device = ?", (device,))
    rows = [(device, network) for network in networks]
    conn.executemany("INSERT INTO serves (access_device, network) VALUES (?, ?)", rows)
    conn.executemany("DELETE FROM not_served WHERE access_device = ? AND network = ?", rows)


def change_secret(conn: Connection, keys: KeyRing, device: AccessDevice, secret: bytes) -> None:
    """The new one counts from now; the one until now is heard too, until it is forgotten."""
    _seal(conn, keys, device.id, "old_secret_sealed", device.secret)
    _seal(conn, keys, device.id, "secret_sealed", secret)


def forget_old_secret(conn: Connection, device: AccessDeviceId) -> None:
    conn.execute("UPDATE access_device SET old_secret_sealed = NULL WHERE id = ?", (device,))


def add_serves(conn: Connection, device: AccessDeviceId, network: NetworkId) -> None:
    """It may ask for this network, too."""
    values = device, network
    conn.execute("INSERT OR IGNORE INTO serves (access_device, network) VALUES (?, ?)", values)
    conn.execute("DELETE FROM not_served WHERE access_device = ? AND network = ?", values)


def signing_seen(conn: Connection, device: AccessDeviceId) -> None:
    """The first validly signed packet ends the exception for old firmware by itself (rulings 3.2)."""
    conn.execute("UPDATE access_device SET hears_unsigned = 0 WHERE id = ?", (device,))


def remove_access_device(conn: Connection, device: AccessDeviceId) -> None:
    """Invalid while a network is recognised by it, or counted at it."""
    used = conn.execute(
        "SELECT name FROM network WHERE access_device = ?1 OR counted_at = ?1", (device,)
    ).fetchone()
    if used is not None:
        raise Invalid(
            "access_device_in_use", field="name", mend=f"The network {used[0]} names it; change that first."
        )
    conn.execute("DELETE FROM access_device WHERE id = ?", (device,))


def note_heard_from(conn: Connection, heard: Iterable[HeardFrom]) -> None:
    conn.executemany(
        "INSERT INTO device_heard (access_device, source, last_heard, uses_old_secret, was_signed)"
        " SELECT ?1, ?2, ?3, ?4, ?5 WHERE EXISTS (SELECT 1 FROM access_device WHERE id = ?1)"
        " ON CONFLICT (access_device, source) DO UPDATE SET last_heard = excluded.last_heard,"
        " uses_old_secret = excluded.uses_old_secret, was_signed = excluded.was_signed",
        [(h.access_device, h.source, h.last_heard, int(h.uses_old_secret), int(h.was_signed)) for h in heard],
    )


def heard_from(conn: Connection) -> list[HeardFrom]:
    return [
        HeardFrom(AccessDeviceId(device), source, at, bool(old), bool(signed))
        for device, source, at, old, signed in conn.execute(
            "SELECT access_device, source, last_heard, uses_old_secret, was_signed FROM device_heard"
        )
    ]


def _load_serves(conn: Connection) -> dict[AccessDeviceId, frozenset[NetworkId]]:
    found: dict[AccessDeviceId, set[NetworkId]] = {}
    for device, network in conn.execute("SELECT access_device, network FROM serves"):
        found.setdefault(AccessDeviceId(device), set()).add(NetworkId(network))
    return {device: frozenset(networks) for device, networks in found.items()}


@dataclass(frozen=True, slots=True)
class NotServed:
    """What an access device asked for in vain: a network that it does not serve."""

    access_device: AccessDeviceId
    network: NetworkId
    first_at: float
    last_at: float
    packets: int


def note_not_served(conn: Connection, device: AccessDeviceId, network: NetworkId, now: float) -> None:
    conn.execute(
        "INSERT INTO not_served (access_device, network, first_at, last_at, packets) VALUES (?1, ?2, ?3, ?3, 1)"
        " ON CONFLICT (access_device, network) DO UPDATE SET last_at = excluded.last_at, packets = packets + 1",
        (device, network, now),
    )


def not_served_since(conn: Connection, since: float, at_most: int) -> list[NotServed]:
    """Return the newest first."""
    rows = conn.execute(
        "SELECT access_device, network, first_at, last_at, packets FROM not_served WHERE last_at >= ?"
        " ORDER BY last_at DESC LIMIT ?",
        (since, at_most),
    )
    return [NotServed(*row) for row in rows]


def _seal(conn: Connection, keys: KeyRing, row: int, column: str, secret: bytes) -> None:
    sealed = keys.seal(secret, table="access_device", column=column, row=row)
    conn.execute(f"UPDATE access_device SET {column} = ? WHERE id = ?", (sealed, row))
