"""Admissions (that a device got in by a credential) and placements (the role it was really given)."""

from collections.abc import Callable
from dataclasses import dataclass
from sqlite3 import Connection
from typing import Any

from lauschen.core.decide.picture import CredentialFacts
from lauschen.core.decide.reason import Reason
from lauschen.core.ids import AccessDeviceId, AdmissionId, CredentialId, Mac, NetworkId, RoleId
from lauschen.core.limits.left import Use
from lauschen.store.db import walk


@dataclass(slots=True)
class Charged:
    """A placement: what a device uses from when to when is charged to the credential of its admission."""

    credential: CredentialFacts
    is_open: bool
    """The admission goes on."""
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


Forget = Callable[[Connection, float, int, int], tuple[int, int]]
"""Of a connection, an instant, the id to go on from and a number of rows: how many went, and where to go on; 0 at the
end, which is where rows are newer than that."""


def forget_placements(conn: Connection, before: float, after: int, at_most: int) -> tuple[int, int]:
    """Retention: those that ended before, among the next rows in order of id."""
    return walk(conn, "placement", "begun", "ended < ?1", before, after, at_most)


def forget_admissions(conn: Connection, before: float, after: int, at_most: int) -> tuple[int, int]:
    """Those that ended before, and by which nothing is placed any more."""
    is_old = "ended < ?1 AND NOT EXISTS (SELECT 1 FROM placement p WHERE p.admission = admission.id)"
    return walk(conn, "admission", "begun", is_old, before, after, at_most)


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


_CHARGED = (
    "SELECT a.ended IS NULL, p.begun, coalesce(p.ended, 1e15), c.id, c.plan, c.issued_at, c.first_used, c.octets,"
    " c.given_seconds, c.given_octets, c.withdrawn_at, c.data_out_at"
    " FROM placement p JOIN admission a ON a.id = p.admission JOIN credential c ON c.id = a.credential"
    " WHERE p.mac = ? AND p.network = ?"
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
        if row[2] > since:
            found.append(_charged(row))
        if row[1] <= since:
            break
    return found


def newest_end(conn: Connection, mac: Mac, network: NetworkId) -> tuple[Reason, float] | None:
    """How and when the device's newest admission ended; None while it goes on, or when there was none."""
    row = conn.execute(
        "SELECT end_reason, ended FROM admission WHERE mac = ? AND network = ? ORDER BY begun DESC LIMIT 1",
        (mac, network),
    ).fetchone()
    return None if row is None or row[1] is None else (Reason(row[0]), row[1])


def _charged(row: tuple[Any, ...]) -> Charged:
    return Charged(CredentialFacts(row[3], row[4], Use(*row[5:])), bool(row[0]), row[1], row[2])


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
