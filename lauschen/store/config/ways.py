"""What each network offers to let in."""

import json
from collections.abc import Iterable
from sqlite3 import Connection
from zoneinfo import ZoneInfo

from lauschen.core.ids import NetworkId
from lauschen.core.ways.ways import Way, read_way, write_way


def load_ways(conn: Connection, zone: ZoneInfo) -> dict[NetworkId, tuple[Way, ...]]:
    """By network, each in the order of its page."""
    found: dict[NetworkId, list[Way]] = {}
    for network, kind, settings in conn.execute("SELECT network, kind, settings FROM way ORDER BY position"):
        found.setdefault(NetworkId(network), []).append(read_way(kind, json.loads(settings), zone))
    return {network: tuple(ways) for network, ways in found.items()}


def save_ways(conn: Connection, network: NetworkId, ways: Iterable[Way]) -> None:
    """In place of those that it offered until now."""
    conn.execute("DELETE FROM way WHERE network = ?", (network,))
    conn.executemany(
        "INSERT INTO way (network, position, kind, settings) VALUES (?, ?, ?, ?)",
        [(network, place, way.way, json.dumps(write_way(way))) for place, way in enumerate(ways, start=1)],
    )
