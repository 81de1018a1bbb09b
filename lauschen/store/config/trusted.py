"""What is let in always."""

from collections.abc import Sequence
from sqlite3 import Connection

from lauschen.core.ids import CredentialId, Mac, RoleId, TrustedId
from lauschen.core.ways.always import Trusted
from lauschen.store.db import insert


def load_trusted(conn: Connection) -> list[Trusted]:
    rows = conn.execute("SELECT id, name, role, mac, access_device, port FROM trusted ORDER BY id")
    return [Trusted(*row) for row in rows]


def add_trusted(conn: Connection, one: Trusted) -> TrustedId:
    """Its id is given here; Invalid when the same is trusted already."""
    sql = "INSERT INTO trusted (name, role, mac, access_device, port) VALUES (?, ?, ?, ?, ?)"
    values = (one.name, one.role, one.mac, one.access_device, one.port)
    return TrustedId(insert(conn, "trusted", "mac" if one.mac is not None else "port", sql, values))


def save_trusted(conn: Connection, one: TrustedId, name: str, role: RoleId | None) -> None:
    """What it is called and where it is placed; whoever is in by it is placed so too."""
    conn.execute("UPDATE trusted SET name = ?, role = ? WHERE id = ?", (name, role, one))
    conn.execute("UPDATE credential SET role = ? WHERE trusted = ?", (role, one))


def remove_trusted(conn: Connection, one: TrustedId) -> None:
    """What was issued by it is kept, and stands for nobody any more."""
    conn.execute("UPDATE credential SET trusted = NULL WHERE trusted = ?", (one,))
    conn.execute("DELETE FROM trusted WHERE id = ?", (one,))


def credentials_by(conn: Connection, one: TrustedId) -> list[CredentialId]:
    """What was issued at the door by it and is not withdrawn."""
    sql = "SELECT id FROM credential WHERE trusted = ? AND withdrawn_at IS NULL"
    return [CredentialId(row[0]) for row in conn.execute(sql, (one,))]


def reconsider_soon(conn: Connection, macs: Sequence[Mac], now: float) -> None:
    """Devices that are here are looked at in the next turn."""
    sql = "UPDATE standing SET reconsider_at = ? WHERE mac = ? AND state <> 'left'"
    conn.executemany(sql, [(now, mac) for mac in macs])


def reconsider_by(conn: Connection, one: TrustedId, now: float) -> None:
    """Whoever is in by it is looked at in the next turn."""
    conn.execute(
        "UPDATE standing SET reconsider_at = ? WHERE state <> 'left' AND (mac, network) IN (SELECT a.mac, a.network"
        " FROM credential c INDEXED BY credential_trusted CROSS JOIN allowance w ON w.credential = c.id"
        " CROSS JOIN admission a ON a.allowance = w.id AND a.ended IS NULL WHERE c.trusted = ?)",
        (now, one),
    )
