"""Guest networks and roles: what devices join and where they are placed."""

from collections.abc import Iterable, Mapping, Sequence
from sqlite3 import Connection
from typing import Any
from zoneinfo import ZoneInfo

from lauschen.core.config.network import GuestNetwork, Hint, Match, Pause
from lauschen.core.config.role import Role
from lauschen.core.errors import Invalid
from lauschen.core.ids import NetworkId, RoleId
from lauschen.core.ways.ways import Way
from lauschen.store.config.ways import load_ways, save_ways
from lauschen.store.db import insert


def load_networks(conn: Connection, zone: ZoneInfo) -> list[GuestNetwork]:
    """Hours of their ways in are those of the site's zone."""
    ways = load_ways(conn, zone)
    rows = conn.execute(
        "SELECT id, name, door_role, ssid_match, ssid, nas_identifier_match, nas_identifier, port_id_match,"
        " port_id, port_type, access_device, counted_at, paused_since, paused_until, paused_why,"
        " pause_ends_stays, onward"
        " FROM network WHERE removed_at IS NULL ORDER BY id"
    )
    return [_network(row, ways) for row in rows]


def _network(row: Sequence[Any], ways: Mapping[NetworkId, tuple[Way, ...]]) -> GuestNetwork:
    (
        id, name, door_role, ssid_match, ssid, nas_match, nas_identifier, port_match, port_id, port_type,
        access_device, counted_at, paused_since, paused_until, paused_why, ends_stays, onward,
    ) = row  # fmt: skip
    pause = None
    if paused_since is not None:
        pause = Pause(paused_since, paused_until, paused_why, bool(ends_stays))
    return GuestNetwork(
        id=id,
        name=name,
        door_role=door_role,
        ssid=Hint(Match(ssid_match), ssid),
        nas_identifier=Hint(Match(nas_match), nas_identifier),
        port_id=Hint(Match(port_match), port_id),
        port_type=port_type,
        access_device=access_device,
        counted_at=counted_at,
        ways=ways.get(id, ()),
        pause=pause,
        onward=onward,
    )


def load_roles(conn: Connection) -> list[Role]:
    return [
        Role(i, name, vlan, filter_name, bool(is_door), tuple(rules.splitlines()), down, up)
        for i, name, vlan, filter_name, is_door, rules, down, up in conn.execute(
            "SELECT id, name, vlan, filter_name, is_door, filter_rules, down_bps, up_bps FROM role"
            " WHERE removed_at IS NULL ORDER BY id"
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
        "UPDATE role SET name = ?, vlan = ?, filter_name = ?, filter_rules = ?, down_bps = ?, up_bps = ?"
        " WHERE id = ?",
        (
            role.name,
            role.vlan,
            role.filter_name,
            "\n".join(role.filter_rules),
            role.down_bps,
            role.up_bps,
            role.id,
        ),
    )


def add_network(conn: Connection, name: str, *, door_role: RoleId, ssid: bytes | None = None) -> NetworkId:
    """Recognised by its whole SSID, or by hints that `save_network` sets; that also says what it offers."""
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
        " nas_identifier = ?, port_id_match = ?, port_id = ?, port_type = ?, access_device = ?, counted_at = ?,"
        " paused_since = ?, paused_until = ?, paused_why = ?, pause_ends_stays = ?, onward = ? WHERE id = ?",
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
            *_pause(network.pause),
            network.onward,
            network.id,
        ),
    )
    save_ways(conn, network.id, network.ways)


def _pause(pause: Pause | None) -> tuple[float | None, float | None, str, int]:
    if pause is None:
        return None, None, "", 0
    return pause.since, pause.until, pause.why, int(pause.ends_stays)


def remove_network(conn: Connection, network: NetworkId, now: float) -> None:
    """With its own rules; what was heard and decided there stays, and everybody who stood before login has left."""
    for table in ("rule", "serves", "not_served"):
        conn.execute(f"DELETE FROM {table} WHERE network = ?", (network,))
    here = (
        "SELECT mac FROM standing INDEXED BY standing_by_state"
        " WHERE network = ?1 AND state IN ('at_door', 'inside', 'held', 'barred')"
    )
    conn.execute(
        "UPDATE wanted SET state = 'left', role = NULL, admission = NULL, until = NULL, since = ?2,"
        f" revision = revision + (SELECT max(revision) FROM wanted) WHERE mac IN ({here}) AND network = ?1",
        (network, now),
    )
    conn.execute(f"DELETE FROM place WHERE mac IN ({here}) AND network = ?1", (network,))
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
        "SELECT (SELECT count(*) FROM standing INDEXED BY standing_by_state WHERE network = ?1 AND state = 'inside')"
        " + (SELECT count(*) FROM wanted x INDEXED BY wanted_inside CROSS JOIN standing s ON s.mac = x.mac"
        " AND s.network = x.network WHERE x.network = ?1 AND x.state = 'inside' AND s.state <> 'inside')",
        (network,),
    ).fetchone()
    return int(row[0])


def remove_role(conn: Connection, role: RoleId, now: float) -> None:
    conn.execute("UPDATE role SET removed_at = ? WHERE id = ?", (now, role))


def who_has_role(conn: Connection, role: RoleId, known: Iterable[NetworkId]) -> int:
    """Return how many devices are placed in it now, on these networks."""
    found = 0
    for network in known:
        row = conn.execute(
            "SELECT count(*) FROM standing INDEXED BY standing_by_role WHERE network = ? AND role = ?"
            " AND state IN ('inside', 'at_door', 'held', 'barred') AND state <> 'left'",
            (network, role),
        ).fetchone()
        found += row[0]
    return found


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
