"""What the rooms Now, Guests and Desk read: counts of each stream, what ends soon."""

from dataclasses import dataclass
from pathlib import Path
from sqlite3 import Connection

from lauschen.core.ids import AccessDeviceId, BatchId, CredentialId, NetworkId, RoleId
from lauschen.core.messages.message import Channel, MessageState
from lauschen.core.words.codes import LENGTH
from lauschen.store.credentials import CODE
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
class Beginnings:
    """What has happened in a house at least once."""

    was_somebody_in: bool
    was_any_issued: bool
    was_role_set: bool


def beginnings(conn: Connection) -> Beginnings:
    """Each found by one look-up: whether there is any such row."""
    placed, issued, saved = conn.execute(
        "SELECT EXISTS (SELECT 1 FROM placement), EXISTS (SELECT 1 FROM batch WHERE is_valid),"
        " EXISTS (SELECT 1 FROM event INDEXED BY event_role_saved WHERE kind = 'role_saved'"
        f" AND actor IN ({_HOUSE}))"
    ).fetchone()
    return Beginnings(bool(placed), bool(issued), bool(saved))


def devices_of_network(conn: Connection, network: NetworkId) -> list[AccessDeviceId]:
    """Return the access devices at which devices of this network were last heard.

    Each is found by one look-up behind the one before, since all devices of a network are many.
    """
    found: list[AccessDeviceId] = []
    sql = (
        "SELECT min(access_device) FROM standing INDEXED BY standing_by_place"
        " WHERE network = ? AND access_device > ?"
    )
    while (row := conn.execute(sql, (network, found[-1] if found else -1)).fetchone()) and row[0] is not None:
        found.append(AccessDeviceId(row[0]))
    return found


def stream_counts(conn: Connection, network: NetworkId, now: float) -> StreamCounts:
    door = conn.execute(
        "SELECT count(*), count(page_opened), count(code_tried) FROM standing WHERE network = ?"
        " AND state = 'at_door'",
        (network,),
    ).fetchone()
    inside = conn.execute(
        # `<> 'left'` is what the index is made for.
        "SELECT role, count(*) FROM standing INDEXED BY standing_by_role WHERE network = ? AND state = 'inside'"
        " AND state <> 'left' GROUP BY role",
        (network,),
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
