"""Addresses that devices were seen with: which, by what, and when last."""

from collections.abc import Iterable
from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import Mac

ACCOUNTING, REQUEST, PAGE = "accounting", "request", "page"
SEEN_AGAIN_S = 240.0
"""What shows the same again is written down this often: often enough to be known as of the last 15 minutes."""


@dataclass(frozen=True, slots=True)
class SeenAddress:
    """An IPv4 or IPv6 address, or an IPv6 prefix, as text."""

    text: str
    source: str
    """`accounting`, `request` or `page`."""
    seen: float


def note_addresses(conn: Connection, mac: Mac, texts: Iterable[str], source: str, now: float) -> None:
    conn.executemany(
        "INSERT INTO address (mac, text, source, seen) VALUES (?, ?, ?, ?)"
        " ON CONFLICT (mac, text, source) DO UPDATE SET seen = excluded.seen",
        [(mac, text, source, now) for text in texts],
    )


def is_news(conn: Connection, mac: Mac, text: str, source: str, now: float) -> bool:
    """False when it was written down a moment ago."""
    seen = last_seen(conn, mac, text, source)
    return seen is None or now - seen >= SEEN_AGAIN_S


def addresses_of(conn: Connection, mac: Mac, at_most: int) -> list[SeenAddress]:
    """Newest first."""
    rows = conn.execute(
        "SELECT text, source, seen FROM address WHERE mac = ? ORDER BY seen DESC LIMIT ?", (mac, at_most)
    )
    return [SeenAddress(*row) for row in rows]


def last_seen(conn: Connection, mac: Mac, text: str, source: str) -> float | None:
    """None when it never was."""
    row = conn.execute(
        "SELECT seen FROM address WHERE mac = ? AND text = ? AND source = ?", (mac, text, source)
    ).fetchone()
    return None if row is None else row[0]
