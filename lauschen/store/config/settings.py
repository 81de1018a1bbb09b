"""The configuration: read whole into a `House`; and the site itself."""

import json
from collections.abc import Iterable
from sqlite3 import Connection
from zoneinfo import ZoneInfo

from lauschen.core.config.config import Config, Removed
from lauschen.core.config.site_text import TextKind
from lauschen.core.ids import RoleId
from lauschen.store.config.access_devices import load_access_devices
from lauschen.store.config.channels import load_channels
from lauschen.store.config.dialects import load_dialects
from lauschen.store.config.hosts import load_hosts
from lauschen.store.config.networks import load_networks, load_roles
from lauschen.store.config.passcodes import load_by_hand
from lauschen.store.config.plans import load_plans
from lauschen.store.config.rules import load_rules
from lauschen.store.config.texts import load_text
from lauschen.store.config.trusted import load_trusted
from lauschen.store.keys import KeyRing, make_canary


def load_config(conn: Connection, keys: KeyRing) -> Config:
    """Everything configured, as the decision reads it."""
    site, zone, page_url, slip_host, last_role, version, lengths = conn.execute(
        "SELECT site_name, zone, page_url, slip_host, last_role, version, code_lengths FROM house"
    ).fetchone()
    where = ZoneInfo(zone)
    return Config(
        site,
        where,
        page_url,
        slip_host,
        {r.id: r for r in load_roles(conn)},
        {p.id: p for p in load_plans(conn, where)},
        {n.id: n for n in load_networks(conn, where)},
        tuple(load_rules(conn)),
        {d.id: d for d in load_dialects(conn, keys)},
        {d.id: d for d in load_access_devices(conn, keys)},
        last_role,
        version,
        load_text(conn, TextKind.RULES),
        _load_removed(conn),
        tuple(load_trusted(conn)),
        load_by_hand(conn, keys),
        {h.id: h for h in load_hosts(conn)},
        load_channels(conn, keys),
        load_text(conn, TextKind.PRIVACY),
        load_text(conn, TextKind.CONSENT),
        tuple(json.loads(lengths)),
    )


def _load_removed(conn: Connection) -> Removed:
    networks, roles = (
        dict(conn.execute(f"SELECT id, name FROM {table} WHERE removed_at IS NOT NULL").fetchall())
        for table in ("network", "role")
    )
    return Removed(networks, roles)


def set_last_role(conn: Connection, role: RoleId | None) -> None:
    """Where whoever no rule matches is placed."""
    conn.execute("UPDATE house SET last_role = ?", (role,))


def set_code_lengths(conn: Connection, lengths: Iterable[int]) -> None:
    """How many signs codes have that were drawn here."""
    conn.execute("UPDATE house SET code_lengths = ?", (json.dumps(sorted(lengths)),))


def count_version(conn: Connection) -> None:
    """The configuration was changed."""
    conn.execute("UPDATE house SET version = version + 1")


def add_site(
    conn: Connection, keys: KeyRing, *, site_name: str, zone: str, page_url: str, slip_host: str
) -> None:
    """The one row of the site, with the canary that ties the database to its key."""
    conn.execute(
        "INSERT INTO house (one, site_name, zone, page_url, slip_host, key_id, canary)"
        " VALUES (1, ?, ?, ?, ?, ?, ?)",
        (site_name, zone, page_url, slip_host, keys.key_id, make_canary(keys)),
    )


def touch(conn: Connection) -> None:
    """Writes what is there already."""
    conn.execute("UPDATE house SET site_name = site_name")


def set_addresses(conn: Connection, *, page_url: str | None, slip_host: str | None) -> None:
    """Changes the names under which guests find the page; None leaves one as it is."""
    conn.execute(
        "UPDATE house SET page_url = coalesce(?, page_url), slip_host = coalesce(?, slip_host)",
        (page_url, slip_host),
    )


def find_id(conn: Connection, table: str, name: str) -> int | None:
    """The id of a named role, plan, network, dialect or access device."""
    if table not in ("role", "plan", "network", "dialect", "access_device"):
        raise ValueError(table)
    there = " AND removed_at IS NULL" if table in ("role", "network", "plan") else ""
    row = conn.execute(f"SELECT id FROM {table} WHERE name = ?{there}", (name,)).fetchone()
    return None if row is None else int(row[0])
