"""What should hold for each device on each network: one row, in its newest revision."""

from sqlite3 import Connection
from typing import Any

from lauschen.core.decide.standing import State
from lauschen.core.decide.wanted import Wanted
from lauschen.core.ids import AdmissionId, Mac, NetworkId, RoleId

WANTED = "mac, network, revision, state, role, admission, until, since"
_NEXT = "(SELECT coalesce(max(revision), 0) + 1 FROM wanted)"
_STATES = {state.value: state for state in State}


def put(
    conn: Connection,
    mac: Mac,
    network: NetworkId,
    *,
    state: State,
    role: RoleId | None,
    admission: AdmissionId | None,
    until: float | None,
    now: float,
) -> None:
    """Writes what should hold; where that is so already, nothing is written and the revision stays."""
    conn.execute(
        f"INSERT INTO wanted ({WANTED}) VALUES (?, ?, {_NEXT}, ?, ?, ?, ?, ?) ON CONFLICT (mac, network) DO UPDATE"
        " SET revision = excluded.revision, state = excluded.state, role = excluded.role,"
        " admission = excluded.admission, until = excluded.until, since = excluded.since"
        " WHERE (state, role, admission, until)"
        " IS NOT (excluded.state, excluded.role, excluded.admission, excluded.until)",
        (mac, network, state, role, admission, until, now),
    )


def put_state(conn: Connection, mac: Mac, network: NetworkId, state: State, now: float) -> None:
    """Writes the state alone, which outside of a network says why and not what: the role stays."""
    conn.execute(
        f"UPDATE wanted SET state = ?, since = ?, revision = {_NEXT} WHERE mac = ? AND network = ? AND state <> ?",
        (state, now, mac, network, state),
    )


def find_wanted(conn: Connection, mac: Mac, network: NetworkId) -> Wanted | None:
    row = conn.execute(
        f"SELECT {WANTED} FROM wanted WHERE mac = ? AND network = ?", (mac, network)
    ).fetchone()
    return None if row is None else _read(row)


def changed_since(conn: Connection, revision: int, at_most: int) -> list[Wanted]:
    """Return what changed after this revision, in the order of the changes."""
    rows = conn.execute(
        f"SELECT {WANTED} FROM wanted WHERE revision > ? ORDER BY revision LIMIT ?", (revision, at_most)
    )
    return [_read(row) for row in rows]


def forget(conn: Connection, mac: Mac, network: NetworkId) -> None:
    """Nothing is known of the device on this network any more."""
    conn.execute("DELETE FROM wanted WHERE mac = ? AND network = ?", (mac, network))


def _read(row: tuple[Any, ...]) -> Wanted:
    mac, network, revision, state, role, admission, until, since = row
    return Wanted(mac, network, revision, _STATES[state], role, admission, until, since)
