"""Placements: the role that a device was really given for an admission, from when to when."""

from dataclasses import dataclass
from sqlite3 import Connection
from typing import Any

from lauschen.core.decide.grant import Grant
from lauschen.core.ids import AccessDeviceId, AdmissionId, Mac, NetworkId, RoleId
from lauschen.store.allowances import GRANT, read_grant


@dataclass(slots=True)
class Charged:
    """A placement: what a device uses from when to when is charged to the allowance of its admission."""

    grant: Grant
    is_open: bool
    """The admission goes on."""
    placed_from: float
    placed_until: float
    """Far away while it is there."""


_CHARGED = (
    f"SELECT a.ended IS NULL, p.begun, coalesce(p.ended, 1e15), {GRANT} FROM placement p"
    " JOIN admission a ON a.id = p.admission JOIN allowance w ON w.id = a.allowance"
    " JOIN credential c ON c.id = w.credential WHERE p.mac = ? AND p.network = ?"
)


def newest_placement(conn: Connection, mac: Mac, network: NetworkId) -> Charged | None:
    """Where a device was placed last, by whatever admission."""
    sql = f"{_CHARGED} ORDER BY p.begun DESC, p.id DESC LIMIT 1"
    row = conn.execute(sql, (mac, network)).fetchone()
    return None if row is None else _charged(row)


def placements_after(conn: Connection, mac: Mac, network: NetworkId, since: float) -> list[Charged]:
    """Newest first, down to the one that was there at `since`."""
    found = []
    for row in conn.execute(f"{_CHARGED} ORDER BY p.begun DESC, p.id DESC", (mac, network)):
        charged = _charged(row)
        if charged.placed_until > since:
            found.append(charged)
        if charged.placed_from <= since:
            break
    return found


def _charged(row: tuple[Any, ...]) -> Charged:
    is_open, placed_from, placed_until, *grant = row
    return Charged(read_grant(grant), bool(is_open), placed_from, placed_until)


def end_placement(conn: Connection, mac: Mac, network: NetworkId, now: float) -> None:
    """The device is no longer where an admission had placed it: heard, not merely wished."""
    conn.execute(
        "UPDATE placement SET ended = ? WHERE mac = ? AND network = ? AND ended IS NULL", (now, mac, network)
    )


def reopen_placement(
    conn: Connection, mac: Mac, network: NetworkId, role: RoleId, admission: AdmissionId
) -> bool:
    """The device's newest placement was only thought to be over; False when that was another one."""
    return (
        conn.execute(
            "UPDATE placement SET ended = NULL WHERE role = ? AND admission = ? AND id ="
            " (SELECT id FROM placement WHERE mac = ? AND network = ? ORDER BY begun DESC, id DESC LIMIT 1)",
            (role, admission, mac, network),
        ).rowcount
        == 1
    )


def place(
    conn: Connection,
    *,
    mac: Mac,
    network: NetworkId,
    access_device: AccessDeviceId,
    role: RoleId,
    admission: AdmissionId,
    now: float,
) -> None:
    """Ends the device's placement before and begins this one."""
    end_placement(conn, mac, network, now)
    conn.execute(
        "INSERT INTO placement (mac, network, access_device, role, admission, begun) VALUES (?, ?, ?, ?, ?, ?)",
        (mac, network, access_device, role, admission, now),
    )
