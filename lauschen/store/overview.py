"""What the rooms Now, Guests and Desk read: counts of each stream, everybody in one list, what ends soon."""

from dataclasses import dataclass
from pathlib import Path
from sqlite3 import Connection
from typing import Any

from lauschen.core.decide.grant import Grant
from lauschen.core.decide.standing import State
from lauschen.core.ids import AccessDeviceId, BatchId, CredentialId, Mac, NetworkId, RoleId, StaffId
from lauschen.core.messages.message import Channel, MessageState
from lauschen.core.words.codes import LENGTH
from lauschen.store.admissions import HOLDER
from lauschen.store.allowances import GRANT, read_grant
from lauschen.store.credentials import CODE, DEVICES_IN, READABLE
from lauschen.store.db import open_reader
from lauschen.store.log import OF_HOUSE

_HOUSE = ", ".join(f"'{kind}'" for kind in OF_HOUSE)
LAST_SIGN = "\U0010ffff"


@dataclass(frozen=True, slots=True)
class StreamCounts:
    """One network, from left to right. At the door includes page opened, which includes code tried."""

    at_door: int
    page_opened: int
    code_tried: int
    inside: dict[RoleId, int]
    held: int
    barred: int
    left_last_hour: int


@dataclass(frozen=True, slots=True)
class GuestRow:
    """One device on one network."""

    mac: Mac
    network: NetworkId
    state: str
    since: float
    going: str | None
    reason: str | None
    access_device: AccessDeviceId
    role: RoleId | None
    framed_ip: str | None
    last_heard: float
    grant: Grant | None
    """By which it is in, or was last."""
    is_remembered: bool
    """It has left, and what let it in goes on: it comes back without the page."""
    code_sealed: bytes | None
    is_chosen: bool
    """Its code is not one of ten signs."""
    name: str
    """For whom it was issued; empty for many at once."""
    label: str
    """What was written on it, also on many at once."""
    issuer: StaffId | None
    """Which person issued it, if one did."""
    devices_in: int
    """Devices that are in by that credential."""
    typing_barred_until: float | None
    """Of the device by RADIUS, or of one of its visits at the page."""
    wanted: str | None
    wanted_answer: str | None


@dataclass(frozen=True, slots=True)
class Beginnings:
    """What has happened in a house at least once."""

    was_somebody_in: bool
    was_voucher_issued: bool
    was_role_set: bool


def beginnings(conn: Connection) -> Beginnings:
    """Each found by one look-up: whether there is any such row."""
    placed, issued, saved = conn.execute(
        "SELECT EXISTS (SELECT 1 FROM placement), EXISTS (SELECT 1 FROM batch WHERE is_valid),"
        f" EXISTS (SELECT 1 FROM event WHERE actor IN ({_HOUSE}) AND kind = 'role_saved')"
    ).fetchone()
    return Beginnings(bool(placed), bool(issued), bool(saved))


def devices_of_network(conn: Connection, network: NetworkId) -> list[AccessDeviceId]:
    """The access devices at which devices of this network were last heard."""
    sql = "SELECT DISTINCT access_device FROM standing WHERE network = ? ORDER BY access_device"
    return [AccessDeviceId(row[0]) for row in conn.execute(sql, (network,))]


def stream_counts(conn: Connection, network: NetworkId, now: float) -> StreamCounts:
    door = conn.execute(
        "SELECT count(*), count(page_opened), count(code_tried) FROM standing WHERE network = ?"
        " AND state = 'at_door'",
        (network,),
    ).fetchone()
    inside = conn.execute(
        "SELECT role, count(*) FROM standing WHERE network = ? AND state = 'inside' GROUP BY role", (network,)
    ).fetchall()
    others = dict(
        conn.execute(
            "SELECT state, count(*) FROM standing WHERE network = ? AND state IN ('held', 'barred')"
            " GROUP BY state",
            (network,),
        ).fetchall()
    )
    left = conn.execute(
        "SELECT count(*) FROM standing WHERE network = ? AND state = 'left' AND since > ?",
        (network, now - 3600),
    ).fetchone()
    return StreamCounts(
        door[0], door[1], door[2], dict(inside), others.get("held", 0), others.get("barred", 0), left[0]
    )


_GUEST = (
    "SELECT s.mac, s.network, s.state, s.since, s.going, s.reason, s.access_device, s.role, s.framed_ip,"
    " s.last_heard, max(coalesce(d.typing_barred_until, 0), coalesce((SELECT max(barred_until) FROM visit v"
    " WHERE v.mac = s.mac AND v.network = s.network), 0)), x.what, x.last_answer,"
    f" s.admission, f.sealed, {DEVICES_IN}, f.kind, {HOLDER}, b.label, b.issued_by, {GRANT}"
    " FROM standing s JOIN device d ON d.mac = s.mac"
    " LEFT JOIN wanted x ON x.mac = s.mac AND x.network = s.network"
    " LEFT JOIN admission a ON a.id = (SELECT id FROM admission WHERE mac = s.mac AND network = s.network"
    " ORDER BY begun DESC LIMIT 1)"
    " LEFT JOIN allowance w ON w.id = a.allowance"
    " LEFT JOIN credential c ON c.id = w.credential"
    " LEFT JOIN batch b ON b.id = c.batch"
    f" LEFT JOIN finder f ON f.credential = c.id AND {READABLE}"
)


@dataclass(slots=True)
class GuestLine:
    """A device on a network, as far as lists sort and find it."""

    mac: Mac
    network: NetworkId
    state: str
    since: float
    access_device: AccessDeviceId
    framed_ip: str | None
    name: str
    label: str
    grant: Grant | None


_LINE = (
    f"SELECT s.mac, s.network, s.state, s.since, s.access_device, s.framed_ip, {HOLDER}, b.label, {GRANT}"
    " FROM standing s LEFT JOIN admission a ON a.id = (SELECT id FROM admission WHERE mac = s.mac"
    " AND network = s.network ORDER BY begun DESC LIMIT 1)"
    " LEFT JOIN allowance w ON w.id = a.allowance LEFT JOIN credential c ON c.id = w.credential"
    " LEFT JOIN batch b ON b.id = c.batch"
)


def guest_lines(
    conn: Connection, network: NetworkId, state: str, after: tuple[float, Mac], at_most: int
) -> list[GuestLine]:
    """Of one network in one state, who moved last first; from the one after `after` (its `since` and MAC)."""
    rows = conn.execute(
        f"{_LINE} WHERE s.network = ?1 AND s.state = ?2 AND (s.since < ?3 OR (s.since = ?3 AND s.mac < ?4))"
        " ORDER BY s.since DESC, s.mac DESC LIMIT ?5",
        (network, state, *after, at_most),
    )
    return [
        GuestLine(
            row[0],
            row[1],
            row[2],
            row[3],
            row[4],
            row[5],
            row[6] or "",
            row[7] or "",
            read_grant(row[8:]) if row[8] is not None else None,
        )
        for row in rows
    ]


def bare_lines(
    conn: Connection, network: NetworkId, state: str, after: tuple[float, Mac], at_most: int
) -> list[GuestLine]:
    """As `guest_lines`, of what stands in the standing itself: for lists that need no more, several times as fast."""
    rows = conn.execute(
        "SELECT mac, network, state, since, access_device FROM standing WHERE network = ?1 AND state = ?2"
        " AND (since < ?3 OR (since = ?3 AND mac < ?4)) ORDER BY since DESC, mac DESC LIMIT ?5",
        (network, state, *after, at_most),
    )
    return [GuestLine(row[0], row[1], row[2], row[3], row[4], None, "", "", None) for row in rows]


def count_states(conn: Connection) -> dict[tuple[NetworkId, str], int]:
    """How many devices are in each state on each network."""
    rows = conn.execute("SELECT network, state, count(*) FROM standing GROUP BY network, state")
    return {(NetworkId(row[0]), row[1]): row[2] for row in rows}


def guest(conn: Connection, mac: Mac, network: NetworkId) -> GuestRow | None:
    row = conn.execute(f"{_GUEST} WHERE s.mac = ? AND s.network = ?", (mac, network)).fetchone()
    return None if row is None else _guest(row)


def _guest(row: tuple[Any, ...]) -> GuestRow:
    grant = read_grant(row[20:]) if row[20] is not None else None
    mac, network, state, since, going, reason, access_device, role, framed_ip, last_heard = row[:10]
    return GuestRow(
        mac,
        network,
        state,
        since,
        going,
        reason,
        access_device,
        role,
        framed_ip,
        last_heard,
        grant,
        is_remembered=row[13] is not None and state == State.LEFT,
        code_sealed=row[14],
        devices_in=row[15],
        is_chosen=row[16] != CODE,
        name=row[17] or "",
        label=row[18] or "",
        issuer=row[19],
        typing_barred_until=row[10] or None,
        wanted=row[11],
        wanted_answer=row[12],
    )


def batches_for(conn: Connection, name: str, at_most: int) -> list[BatchId]:
    """Issued for whose name begins so, newest first."""
    rows = conn.execute(
        "SELECT id FROM batch WHERE label <> '' AND label >= ?1 COLLATE NOCASE"
        " AND label < ?1 || ?2 COLLATE NOCASE AND size = 1 AND is_valid ORDER BY issued_at DESC LIMIT ?3",
        (name, LAST_SIGN, at_most),
    )
    return [BatchId(row[0]) for row in rows]


def ending_between(conn: Connection, since: float, until: float, at_most: int) -> list[CredentialId]:
    """What is in use by somebody now, and ends by the clock in that time; the soonest first."""
    ends = (
        "min(coalesce(w.first_used + coalesce(c.seconds, p.seconds) + w.given_seconds, c.valid_until),"
        " coalesce(c.valid_until, w.first_used + coalesce(c.seconds, p.seconds) + w.given_seconds))"
    )
    rows = conn.execute(
        f"SELECT c.id, {ends} AS ends FROM (SELECT DISTINCT allowance FROM admission WHERE ended IS NULL) a"
        " JOIN allowance w ON w.id = a.allowance JOIN credential c ON c.id = w.credential"
        " JOIN plan p ON p.id = c.plan WHERE c.batch IS NOT NULL AND c.withdrawn_at IS NULL"
        " AND ends > ? AND ends <= ? ORDER BY ends LIMIT ?",
        (since, until, at_most),
    )
    return [CredentialId(row[0]) for row in rows]


def not_sent_since(conn: Connection, since: float, at_most: int) -> list[CredentialId]:
    """Issued at the desk, and the newest message about it was given up."""
    rows = conn.execute(
        "SELECT m.credential FROM message m JOIN credential c ON c.id = m.credential WHERE m.state = ?"
        " AND m.written_at > ? AND m.channel IN (?, ?) AND c.batch IS NOT NULL AND NOT EXISTS"
        " (SELECT 1 FROM message n WHERE n.credential = m.credential AND n.id > m.id)"
        " ORDER BY m.id DESC LIMIT ?",
        (MessageState.FAILED, since, Channel.MAIL, Channel.TEXT, at_most),
    )
    return [CredentialId(row[0]) for row in rows]


def count_live_codes(database: Path, length: int) -> int:
    """Drawn codes of so many signs that may still let somebody in. In the worker: it walks them all."""
    conn = open_reader(database)
    try:
        return live_codes(conn, length)
    finally:
        conn.close()


def live_codes(conn: Connection, length: int) -> int:
    """Drawn codes that may still let somebody in; those whose time is over are counted too, so never too few."""
    row = conn.execute(
        "SELECT count(*) FROM finder f JOIN credential c ON c.id = f.credential"
        " LEFT JOIN batch b ON b.id = c.batch"
        " WHERE f.kind = ? AND c.withdrawn_at IS NULL AND coalesce(b.code_length, ?) = ?",
        (CODE, LENGTH, length),
    ).fetchone()
    return int(row[0])
