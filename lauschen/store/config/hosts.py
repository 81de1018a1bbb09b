"""People of the house who may vouch for guests."""

import json
from sqlite3 import Connection

from lauschen.core.config.host import Host
from lauschen.core.ids import HostId, NetworkId, PlanId
from lauschen.store.db import insert

_COLUMNS = "name, mail, department, lang, networks, plans, longest_minutes, at_once"


def load_hosts(conn: Connection) -> list[Host]:
    """Those that are there, by name."""
    rows = conn.execute(
        f"SELECT id, {_COLUMNS} FROM host WHERE removed_at IS NULL ORDER BY name COLLATE NOCASE, id"
    )
    return [
        Host(
            HostId(number), name, mail, department, lang, tuple(map(NetworkId, json.loads(networks))),
            tuple(map(PlanId, json.loads(plans))), longest, at_once,
        )
        for number, name, mail, department, lang, networks, plans, longest, at_once in rows
    ]  # fmt: skip


def add_host(conn: Connection, host: Host) -> HostId:
    """Its id is given here; Invalid when another one has that address."""
    sql = f"INSERT INTO host ({_COLUMNS}) VALUES (?, ?, ?, ?, ?, ?, ?, ?)"
    return HostId(insert(conn, "host", "mail", sql, _values(host)))


def save_host(conn: Connection, host: Host) -> None:
    sets = ", ".join(f"{column} = ?" for column in _COLUMNS.split(", "))
    insert(conn, "host", "mail", f"UPDATE host SET {sets} WHERE id = ?", (*_values(host), host.id))


def remove_host(conn: Connection, host: HostId, now: float) -> None:
    """What they vouched for stays."""
    conn.execute("UPDATE host SET removed_at = ? WHERE id = ?", (now, host))


def _values(host: Host) -> tuple[object, ...]:
    return (
        host.name, host.mail, host.department, host.lang, json.dumps(host.networks), json.dumps(host.plans),
        host.longest_minutes, host.at_once,
    )  # fmt: skip
