"""How the house prints its slips, and its picture on them."""

import json
from sqlite3 import Connection

from lauschen.core.config.slip_settings import Paper, SlipSettings


def load(conn: Connection) -> SlipSettings:
    text = conn.execute("SELECT slips FROM house").fetchone()[0]
    said = json.loads(text)
    if not said:
        return SlipSettings()
    return SlipSettings(Paper(said["paper"]), said["lang"], said["words"], said["has_wifi_qr"])


def save(conn: Connection, settings: SlipSettings) -> None:
    said = {
        "paper": settings.paper, "lang": settings.lang, "words": dict(settings.words),
        "has_wifi_qr": settings.has_wifi_qr,
    }  # fmt: skip
    conn.execute("UPDATE house SET slips = ?", (json.dumps(said),))


def logo(conn: Connection) -> bytes | None:
    """A PNG picture; None when there is none."""
    row = conn.execute("SELECT logo FROM house").fetchone()
    return None if row[0] is None else bytes(row[0])


def set_logo(conn: Connection, picture: bytes | None) -> None:
    conn.execute("UPDATE house SET logo = ?", (picture,))
