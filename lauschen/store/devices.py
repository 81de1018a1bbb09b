"""Devices and where they stand: what the decision loads, and what is written back."""

from collections.abc import Iterable, Sequence
from sqlite3 import Connection
from typing import Any

from lauschen.core.config.config import Config
from lauschen.core.decide.picture import AdmissionFacts, Picture
from lauschen.core.decide.reason import LIMIT_REASONS, Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.ids import CredentialId, Mac, NetworkId
from lauschen.store.allowances import GRANT, read_grant
from lauschen.store.moving import places, wanted

_STANDING_COLUMNS = (
    "s.mac", "s.network", "s.state", "s.since", "coalesce(x.state, s.state)", "s.reason", "s.reason_at",
    "s.access_device", "s.session_id", "s.spelled", "s.source", "s.role", "s.framed_ip", "s.last_heard",
    "s.page_opened", "s.code_tried", "s.admission", "s.reconsider_at", "s.decision", "s.decision_at",
    "s.decision_mark", "s.repeats",
)  # fmt: skip
_STANDING = ", ".join(_STANDING_COLUMNS)
_WANTED = "LEFT JOIN wanted x ON x.mac = s.mac AND x.network = s.network"
_ADMISSION = f"a.id, a.seat_since, a.token, a.begun, json_extract(a.offered, '$.rules'), {GRANT}"
_JOINED = "JOIN allowance w ON w.id = a.allowance JOIN credential c ON c.id = w.credential"
# One look-up by key for all that a device's request needs.
_PICTURE = (
    f"SELECT d.barred_since, d.typing_barred_until, p.next_at, {_STANDING}, {_ADMISSION} FROM device d"
    " LEFT JOIN standing s ON s.mac = d.mac AND s.network = ?"
    " LEFT JOIN admission a ON a.id = s.admission"
    " LEFT JOIN allowance w ON w.id = a.allowance"
    " LEFT JOIN credential c ON c.id = w.credential"
    f" {_WANTED}"
    " LEFT JOIN place p ON p.mac = s.mac AND p.network = s.network AND p.access_device = s.access_device"
    " AND p.session_id = coalesce(s.session_id, '') WHERE d.mac = ?"
)


def load_picture(conn: Connection, config: Config, mac: Mac, network: NetworkId) -> tuple[Picture, bool]:
    """The facts about one device on one network, and whether the device is known at all."""
    row = conn.execute(_PICTURE, (network, mac)).fetchone()
    if row is None:
        return Picture(config), False
    barred_since, typing_barred_until, next_at, *rest = row
    standing, admission = rest[: len(_STANDING_COLUMNS)], rest[len(_STANDING_COLUMNS) :]
    picture = Picture(config, barred_since=barred_since, typing_barred_until=typing_barred_until)
    if standing[0] is not None:
        picture.standing = _standing(standing)
        picture.is_wanted = next_at is not None
        if admission[0] is not None:
            picture.admission = _admission(admission)
    return picture, True


def find_standing(conn: Connection, mac: Mac, network: NetworkId) -> Standing | None:
    row = conn.execute(
        f"SELECT {_STANDING} FROM standing s {_WANTED} WHERE s.mac = ? AND s.network = ?",
        (mac, network),
    ).fetchone()
    return None if row is None else _standing(row)


def open_admission_of(conn: Connection, mac: Mac, network: NetworkId) -> AdmissionFacts | None:
    """The admission that a device on this network has now."""
    row = conn.execute(
        f"SELECT {_ADMISSION} FROM standing s JOIN admission a ON a.id = s.admission {_JOINED}"
        " WHERE s.mac = ? AND s.network = ?",
        (mac, network),
    ).fetchone()
    return None if row is None else _admission(row)


def standings_where_admitted(conn: Connection, credential: CredentialId) -> list[Standing]:
    """Every device that is in by this credential now."""
    return [
        _standing(row)
        for row in conn.execute(
            f"SELECT {_STANDING} FROM allowance w JOIN admission a ON a.allowance = w.id AND a.ended IS NULL"
            " JOIN standing s ON s.mac = a.mac AND s.network = a.network AND s.admission = a.id"
            f" {_WANTED} WHERE w.credential = ?",
            (credential,),
        )
    ]


def where_admitted(
    conn: Connection, credential: CredentialId, state: State | None = None
) -> list[tuple[Mac, NetworkId]]:
    """Return each device that is in by this credential now, and where; those alone that are in this state."""
    return conn.execute(
        "SELECT s.mac, s.network FROM allowance w JOIN admission a ON a.allowance = w.id AND a.ended IS NULL"
        " JOIN standing s ON s.mac = a.mac AND s.network = a.network AND s.admission = a.id"
        " WHERE w.credential = ?1 AND (?2 IS NULL OR s.state = ?2)",
        (credential, state),
    ).fetchall()


def is_in_by(conn: Connection, mac: Mac, network: NetworkId, credential: CredentialId) -> bool:
    """Return whether this is what the device is in by."""
    row = conn.execute(
        "SELECT 1 FROM standing s JOIN admission a ON a.id = s.admission AND a.ended IS NULL"
        " JOIN allowance w ON w.id = a.allowance WHERE s.mac = ? AND s.network = ? AND w.credential = ?",
        (mac, network, credential),
    ).fetchone()
    return row is not None


# Devices whose newest admission was by a credential and is over.
_LAST_IN_BY = (
    " FROM allowance w JOIN admission a ON a.allowance = w.id"
    " JOIN standing s ON s.mac = a.mac AND s.network = a.network"
    f" {_WANTED} WHERE w.credential = ?1 AND a.ended IS NOT NULL AND s.admission IS NULL"
    " AND NOT EXISTS (SELECT 1 FROM admission b WHERE b.mac = a.mac AND b.network = a.network AND b.begun > a.begun)"
)


def held_by(conn: Connection, credential: CredentialId) -> list[tuple[Mac, NetworkId]]:
    """Return the devices that a limit of this credential holds, and that are still here; the first in comes first."""
    reasons = ", ".join(f"'{reason}'" for reason in LIMIT_REASONS)
    return conn.execute(
        f"SELECT s.mac, s.network{_LAST_IN_BY} AND s.reason IN ({reasons})"
        f" AND '{State.HELD}' IN (s.state, x.state) ORDER BY a.begun",
        (credential,),
    ).fetchall()


def put_out_by(
    conn: Connection, credential: CredentialId, reason: Reason
) -> list[tuple[Mac, NetworkId, bool]]:
    """Return the devices whose admission by it ended for this reason, oldest first, and whether each has left."""
    rows = conn.execute(
        f"SELECT s.mac, s.network, s.state = '{State.LEFT}'{_LAST_IN_BY} AND a.end_reason = ?2 ORDER BY a.begun",
        (credential, reason),
    )
    return [(mac, network, bool(is_away)) for mac, network, is_away in rows]


def standings_of(conn: Connection, mac: Mac) -> list[Standing]:
    """Where one device stands, on every network that heard it."""
    rows = conn.execute(f"SELECT {_STANDING} FROM standing s {_WANTED} WHERE s.mac = ?", (mac,))
    return [_standing(row) for row in rows]


def standings_at_address(conn: Connection, address: str) -> list[Standing]:
    """Whoever has this address, as far as accounting or a request said."""
    sql = f"SELECT {_STANDING} FROM standing s {_WANTED} WHERE s.framed_ip = ? LIMIT 4"
    return [_standing(row) for row in conn.execute(sql, (address,))]


def is_another_at(conn: Connection, network: NetworkId, mac: Mac, address: str, since: float) -> bool:
    """Whether accounting or a request gives this address to another device of the network, and not to this one.

    `since`: what was said before is old. An address that nobody was given contradicts nothing (rulings 8.1).
    """
    row = conn.execute(
        "SELECT max(s.mac <> ?1), max(s.mac = ?1) FROM address a"
        " JOIN standing s ON s.mac = a.mac AND s.network = ?2 AND s.framed_ip = a.text AND s.state <> 'left'"
        " WHERE a.text = ?3 AND a.seen > ?4 AND a.source IN ('accounting', 'request')",
        (mac, network, address, since),
    ).fetchone()
    is_others, is_this = row
    return bool(is_others) and not is_this


def is_unknown_at_door(conn: Connection, network: NetworkId) -> bool:
    """Whether some device at the door of this network has no known address."""
    sql = "SELECT 1 FROM standing WHERE network = ? AND state = 'at_door' AND framed_ip IS NULL LIMIT 1"
    return conn.execute(sql, (network,)).fetchone() is not None


def standings_last_in_by(conn: Connection, credential: CredentialId) -> list[Standing]:
    """Return where devices stand whose newest admission was by this credential and is over."""
    rows = conn.execute(f"SELECT {_STANDING}{_LAST_IN_BY} ORDER BY a.begun", (credential,))
    return [_standing(row) for row in rows]


def add_device(conn: Connection, mac: Mac, now: float) -> None:
    conn.execute("INSERT OR IGNORE INTO device (mac, first_heard) VALUES (?, ?)", (mac, now))


def save_standing(conn: Connection, standing: Standing, *, is_new: bool = False) -> None:
    """Writes one standing whole."""
    values = (
        standing.state,
        standing.since,
        standing.reason,
        standing.reason_at,
        standing.access_device,
        standing.session_id,
        standing.spelled,
        standing.source,
        standing.role,
        standing.framed_ip,
        standing.last_heard,
        standing.page_opened,
        standing.code_tried,
        standing.admission,
        standing.reconsider_at,
        standing.decision,
        standing.decision_at,
        standing.decision_mark,
        standing.repeats,
        standing.mac,
        standing.network,
    )
    if is_new:
        conn.execute(
            "INSERT INTO standing (state, since, reason, reason_at, access_device, session_id, spelled,"
            " source, role, framed_ip, last_heard, page_opened, code_tried, admission, reconsider_at, decision,"
            " decision_at, decision_mark, repeats, mac, network)"
            " VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)",
            values,
        )
    else:
        conn.execute(
            "UPDATE standing SET state=?, since=?, reason=?, reason_at=?, access_device=?, session_id=?,"
            " spelled=?, source=?, role=?, framed_ip=?, last_heard=?, page_opened=?, code_tried=?, admission=?,"
            " reconsider_at=?, decision=?, decision_at=?, decision_mark=?, repeats=? WHERE mac=? AND network=?",
            values,
        )


def note_heard(conn: Connection, standings: Iterable[Standing]) -> None:
    """Writes standings of which nothing changed but that they were heard again: no index is touched."""
    conn.executemany(
        "UPDATE standing SET last_heard = ?, repeats = ? WHERE mac = ? AND network = ?",
        [(s.last_heard, s.repeats, s.mac, s.network) for s in standings],
    )


def bar_device(conn: Connection, mac: Mac, *, since: float | None, by: int | None) -> None:
    """`since` None lets it try again."""
    conn.execute("UPDATE device SET barred_since = ?, barred_by = ? WHERE mac = ?", (since, by, mac))


def is_barred(conn: Connection, mac: Mac) -> bool:
    """By staff."""
    row = conn.execute("SELECT barred_since IS NOT NULL FROM device WHERE mac = ?", (mac,)).fetchone()
    return row is not None and bool(row[0])


def bar_typing(conn: Connection, mac: Mac, until: float | None) -> None:
    conn.execute("UPDATE device SET typing_barred_until = ? WHERE mac = ?", (until, mac))


def typing_barred_until(conn: Connection, mac: Mac) -> float | None:
    row = conn.execute("SELECT typing_barred_until FROM device WHERE mac = ?", (mac,)).fetchone()
    return None if row is None else row[0]


def standings_after(conn: Connection, mac: Mac, network: int, at_most: int) -> list[Standing]:
    """In order of device and network."""
    rows = conn.execute(
        f"SELECT {_STANDING} FROM standing s {_WANTED} WHERE (s.mac, s.network) > (?, ?)"
        " ORDER BY s.mac, s.network LIMIT ?",
        (mac, network, at_most),
    )
    return [_standing(row) for row in rows]


def has_left(standing: Standing) -> bool:
    return standing.state is State.LEFT and standing.wanted is State.LEFT


def forget_standing(conn: Connection, mac: Mac, network: NetworkId) -> None:
    conn.execute("DELETE FROM standing WHERE mac = ? AND network = ?", (mac, network))
    places.forget_all(conn, mac, network)
    wanted.forget(conn, mac, network)


def forget_devices(conn: Connection, before: float, after: Mac, at_most: int) -> tuple[int, Mac]:
    """Devices first heard before, of which nothing else is kept, among the next ones.

    One that was taken off a passphrase is kept: it stays off.

    How many went, and where to go on.
    """
    walked = conn.execute(
        "SELECT mac, first_heard < ? AND barred_since IS NULL AND typing_barred_until IS NULL"
        " AND NOT EXISTS (SELECT 1 FROM standing s WHERE s.mac = d.mac)"
        " AND NOT EXISTS (SELECT 1 FROM admission a WHERE a.mac = d.mac)"
        " AND NOT EXISTS (SELECT 1 FROM allowance w WHERE w.mac = d.mac)"
        " AND NOT EXISTS (SELECT 1 FROM stay t WHERE t.mac = d.mac)"
        " AND NOT EXISTS (SELECT 1 FROM address r WHERE r.mac = d.mac)"
        " AND NOT EXISTS (SELECT 1 FROM key_device k WHERE k.mac = d.mac"
        " AND (k.bound_at >= ? OR k.removed_at IS NOT NULL))"
        " FROM device d WHERE mac > ? ORDER BY mac LIMIT ?",
        (before, before, after, at_most),
    ).fetchall()
    gone = [(mac,) for mac, is_old in walked if is_old]
    conn.executemany("DELETE FROM key_device WHERE mac = ?", gone)
    conn.executemany("DELETE FROM device WHERE mac = ?", gone)
    return len(gone), Mac(walked[-1][0]) if len(walked) == at_most else Mac(0)


def strangers_after(conn: Connection, before: float, after: Mac, at_most: int) -> tuple[list[Mac], Mac]:
    """Devices first heard before, which nothing ever let in and nobody barred, among the next ones; where to go on.

    Of one that is still here, or was heard since, nothing is forgotten.
    """
    walked = conn.execute(
        "SELECT mac, first_heard < ?1 AND barred_since IS NULL AND typing_barred_until IS NULL"
        " AND NOT EXISTS (SELECT 1 FROM admission a WHERE a.mac = d.mac)"
        " AND NOT EXISTS (SELECT 1 FROM allowance w WHERE w.mac = d.mac)"
        " AND NOT EXISTS (SELECT 1 FROM key_device k WHERE k.mac = d.mac)"
        " AND NOT EXISTS (SELECT 1 FROM standing s WHERE s.mac = d.mac"
        " AND (s.state <> 'left' OR s.last_heard >= ?1))"
        " AND NOT EXISTS (SELECT 1 FROM stay t WHERE t.mac = d.mac AND (t.ended IS NULL OR t.last_event >= ?1))"
        " FROM device d WHERE mac > ?2 ORDER BY mac LIMIT ?3",
        (before, after, at_most),
    ).fetchall()
    found = [Mac(mac) for mac, is_stranger in walked if is_stranger]
    return found, Mac(walked[-1][0]) if len(walked) == at_most else Mac(0)


def forget_stranger(conn: Connection, mac: Mac) -> list[NetworkId]:
    """With where it stood, its stays and addresses; the networks where it stood."""
    networks = [
        NetworkId(row[0]) for row in conn.execute("SELECT network FROM standing WHERE mac = ?", (mac,))
    ]
    for network in networks:
        forget_standing(conn, mac, network)
    for table in ("address", "stay", "placement", "device"):
        conn.execute(f"DELETE FROM {table} WHERE mac = ?", (mac,))
    return networks


def to_reconsider(conn: Connection, by: float, at_most: int) -> list[Standing]:
    """Devices about which the clock alone has changed the answer while nobody told us."""
    return [
        _standing(row)
        for row in conn.execute(
            f"SELECT {_STANDING} FROM standing s INDEXED BY standing_to_reconsider"
            f" {_WANTED} WHERE s.reconsider_at IS NOT NULL AND s.reconsider_at <= ? LIMIT ?",
            (by, at_most),
        )
    ]


def silent_at_door(conn: Connection, network: NetworkId, heard_before: float, at_most: int) -> list[Standing]:
    """Devices before login (or held, or barred) that did not ask again although their time-out has passed."""
    return [
        _standing(row)
        for row in conn.execute(
            f"SELECT {_STANDING} FROM standing s INDEXED BY standing_by_state {_WANTED}"
            " WHERE s.network = ? AND s.state IN ('at_door', 'held', 'barred') AND s.since < ? AND s.last_heard < ?"
            " LIMIT ?",
            (network, heard_before, heard_before, at_most),
        )
    ]


def ended_bars(conn: Connection, now: float, at_most: int) -> list[Mac]:
    """Devices whose bar by tries is over."""
    sql = "SELECT mac FROM device INDEXED BY device_by_bar WHERE typing_barred_until <= ? LIMIT ?"
    return [Mac(mac) for (mac,) in conn.execute(sql, (now, at_most))]


_STATES = {state.value: state for state in State}
_REASONS = {reason.value: reason for reason in Reason}


def _standing(row: Sequence[Any]) -> Standing:
    standing = Standing(*row)
    # Looked up, not called: this runs for each packet.
    standing.state = _STATES[standing.state]
    standing.wanted = _STATES[standing.wanted]
    if standing.reason is not None:
        standing.reason = _REASONS[standing.reason]
    return standing


def _admission(row: Sequence[Any]) -> AdmissionFacts:
    id, seat_since, token, begun, rules, *grant = row
    return AdmissionFacts(id, read_grant(grant), seat_since is not None, begun, rules, token)
