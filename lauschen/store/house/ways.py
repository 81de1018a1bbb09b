"""What each network offers to let in, and the house rules that guests agree to."""

import json
from collections.abc import Iterable, Mapping
from sqlite3 import Connection
from zoneinfo import ZoneInfo

from lauschen.core.house.house_rules import HouseRules
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


def load_house_rules(conn: Connection) -> HouseRules:
    rows = conn.execute(
        "SELECT version, lang, text FROM house_rules WHERE version = (SELECT max(version) FROM house_rules)"
    ).fetchall()
    texts = {lang: text for _, lang, text in rows if text}
    return HouseRules(rows[0][0], texts) if rows else HouseRules()


def save_house_rules(conn: Connection, texts: Mapping[str, str], now: float) -> int:
    """A version more, in all its languages; the ones before stay readable."""
    row = conn.execute("SELECT coalesce(max(version), 0) + 1 FROM house_rules").fetchone()
    if not texts:  # a version without any text: nothing can be agreed to
        texts = {"": ""}
    conn.executemany(
        "INSERT INTO house_rules (version, lang, text, since) VALUES (?, ?, ?, ?)",
        [(row[0], lang, text, now) for lang, text in texts.items()],
    )
    return int(row[0])
