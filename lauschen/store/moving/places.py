"""Each access device and session where a device is: what was seen there, and what is being done about it."""

from sqlite3 import Connection

from lauschen.core.decide.standing import Standing
from lauschen.core.decide.wanted import Place
from lauschen.core.ids import AccessDeviceId, AdmissionId, Mac, NetworkId, RoleId

_PLACE = (
    "mac, network, access_device, session_id, spelled, source, role, admission, until, seen_at, seen_by, revision,"
    " tries, next_at, last_answer, last_answer_at, over_at, under_way, is_left"
)
_HERE = "mac = ? AND network = ? AND access_device = ? AND session_id = ?"
_REVISION = "(SELECT revision FROM wanted WHERE mac = ?1 AND network = ?2)"


def saw(
    conn: Connection,
    standing: Standing,
    *,
    role: RoleId | None,
    admission: AdmissionId | None,
    until: float | None,
    by: str,
    now: float,
) -> None:
    """The place of this standing holds what is wanted: nothing is to be done there. To be called after `wanted.put`.

    Where that was seen before, nothing is written, so `seen_at` says since when.
    """
    conn.execute(
        "INSERT INTO place (mac, network, access_device, session_id, spelled, source, role, admission, until,"
        f" seen_at, seen_by, revision) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10, ?11, {_REVISION})"
        " ON CONFLICT (mac, network, access_device, session_id) DO UPDATE SET spelled = excluded.spelled,"
        " source = excluded.source, role = excluded.role, admission = excluded.admission, until = excluded.until,"
        " seen_at = excluded.seen_at, seen_by = excluded.seen_by, revision = excluded.revision, tries = 0,"
        " next_at = NULL, last_answer = NULL, last_answer_at = NULL, over_at = NULL, under_way = NULL, is_left = 0"
        " WHERE place.seen_at IS NULL OR (place.role, place.admission, place.until, place.spelled, place.source,"
        " place.next_at, place.is_left) IS NOT (excluded.role, excluded.admission, excluded.until,"
        " excluded.spelled, excluded.source, NULL, 0)",
        (standing.mac, standing.network, *standing.at, standing.spelled,
         standing.source, role, admission, until, now, by),
    )  # fmt: skip


def go_on_at(
    conn: Connection,
    standing: Standing,
    before: tuple[AccessDeviceId, str],
    *,
    by: str,
    now: float,
) -> None:
    """A stay began at the standing's place: it holds what the place before did."""
    values = (standing.mac, standing.network, *standing.at, standing.spelled,
              standing.source, by, now, *before, standing.role, standing.admission)  # fmt: skip
    conn.execute(
        "INSERT OR REPLACE INTO place (mac, network, access_device, session_id, spelled, source, role, admission,"
        " until, seen_at, seen_by, revision, tries, next_at, last_answer, last_answer_at, over_at, under_way)"
        " SELECT ?1, ?2, ?3, ?4, ?5, ?6, iif(p.mac IS NULL, ?11, p.role), iif(p.mac IS NULL, ?12, p.admission),"
        " p.until, iif(p.mac IS NOT NULL AND p.seen_at IS NULL, NULL, ?8), ?7, w.revision, coalesce(p.tries, 0),"
        " p.next_at, p.last_answer, p.last_answer_at, p.over_at, p.under_way FROM wanted w LEFT JOIN place p"
        " ON p.mac = ?1 AND p.network = ?2 AND p.access_device = ?9 AND p.session_id = ?10"
        " WHERE w.mac = ?1 AND w.network = ?2",
        values,
    )


def change(conn: Connection, place: Place, *, revision: int, due: float, over_at: float | None) -> None:
    """From now on something else should hold there, and is asked for at `due`."""
    conn.execute(
        "UPDATE place SET revision = ?, tries = 0, next_at = ?, last_answer = NULL, last_answer_at = NULL,"
        f" over_at = ? WHERE {_HERE}",
        (revision, due, over_at, *_key(place)),
    )


def begin(conn: Connection, standing: Standing) -> None:
    """The device's own place, of which nothing was seen yet."""
    conn.execute(
        "INSERT INTO place (mac, network, access_device, session_id, spelled, source, revision)"
        f" VALUES (?1, ?2, ?3, ?4, ?5, ?6, {_REVISION})",
        (standing.mac, standing.network, *standing.at, standing.spelled,
         standing.source),
    )  # fmt: skip


def let_go(conn: Connection, place: Place, *, due: float, over_at: float) -> None:
    """The device went on from there: what is still held there is asked to go at `due`."""
    conn.execute(
        "UPDATE place SET is_left = 1, tries = 0, next_at = ?, last_answer = NULL, last_answer_at = NULL,"
        f" over_at = ? WHERE {_HERE}",
        (due, over_at, *_key(place)),
    )


def come_back(conn: Connection, place: Place) -> None:
    """The device is there after all."""
    conn.execute(f"UPDATE place SET is_left = 0 WHERE {_HERE}", _key(place))


def settle(conn: Connection, place: Place) -> None:
    """Nothing is to be changed there now."""
    conn.execute(
        "UPDATE place SET tries = 0, next_at = NULL, last_answer = NULL, last_answer_at = NULL, over_at = NULL"
        f" WHERE {_HERE}",
        _key(place),
    )


def find_place(
    conn: Connection, mac: Mac, network: NetworkId, access_device: AccessDeviceId, session_id: str
) -> Place | None:
    row = conn.execute(
        f"SELECT {_PLACE} FROM place WHERE {_HERE}", (mac, network, access_device, session_id)
    ).fetchone()
    return None if row is None else Place(*row)


def places_of(conn: Connection, mac: Mac, network: NetworkId) -> list[Place]:
    rows = conn.execute(
        f"SELECT {_PLACE} FROM place WHERE mac = ? AND network = ? ORDER BY access_device, session_id",
        (mac, network),
    )
    return [Place(*row) for row in rows]


def due(conn: Connection, now: float, at_most: int) -> list[Place]:
    """Return the places where something is to be changed now."""
    rows = conn.execute(
        f"SELECT {_PLACE} FROM place INDEXED BY place_due WHERE next_at IS NOT NULL AND next_at <= ?"
        " ORDER BY next_at LIMIT ?",
        (now, at_most),
    )
    return [Place(*row) for row in rows]


def next_due_after(conn: Connection, now: float) -> float | None:
    row = conn.execute(
        "SELECT min(next_at) FROM place INDEXED BY place_due WHERE next_at IS NOT NULL AND next_at > ?",
        (now,),
    ).fetchone()
    return None if row is None else row[0]


def not_confirmed(conn: Connection, at_most: int) -> list[Place]:
    """Return places whose access device refused a change or did not answer."""
    rows = conn.execute(
        f"SELECT {_PLACE} FROM place INDEXED BY place_not_confirmed WHERE last_answer IS NOT NULL LIMIT ?",
        (at_most,),
    )
    return [Place(*row) for row in rows]


def set_out(conn: Connection, place: Place, now: float, again_at: float) -> None:
    """A request is sent now: until it is answered nobody knows what holds there."""
    conn.execute(
        f"UPDATE place SET under_way = ?, seen_at = NULL, next_at = ? WHERE {_HERE} AND revision = ?",
        (now, again_at, *_key(place), place.revision),
    )


def note_answer(
    conn: Connection, place: Place, *, answer: str | None, at: float, tries: int, next_at: float
) -> bool:
    """Keeps what came of a request; False when something else should hold by now, or the place is over."""
    conn.execute(f"UPDATE place SET under_way = NULL WHERE {_HERE}", _key(place))
    return (
        conn.execute(
            "UPDATE place SET last_answer = ?, last_answer_at = ?, tries = ?, next_at = ?"
            f" WHERE {_HERE} AND revision = ? AND next_at IS NOT NULL",
            (answer, at, tries, next_at, *_key(place), place.revision),
        ).rowcount
        == 1
    )


def forget(
    conn: Connection, mac: Mac, network: NetworkId, access_device: AccessDeviceId, session_id: str
) -> None:
    """The device is not there any more."""
    conn.execute(f"DELETE FROM place WHERE {_HERE}", (mac, network, access_device, session_id))


def forget_all(conn: Connection, mac: Mac, network: NetworkId) -> None:
    conn.execute("DELETE FROM place WHERE mac = ? AND network = ?", (mac, network))


def hurry(conn: Connection, now: float, mac: Mac | None = None, network: NetworkId | None = None) -> int:
    """After a start everything that is not confirmed goes again at once; with a device and network, theirs alone."""
    if mac is not None:
        sql = "UPDATE place SET next_at = ? WHERE mac = ? AND network = ? AND next_at IS NOT NULL"
        return conn.execute(sql, (now, mac, network)).rowcount
    sql = "UPDATE place INDEXED BY place_due SET next_at = ?, tries = 0, under_way = NULL WHERE next_at IS NOT NULL"
    return conn.execute(sql, (now,)).rowcount


def _key(place: Place) -> tuple[Mac, NetworkId, AccessDeviceId, str]:
    return place.mac, place.network, place.access_device, place.session_id
