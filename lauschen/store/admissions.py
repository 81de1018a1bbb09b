"""Admissions (that a device got in by a credential) and placements (the role it was really given)."""

from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import AccessDeviceId, AdmissionId, CredentialId, Mac, NetworkId, RoleId
from lauschen.core.limits import Use
from lauschen.core.picture import CredentialFacts, Reason


@dataclass(slots=True)
class Charged:
    """The admission that octets are charged to, and from when to when its device really was inside."""

    credential: CredentialFacts
    is_open: bool
    placed_from: float
    placed_until: float
    """Far away while it is there."""


def add_admission(
    conn: Connection, *, mac: Mac, network: NetworkId, credential: CredentialId, token: str, now: float
) -> AdmissionId:
    """Takes one of the credential's seats at once (rulings 4.8)."""
    row = conn.execute(
        "INSERT INTO admission (mac, network, credential, token, begun, seat_since) VALUES (?, ?, ?, ?, ?, ?)"
        " RETURNING id",
        (mac, network, credential, token, now, now),
    ).fetchone()
    return AdmissionId(row[0])


def end_admission(conn: Connection, admission: AdmissionId, reason: Reason, now: float) -> None:
    conn.execute(
        "UPDATE admission SET ended = ?, end_reason = ?, seat_since = NULL WHERE id = ? AND ended IS NULL",
        (now, reason, admission),
    )


def end_admissions_of(conn: Connection, network: NetworkId, reason: Reason, now: float) -> None:
    """Those that outlived their stays."""
    conn.execute(
        "UPDATE admission SET ended = ?, end_reason = ?, seat_since = NULL WHERE network = ? AND ended IS NULL",
        (now, reason, network),
    )


def seats_taken(conn: Connection, credential: CredentialId, mac: Mac) -> int:
    """Other devices that use this credential now."""
    row = conn.execute(
        "SELECT count(*) FROM admission WHERE credential = ? AND ended IS NULL AND seat_since IS NOT NULL"
        " AND mac <> ?",
        (credential, mac),
    ).fetchone()
    return int(row[0])


def take_seat(conn: Connection, admission: AdmissionId, now: float) -> None:
    conn.execute("UPDATE admission SET seat_since = ? WHERE id = ? AND seat_since IS NULL", (now, admission))


def free_seat(conn: Connection, admission: AdmissionId) -> None:
    conn.execute("UPDATE admission SET seat_since = NULL WHERE id = ?", (admission,))


def free_seats_without_stay(conn: Connection, taken_before: float, at_most: int) -> int:
    """Seats of devices that never began a stay after they were let in (rulings 4.8: two minutes)."""
    return conn.execute(
        "UPDATE admission SET seat_since = NULL WHERE id IN (SELECT a.id FROM admission a"
        " WHERE a.ended IS NULL AND a.seat_since < ?"
        " AND NOT EXISTS (SELECT 1 FROM stay s WHERE s.mac = a.mac AND s.ended IS NULL) LIMIT ?)",
        (taken_before, at_most),
    ).rowcount


def charged_admission(conn: Connection, mac: Mac, network: NetworkId) -> Charged | None:
    """The newest admission of a device that was ever placed by it."""
    row = conn.execute(
        "SELECT a.ended IS NULL, (SELECT min(begun) FROM placement WHERE admission = a.id),"
        " (SELECT max(coalesce(ended, 1e15)) FROM placement WHERE admission = a.id),"
        " c.id, c.plan, c.issued_at, c.first_used, c.octets, c.given_seconds, c.given_octets, c.withdrawn_at"
        " FROM admission a JOIN credential c ON c.id = a.credential"
        " WHERE a.mac = ? AND a.network = ? ORDER BY a.begun DESC LIMIT 1",
        (mac, network),
    ).fetchone()
    if row is None or row[1] is None:
        return None
    facts = CredentialFacts(row[3], row[4], Use(*row[5:]))
    return Charged(facts, bool(row[0]), row[1], row[2])


def end_placement(conn: Connection, mac: Mac, network: NetworkId, now: float) -> None:
    """The device is no longer where an admission had placed it: heard, not merely wished."""
    conn.execute(
        "UPDATE placement SET ended = ? WHERE mac = ? AND network = ? AND ended IS NULL", (now, mac, network)
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
    conn.execute("UPDATE placement SET ended = ? WHERE admission = ? AND ended IS NULL", (now, admission))
    conn.execute(
        "INSERT INTO placement (mac, network, access_device, role, admission, begun) VALUES (?, ?, ?, ?, ?, ?)",
        (mac, network, access_device, role, admission, now),
    )
