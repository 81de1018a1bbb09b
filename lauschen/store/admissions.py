"""Admissions: that a device got in, and by which allowance. They outlive a lost connection."""

import json
from collections.abc import Mapping
from sqlite3 import Connection

from lauschen.core.decide.reason import Reason
from lauschen.core.ids import AdmissionId, AllowanceId, CredentialId, Mac, NetworkId, StaffId
from lauschen.core.limits.seats import Seats

HOLDER = (
    "CASE WHEN c.way = 'passphrase' THEN (SELECT p.name FROM passphrase p WHERE p.credential = c.id)"
    " WHEN b.size = 1 THEN b.label || iif(c.way = 'self_registration' AND NOT EXISTS"
    " (SELECT 1 FROM registration r WHERE r.credential = c.id AND r.confirmed_at IS NOT NULL), ', unconfirmed', '')"
    " ELSE coalesce(json_extract(a.offered, '$.name'), json_extract(a.offered, '$.mail')) || ', unconfirmed' END"
)
"""Whose an admission `a` by something of a batch `b` is: for whom it was issued, or who the guest says to be."""
_HAS_SEAT = "ended IS NULL AND seat_since IS NOT NULL"
_IS_OFF = (
    "EXISTS (SELECT 1 FROM key_device d JOIN passphrase_key o ON o.id = d.key WHERE d.mac = a.mac"
    " AND d.network = a.network AND d.removed_at IS NOT NULL AND o.credential = {credential})"
)
"""The device of an admission `a` was taken off the passphrase that it joined by: it makes room for another."""
_EVER = "SELECT count(DISTINCT a.mac) FROM admission a WHERE a.allowance = {allowance} AND NOT " + _IS_OFF
SEATS_TAKEN = (
    f"CASE c.seats WHEN '{Seats.EVER}' THEN ({_EVER.format(allowance='w.id', credential='c.id')})"
    f" ELSE (SELECT coalesce(sum(seats), 0) FROM admission WHERE allowance = w.id AND {_HAS_SEAT}) END"
)
"""Of a credential `c` whose devices share the allowance `w`; as `seats_taken` and `devices_ever` count for one."""


def add_admission(
    conn: Connection,
    *,
    mac: Mac,
    network: NetworkId,
    allowance: AllowanceId,
    token: str,
    now: float,
    offered: Mapping[str, str | int] | None = None,
) -> AdmissionId:
    """Takes one of the allowance's seats at once (rulings 4.8). `offered`: what is kept of how it came in."""
    row = conn.execute(
        "INSERT INTO admission (mac, network, allowance, token, begun, seat_since, offered)"
        " VALUES (?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (mac, network, allowance, token, now, now, json.dumps(offered) if offered else None),
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


def in_by(conn: Connection, allowance: AllowanceId, but: Mac) -> list[tuple[Mac, NetworkId]]:
    """Return the other devices that are in by this allowance."""
    return conn.execute(
        "SELECT mac, network FROM admission INDEXED BY admission_open"
        " WHERE allowance = ? AND ended IS NULL AND mac <> ? ORDER BY id",
        (allowance, but),
    ).fetchall()


def seats_taken(conn: Connection, allowance: AllowanceId, mac: Mac) -> int:
    """Other devices that use this allowance now."""
    return _count(
        conn,
        f"SELECT coalesce(sum(seats), 0) FROM admission WHERE allowance = ? AND {_HAS_SEAT} AND mac <> ?",
        allowance,
        mac,
    )


def devices_ever(conn: Connection, allowance: AllowanceId, mac: Mac) -> int:
    """Other devices that were let in by this allowance, as far as their admissions are kept."""
    credential = "(SELECT credential FROM allowance WHERE id = ?1)"
    sql = f"{_EVER.format(allowance='?1', credential=credential)} AND a.mac <> ?2"
    return _count(conn, sql, allowance, mac)


def _count(conn: Connection, sql: str, allowance: AllowanceId, mac: Mac) -> int:
    return int(conn.execute(sql, (allowance, mac)).fetchone()[0])


def set_seats(conn: Connection, mac: Mac, network: NetworkId, seats: int) -> None:
    """How many devices seem to have this MAC address: each of them takes a seat."""
    conn.execute(
        "UPDATE admission SET seats = ? WHERE mac = ? AND network = ? AND ended IS NULL AND seats <> ?",
        (seats, mac, network, seats),
    )


def take_seat(conn: Connection, admission: AdmissionId, now: float) -> None:
    conn.execute("UPDATE admission SET seat_since = ? WHERE id = ? AND seat_since IS NULL", (now, admission))


def free_seat(conn: Connection, admission: AdmissionId) -> None:
    conn.execute("UPDATE admission SET seat_since = NULL WHERE id = ?", (admission,))


def free_seats_without_stay(conn: Connection, taken_after: float, taken_before: float, at_most: int) -> float:
    """Free the seats of devices that never began a stay after they were let in (rulings 4.8: two minutes).

    Looks at the next `at_most` seats that were taken after a moment; returns the moment to go on from, 0 at the end.
    """
    rows = conn.execute(
        "SELECT a.id, a.seat_since, EXISTS (SELECT 1 FROM stay s INDEXED BY stay_open WHERE s.mac = a.mac"
        " AND s.ended IS NULL) FROM admission a INDEXED BY admission_seat"
        " WHERE a.seat_since > ? AND a.seat_since < ? ORDER BY a.seat_since LIMIT ?",
        (taken_after, taken_before, at_most),
    ).fetchall()
    free = [(id,) for id, _, has_stay in rows if not has_stay]
    conn.executemany("UPDATE admission SET seat_since = NULL WHERE id = ?", free)
    return float(rows[-1][1]) if len(rows) == at_most else 0.0


def newest_end(conn: Connection, mac: Mac, network: NetworkId) -> tuple[Reason, float] | None:
    """How and when the device's newest admission ended; None while it goes on, or when there was none."""
    row = conn.execute(
        "SELECT end_reason, ended FROM admission WHERE mac = ? AND network = ? ORDER BY begun DESC LIMIT 1",
        (mac, network),
    ).fetchone()
    if row is None:
        return None
    reason, ended = row
    return None if ended is None else (Reason(reason), ended)


def holder_at(conn: Connection, mac: Mac, at: float) -> str:
    """For whom that was issued by which a device was in at that moment; empty when for nobody by name."""
    row = conn.execute(
        f"SELECT {HOLDER} FROM admission a JOIN allowance w ON w.id = a.allowance"
        " JOIN credential c ON c.id = w.credential LEFT JOIN batch b ON b.id = c.batch"
        " WHERE a.mac = ? AND a.begun <= ? AND (a.ended IS NULL OR a.ended >= ?) ORDER BY a.begun DESC LIMIT 1",
        (mac, at, at),
    ).fetchone()
    return "" if row is None or row[0] is None else str(row[0])


def last_in_by(conn: Connection, mac: Mac, network: NetworkId) -> tuple[CredentialId | None, StaffId | None]:
    """What a device is in by, or was last, and who issued it, if a person did."""
    row = conn.execute(
        "SELECT w.credential, b.issued_by FROM admission a JOIN allowance w ON w.id = a.allowance"
        " LEFT JOIN credential c ON c.id = w.credential LEFT JOIN batch b ON b.id = c.batch"
        " WHERE a.id = (SELECT id FROM admission WHERE mac = ? AND network = ? ORDER BY begun DESC LIMIT 1)",
        (mac, network),
    ).fetchone()
    if row is None:
        return None, None
    credential, issuer = row
    return credential, issuer


def agreements(conn: Connection, mac: Mac, network: NetworkId, at_most: int) -> list[tuple[float, int, str]]:
    """When a device's guest agreed to the house rules, to which version, and in which language; newest first."""
    rows = conn.execute(
        "SELECT begun, json_extract(offered, '$.rules'), json_extract(offered, '$.lang') FROM admission"
        " WHERE mac = ? AND network = ? AND json_extract(offered, '$.rules') IS NOT NULL ORDER BY begun DESC LIMIT ?",
        (mac, network, at_most),
    )
    return [(at, version, lang) for at, version, lang in rows]
