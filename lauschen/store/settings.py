"""The configuration: read whole into a `House`, and written by set-up and the command line."""

import sqlite3
from sqlite3 import Connection
from zoneinfo import ZoneInfo

from lauschen.core.errors import Invalid
from lauschen.core.house import AccessDevice, Dialect, GuestNetwork, House, Move, Plan, Role, Rule, WayIn
from lauschen.core.ids import AccessDeviceId, DialectId, NetworkId, PlanId, RoleId
from lauschen.store.keys import KeyRing, make_canary


def load_house(conn: Connection, keys: KeyRing) -> House:
    """Everything configured, as the decision reads it."""
    site, zone, page_url, slip_host = conn.execute(
        "SELECT site_name, zone, page_url, slip_host FROM house"
    ).fetchone()
    roles = [
        Role(i, name, vlan, filter_name, bool(is_door))
        for i, name, vlan, filter_name, is_door in conn.execute(
            "SELECT id, name, vlan, filter_name, is_door FROM role"
        )
    ]
    plans = [
        Plan(*row)
        for row in conn.execute(
            "SELECT id, name, seconds, idle_seconds, octets, devices, use_within_days FROM plan"
        )
    ]
    networks = [GuestNetwork(*row) for row in conn.execute("SELECT id, name, ssid, door_role FROM network")]
    rules = tuple(
        Rule(i, position, network, WayIn(way_in) if way_in else None, role)
        for i, position, network, way_in, role in conn.execute(
            "SELECT id, position, network, way_in, role FROM rule ORDER BY position"
        )
    )
    dialects = [
        Dialect(i, name, vendor, attribute, template, Move(login), Move(end), pause)
        for i, name, vendor, attribute, template, login, end, pause in conn.execute(
            "SELECT id, name, redirect_vendor, redirect_attribute, redirect_template, login_move, end_move,"
            " pause_ms FROM dialect"
        )
    ]
    devices = [
        AccessDevice(
            i,
            name,
            address,
            keys.unseal(sealed, table="access_device", column="secret_sealed", row=i),
            dialect,
            coa_port,
        )
        for i, name, address, sealed, dialect, coa_port in conn.execute(
            "SELECT id, name, address, secret_sealed, dialect, coa_port FROM access_device"
        )
    ]
    return House(
        site,
        ZoneInfo(zone),
        page_url,
        slip_host,
        {r.id: r for r in roles},
        {p.id: p for p in plans},
        {n.id: n for n in networks},
        rules,
        {d.id: d for d in dialects},
        {d.id: d for d in devices},
    )


def add_house(
    conn: Connection, keys: KeyRing, *, site_name: str, zone: str, page_url: str, slip_host: str
) -> None:
    """The one row of the site, with the canary that ties the database to its key."""
    conn.execute(
        "INSERT INTO house (one, site_name, zone, page_url, slip_host, key_id, canary)"
        " VALUES (1, ?, ?, ?, ?, ?, ?)",
        (site_name, zone, page_url, slip_host, keys.key_id, make_canary(keys)),
    )


def set_addresses(conn: Connection, *, page_url: str | None, slip_host: str | None) -> None:
    """Changes the names under which guests find the page; None leaves one as it is."""
    conn.execute(
        "UPDATE house SET page_url = coalesce(?, page_url), slip_host = coalesce(?, slip_host)",
        (page_url, slip_host),
    )


def add_role(
    conn: Connection, name: str, *, vlan: int | None, filter_name: str | None, is_door: bool = False
) -> RoleId:
    return RoleId(
        _insert(
            conn,
            "role",
            "name",
            "INSERT INTO role (name, vlan, filter_name, is_door) VALUES (?, ?, ?, ?)",
            (name, vlan, filter_name, int(is_door)),
        )
    )


def set_role(conn: Connection, name: str, *, vlan: int | None, filter_name: str | None) -> bool:
    """False when there is no such role."""
    return (
        conn.execute(
            "UPDATE role SET vlan = ?, filter_name = ? WHERE name = ?", (vlan, filter_name, name)
        ).rowcount
        == 1
    )


def add_plan(
    conn: Connection,
    name: str,
    *,
    seconds: int | None,
    octets: int | None,
    devices: int,
    idle_seconds: int | None = None,
    use_within_days: int | None = None,
) -> PlanId:
    return PlanId(
        _insert(
            conn,
            "plan",
            "name",
            "INSERT INTO plan (name, seconds, idle_seconds, octets, devices, use_within_days)"
            " VALUES (?, ?, ?, ?, ?, ?)",
            (name, seconds, idle_seconds, octets, devices, use_within_days),
        )
    )


def add_network(conn: Connection, name: str, *, ssid: bytes, door_role: RoleId) -> NetworkId:
    return NetworkId(
        _insert(
            conn,
            "network",
            "ssid",
            "INSERT INTO network (name, ssid, door_role) VALUES (?, ?, ?)",
            (name, ssid, door_role),
        )
    )


def add_rule(conn: Connection, *, network: NetworkId | None, way_in: WayIn | None, role: RoleId) -> None:
    """Appends a rule after the last one."""
    conn.execute(
        "INSERT INTO rule (position, network, way_in, role)"
        " VALUES ((SELECT coalesce(max(position), 0) + 1 FROM rule), ?, ?, ?)",
        (network, way_in, role),
    )


def add_dialect(
    conn: Connection,
    name: str,
    *,
    redirect: tuple[int, int] | None,
    template: str = "{portal_url}",
    login_move: Move,
    end_move: Move = Move.DISCONNECT,
    pause_ms: int = 0,
) -> DialectId:
    vendor, attribute = redirect or (None, None)
    return DialectId(
        _insert(
            conn,
            "dialect",
            "name",
            "INSERT INTO dialect (name, redirect_vendor, redirect_attribute, redirect_template, login_move,"
            " end_move, pause_ms) VALUES (?, ?, ?, ?, ?, ?, ?)",
            (name, vendor, attribute, template, login_move, end_move, pause_ms),
        )
    )


def add_access_device(
    conn: Connection,
    keys: KeyRing,
    name: str,
    *,
    address: str,
    secret: bytes,
    dialect: DialectId,
    coa_port: int = 3799,
) -> AccessDeviceId:
    """The secret is sealed into the row that it belongs to."""
    row = _insert(
        conn,
        "access_device",
        "address",
        "INSERT INTO access_device (name, address, secret_sealed, dialect, coa_port) VALUES (?, ?, x'', ?, ?)",
        (name, address, dialect, coa_port),
    )
    sealed = keys.seal(secret, table="access_device", column="secret_sealed", row=row)
    conn.execute("UPDATE access_device SET secret_sealed = ? WHERE id = ?", (sealed, row))
    return AccessDeviceId(row)


def find_id(conn: Connection, table: str, name: str) -> int | None:
    """The id of a named role, plan, network, dialect or access device."""
    if table not in ("role", "plan", "network", "dialect", "access_device"):
        raise ValueError(table)
    row = conn.execute(f"SELECT id FROM {table} WHERE name = ?", (name,)).fetchone()
    return None if row is None else int(row[0])


def _insert(conn: Connection, what: str, field: str, sql: str, values: tuple[object, ...]) -> int:
    try:
        return int(conn.execute(f"{sql} RETURNING id", values).fetchone()[0])
    except sqlite3.IntegrityError as exc:
        if exc.sqlite_errorname == "SQLITE_CONSTRAINT_UNIQUE":
            taken = str(exc).rpartition(".")[2] or field
            raise Invalid(f"{what}_{taken}_taken", field=taken, mend="Choose another one.") from exc
        if exc.sqlite_errorname == "SQLITE_CONSTRAINT_CHECK":
            raise Invalid(f"{what}_out_of_range", field=field, mend=str(exc)) from exc
        raise
