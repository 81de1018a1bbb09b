"""Stays: one uninterrupted presence of one device, kept from accounting."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from sqlite3 import Connection
from typing import Any, NamedTuple

from lauschen.core.ids import AccessDeviceId, Mac, NetworkId, StayId
from lauschen.core.limits.counters import Count
from lauschen.core.limits.left import INTERIM_S


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
    root: StayId | None
    """The first stay of the presence that this one is part of; None when it is alone or the first."""
    multi_session_id: str | None
    user: str | None
    counts: bool
    """Its octets are charged; not so when another device reports the same traffic."""
    gap: float
    """Seconds between its last two reports."""
    bssid: str
    nas_address: str
    packets: int
    """As last reported, both ways: when they fall, the octets did not wrap."""
    octets_per_s: int = 0
    """Both ways, between its last two reports."""
    day: int = 0
    """On which it used something last: its number (`core.limits.day`); 0: never."""
    day_octets: int = 0
    """That count, both ways, of what it used on that day."""

    @property
    def length(self) -> float:
        """Seconds: what the device says, bounded by when it was heard (rulings 4.2)."""
        return min(self.session_time, self.last_event - self.started + LENGTH_SLACK_S)

    @property
    def two_intervals(self) -> float:
        """Seconds in which a device that is there is reported, even if one report is lost (rulings 9.3)."""
        return 2 * max(self.gap, INTERIM_S)


LENGTH_SLACK_S = 5.0
LOST = "lost"
"""Nothing was heard of it for three intervals; an end that a late packet undoes (rulings 4.7)."""
GONE = "gone"
"""Its access device did not know it any more when it was to be changed; undone by a late packet too."""
ROAMED = "roamed"
"""The device went on to another access device; still so while this one goes on reporting it."""
RESTARTED = "device_restarted"
"""Its access device restarted (Accounting-On). A later report that shows the session still running reopens it."""

_STAY = (
    "id, mac, network, access_device, nas_identifier, session_id, started, last_event, session_time, in_raw,"
    " in_octets, out_raw, out_octets, saw_gigawords, framed_ip, ended, end_cause, root, multi_session_id, user,"
    " counts, gap, bssid, nas_address, packets, octets_per_s, day, day_octets"
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


def newest_of_session(
    conn: Connection, mac: Mac, session_id: str, access_device: AccessDeviceId
) -> Stay | None:
    """Return the newest stay in this session, ended or not."""
    rows = _stays(
        conn,
        "mac = ? AND session_id = ? AND access_device = ? ORDER BY started DESC LIMIT 1",
        (mac, session_id, access_device),
    )
    return rows[0] if rows else None


def stays_of(conn: Connection, mac: Mac, at_most: int) -> list[Stay]:
    """Newest first."""
    return _stays(conn, "mac = ? ORDER BY started DESC LIMIT ?", (mac, at_most))


class Place(NamedTuple):
    """Where an open stay is."""

    id: StayId
    mac: Mac
    started: float
    bssid: str
    nas_identifier: str
    nas_address: str


_PLACE = "SELECT id, mac, started, bssid, nas_identifier, nas_address FROM stay"


def open_places_at(conn: Connection, access_device: AccessDeviceId, begun_before: float) -> list[Place]:
    """Return those at one access device, in the order in which they began."""
    rows = conn.execute(
        f"{_PLACE} INDEXED BY stay_open_by_access_device WHERE access_device = ? AND ended IS NULL AND started < ?",
        (access_device, begun_before),
    )
    return [Place(*row) for row in rows]


def open_places_of(conn: Connection, mac: Mac, access_device: AccessDeviceId) -> list[Place]:
    rows = conn.execute(
        f"{_PLACE} INDEXED BY stay_open WHERE mac = ? AND access_device = ? AND ended IS NULL",
        (mac, access_device),
    )
    return [Place(*row) for row in rows]


def get_stay(conn: Connection, stay: StayId) -> Stay | None:
    rows = _stays(conn, "id = ?", (stay,))
    return rows[0] if rows else None


def add_stay(conn: Connection, stay: Stay) -> StayId:
    """Stores a stay that just began; its id is given here."""
    row = conn.execute(
        "INSERT INTO stay (mac, network, access_device, nas_identifier, session_id, started, last_event,"
        " session_time, saw_gigawords, framed_ip, root, multi_session_id, user, counts, bssid, nas_address)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
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
            stay.root,
            stay.multi_session_id,
            stay.user,
            int(stay.counts),
            stay.bssid,
            stay.nas_address,
        ),
    ).fetchone()
    stay.id = StayId(row[0])
    return stay.id


def save_reports(conn: Connection, reported: Iterable[Stay]) -> None:
    """Writes what reports change of stays that go on; no index is touched."""
    conn.executemany(
        "UPDATE stay SET last_event=?, session_time=?, in_raw=?, in_octets=?, out_raw=?, out_octets=?,"
        " saw_gigawords=?, framed_ip=?, counts=?, gap=?, packets=?, octets_per_s=?, day_octets=? WHERE id=?",
        [
            (s.last_event, s.session_time, s.octets_in.raw, s.octets_in.total, s.octets_out.raw,
             s.octets_out.total, s.saw_gigawords, s.framed_ip, s.counts, s.gap, s.packets, s.octets_per_s,
             s.day_octets, s.id)
            for s in reported
        ],
    )  # fmt: skip


def begin_day(conn: Connection, stay: Stay, day: int) -> None:
    """It uses something for the first time on this day. By itself, as `day` has an index."""
    stay.day, stay.day_octets = day, 0
    conn.execute("UPDATE stay SET day = ?, day_octets = 0 WHERE id = ?", (day, stay.id))


def end_stay(conn: Connection, stay: Stay, at: float, cause: str) -> None:
    stay.ended, stay.end_cause = at, cause
    conn.execute("UPDATE stay SET ended = ?, end_cause = ? WHERE id = ?", (at, cause, stay.id))


def reopen(conn: Connection, stay: Stay, *, keeps_cause: bool = False) -> None:
    """It was only thought to be over. `keeps_cause`: one that its device had roamed away from goes on as such."""
    stay.ended = None
    stay.end_cause = stay.end_cause if keeps_cause else None
    conn.execute("UPDATE stay SET ended = NULL, end_cause = ? WHERE id = ?", (stay.end_cause, stay.id))


def give_user(conn: Connection, mac: Mac, access_device: AccessDeviceId, session_id: str, user: str) -> None:
    """The Class that an open stay has from now on."""
    conn.execute(
        "UPDATE stay SET user = ? WHERE mac = ? AND access_device = ? AND session_id = ? AND ended IS NULL",
        (user, mac, access_device, session_id),
    )


def stays_near(conn: Connection, mac: Mac, network: NetworkId, ended_after: float) -> list[Stay]:
    """Stays of a device on one network that are open or ended a moment ago, newest first."""
    return _stays(
        conn,
        "id IN (SELECT id FROM stay WHERE mac = ?1 ORDER BY started DESC LIMIT 8) AND network = ?2"
        " AND (ended IS NULL OR ended > ?3) ORDER BY started DESC",
        (mac, network, ended_after),
    )


def last_with_session(conn: Connection, mac: Mac, session_id: str, but: StayId) -> Stay | None:
    """Another stay of this device with the same session id, the newest."""
    rows = _stays(
        conn,
        "id IN (SELECT id FROM stay WHERE mac = ? ORDER BY started DESC LIMIT 8) AND session_id = ? AND id <> ?"
        " ORDER BY started DESC LIMIT 1",
        (mac, session_id, but),
    )
    return rows[0] if rows else None


def silent_stays(
    conn: Connection, now: float, least_s: float, after: Mac, at_most: int
) -> tuple[list[Stay], Mac]:
    """Among the next `at_most` open stays in order of MAC: those of which three intervals were not heard.

    Also where to go on; 0 at the end. A walk, because an index by time would be written with each report.
    """
    walked = conn.execute(
        "SELECT id, mac, last_event + 3 * max(gap, ?) FROM stay INDEXED BY stay_open"
        " WHERE ended IS NULL AND mac > ? ORDER BY mac LIMIT ?",
        (least_s, after, at_most),
    ).fetchall()
    silent = [id for id, _, over_at in walked if over_at < now]
    found = _stays(conn, f"id IN ({','.join('?' * len(silent))})", tuple(silent)) if silent else []
    return found, Mac(walked[-1][1]) if len(walked) == at_most else Mac(0)


def _stays(conn: Connection, which: str, values: tuple[object, ...]) -> list[Stay]:
    return [_stay(row) for row in conn.execute(f"SELECT {_STAY} FROM stay WHERE {which}", values)]


def _stay(row: Sequence[Any]) -> Stay:
    (
        id, mac, network, access_device, nas_identifier, session_id, started, last_event, session_time, in_raw,
        in_octets, out_raw, out_octets, saw_gigawords, framed_ip, ended, end_cause, root, multi_session_id, user,
        counts, *rest,
    ) = row  # fmt: skip
    return Stay(
        id, mac, network, access_device, nas_identifier, session_id, started, last_event, session_time,
        Count(in_raw, in_octets), Count(out_raw, out_octets), bool(saw_gigawords), framed_ip, ended, end_cause, root,
        multi_session_id, user, bool(counts), *rest,
    )  # fmt: skip
