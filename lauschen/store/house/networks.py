"""Guest networks, roles and rules: what devices join and where they are placed."""

from sqlite3 import Connection

from lauschen.core.errors import Invalid
from lauschen.core.house.network import GuestNetwork, Hint, Match
from lauschen.core.house.role import Role
from lauschen.core.house.rule import Rule
from lauschen.core.ids import NetworkId, RoleId
from lauschen.core.ways.kinds import WayIn
from lauschen.store.db import insert


def load_networks(conn: Connection) -> list[GuestNetwork]:
    return [
        GuestNetwork(
            row[0],
            row[1],
            row[2],
            Hint(Match(row[3]), row[4]),
            Hint(Match(row[5]), row[6]),
            Hint(Match(row[7]), row[8]),
            *row[9:],
        )
        for row in conn.execute(
            "SELECT id, name, door_role, ssid_match, ssid, nas_identifier_match, nas_identifier, port_id_match,"
            " port_id, port_type, access_device, counted_at FROM network WHERE removed_at IS NULL"
        )
    ]


def load_roles(conn: Connection) -> list[Role]:
    return [
        Role(i, name, vlan, filter_name, bool(is_door), tuple(rules.splitlines()))
        for i, name, vlan, filter_name, is_door, rules in conn.execute(
            "SELECT id, name, vlan, filter_name, is_door, filter_rules FROM role WHERE removed_at IS NULL"
        )
    ]


def load_rules(conn: Connection) -> list[Rule]:
    return [
        Rule(i, position, network, WayIn(way_in) if way_in else None, role)
        for i, position, network, way_in, role in conn.execute(
            "SELECT id, position, network, way_in, role FROM rule ORDER BY position"
        )
    ]


def add_role(
    conn: Connection, name: str, *, vlan: int | None, filter_name: str | None, is_door: bool = False
) -> RoleId:
    return RoleId(
        insert(
            conn,
            "role",
            "name",
            "INSERT INTO role (name, vlan, filter_name, is_door) VALUES (?, ?, ?, ?)",
            (name, vlan, filter_name, int(is_door)),
        )
    )


def save_role(conn: Connection, role: Role) -> None:
    insert(
        conn,
        "role",
        "name",
        "UPDATE role SET name = ?, vlan = ?, filter_name = ?, filter_rules = ? WHERE id = ?",
        (role.name, role.vlan, role.filter_name, "\n".join(role.filter_rules), role.id),
    )


def add_network(conn: Connection, name: str, *, door_role: RoleId, ssid: bytes | None = None) -> NetworkId:
    """Recognised by its whole SSID, or by hints that `save_network` sets."""
    match = Match.ANY if ssid is None else Match.EXACT
    if ssid is not None:
        _check_ssid_is_free(conn, ssid, 0)
    return NetworkId(
        insert(
            conn,
            "network",
            "name",
            "INSERT INTO network (name, door_role, ssid_match, ssid) VALUES (?, ?, ?, ?)",
            (name, door_role, match, ssid or b""),
        )
    )


def save_network(conn: Connection, network: GuestNetwork) -> None:
    """Writes one whole."""
    if network.is_plain:
        _check_ssid_is_free(conn, network.ssid.value, network.id)
    insert(
        conn,
        "network",
        "name",
        "UPDATE network SET name = ?, door_role = ?, ssid_match = ?, ssid = ?, nas_identifier_match = ?,"
        " nas_identifier = ?, port_id_match = ?, port_id = ?, port_type = ?, access_device = ?, counted_at = ?"
        " WHERE id = ?",
        (
            network.name,
            network.door_role,
            network.ssid.match,
            network.ssid.value,
            network.nas_identifier.match,
            network.nas_identifier.value,
            network.port_id.match,
            network.port_id.value,
            network.port_type,
            network.access_device,
            network.counted_at,
            network.id,
        ),
    )


def remove_network(conn: Connection, network: NetworkId, now: float) -> None:
    """With its own rules; what was heard and decided there stays, and everybody who stood before login has left."""
    conn.execute("DELETE FROM rule WHERE network = ?", (network,))
    conn.execute(
        "UPDATE standing SET state = 'left', since = ?, reason = NULL, role = NULL"
        " WHERE network = ? AND state <> 'left'",
        (now, network),
    )
    conn.execute(
        "UPDATE network SET removed_at = ?, access_device = NULL, counted_at = NULL WHERE id = ?",
        (now, network),
    )


def who_is_inside(conn: Connection, network: NetworkId) -> int:
    """Devices that are let in there, or on their way."""
    row = conn.execute(
        "SELECT count(*) FROM standing WHERE network = ? AND (state = 'inside' OR going IS NOT NULL)",
        (network,),
    ).fetchone()
    return int(row[0])


def remove_role(conn: Connection, role: RoleId, now: float) -> None:
    conn.execute("UPDATE role SET removed_at = ? WHERE id = ?", (now, role))


def who_has_role(conn: Connection, role: RoleId) -> int:
    """Devices that are placed in it now."""
    row = conn.execute("SELECT count(*) FROM standing WHERE role = ? AND state <> 'left'", (role,)).fetchone()
    return int(row[0])


def add_rule(conn: Connection, *, network: NetworkId | None, way_in: WayIn | None, role: RoleId) -> None:
    """Appends a rule after the last one."""
    conn.execute(
        "INSERT INTO rule (position, network, way_in, role)"
        " VALUES ((SELECT coalesce(max(position), 0) + 1 FROM rule), ?, ?, ?)",
        (network, way_in, role),
    )


def _check_ssid_is_free(conn: Connection, ssid: bytes, but: int) -> None:
    """Two networks with one SSID and nothing else to tell them apart would be one."""
    taken = conn.execute(
        "SELECT name FROM network WHERE ssid_match = 'exact' AND ssid = ? AND nas_identifier_match = 'any'"
        " AND port_id_match = 'any' AND port_type IS NULL AND access_device IS NULL AND removed_at IS NULL"
        " AND id <> ?",
        (ssid, but),
    ).fetchone()
    if taken is not None:
        raise Invalid("network_ssid_taken", field="ssid", mend=f"{taken[0]} has it already.")
