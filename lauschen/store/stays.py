"""Stays: one uninterrupted presence of one device, kept from accounting."""

from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.counters import Count
from lauschen.core.ids import AccessDeviceId, Mac, NetworkId, StayId


@dataclass(slots=True)
class Stay:
    """Counters are octets; *in* is from the guest (rulings 5.2)."""

    id: StayId
    mac: Mac
    network: NetworkId | None
    access_device: AccessDeviceId
    nas_identifier: str
    session_id: str
    started: float
    last_event: float
    session_time: int
    octets_in: Count
    octets_out: Count
    saw_gigawords: bool
    framed_ip: str | None
    ended: float | None
    end_cause: str | None


_STAY = (
    "id, mac, network, access_device, nas_identifier, session_id, started, last_event, session_time, in_raw,"
    " in_octets, out_raw, out_octets, saw_gigawords, framed_ip, ended, end_cause"
)


def find_stay(
    conn: Connection, mac: Mac, session_id: str, access_device: AccessDeviceId, nas_identifier: str
) -> Stay | None:
    """The newest stay with this key, ended or not (access points use session ids again)."""
    rows = _stays(
        conn,
        "mac = ? AND session_id = ? AND access_device = ? AND nas_identifier = ? AND ended IS NULL"
        " ORDER BY started DESC LIMIT 1",
        (mac, session_id, access_device, nas_identifier),
    ) or _stays(
        conn,
        "mac = ? AND session_id = ? AND access_device = ? AND nas_identifier = ? ORDER BY started DESC LIMIT 1",
        (mac, session_id, access_device, nas_identifier),
    )
    return rows[0] if rows else None


def open_stay(conn: Connection, mac: Mac, session_id: str, access_device: AccessDeviceId) -> Stay | None:
    rows = _stays(
        conn,
        "mac = ? AND session_id = ? AND access_device = ? AND ended IS NULL ORDER BY started DESC LIMIT 1",
        (mac, session_id, access_device),
    )
    return rows[0] if rows else None


def stays_of(conn: Connection, mac: Mac, at_most: int) -> list[Stay]:
    """Newest first."""
    return _stays(conn, "mac = ? ORDER BY started DESC LIMIT ?", (mac, at_most))


def open_stays_at(conn: Connection, access_device: AccessDeviceId, begun_before: float) -> list[Stay]:
    return _stays(conn, "access_device = ? AND ended IS NULL AND started < ?", (access_device, begun_before))


def add_stay(conn: Connection, stay: Stay) -> StayId:
    """Stores a stay that just began; its id is given here."""
    row = conn.execute(
        "INSERT INTO stay (mac, network, access_device, nas_identifier, session_id, started, last_event,"
        " session_time, saw_gigawords, framed_ip) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (
            stay.mac,
            stay.network,
            stay.access_device,
            stay.nas_identifier,
            stay.session_id,
            stay.started,
            stay.last_event,
            stay.session_time,
            int(stay.saw_gigawords),
            stay.framed_ip,
        ),
    ).fetchone()
    stay.id = StayId(row[0])
    return stay.id


def save_report(conn: Connection, stay: Stay) -> None:
    """Writes what a report changes of a stay that goes on; no index is touched."""
    conn.execute(
        "UPDATE stay SET last_event=?, session_time=?, in_raw=?, in_octets=?, out_raw=?, out_octets=?,"
        " saw_gigawords=?, framed_ip=? WHERE id=?",
        (
            stay.last_event,
            stay.session_time,
            stay.octets_in.raw,
            stay.octets_in.total,
            stay.octets_out.raw,
            stay.octets_out.total,
            int(stay.saw_gigawords),
            stay.framed_ip,
            stay.id,
        ),
    )


def end_stay(conn: Connection, stay: Stay, at: float, cause: str) -> None:
    stay.ended, stay.end_cause = at, cause
    conn.execute("UPDATE stay SET ended = ?, end_cause = ? WHERE id = ?", (at, cause, stay.id))


def _stays(conn: Connection, which: str, values: tuple[object, ...]) -> list[Stay]:
    return [
        Stay(
            row[0],
            row[1],
            row[2],
            row[3],
            row[4],
            row[5],
            row[6],
            row[7],
            row[8],
            Count(row[9], row[10]),
            Count(row[11], row[12]),
            bool(row[13]),
            row[14],
            row[15],
            row[16],
        )
        for row in conn.execute(f"SELECT {_STAY} FROM stay WHERE {which}", values)
    ]
