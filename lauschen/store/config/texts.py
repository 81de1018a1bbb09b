"""Texts of the house, each in all its versions."""

from collections.abc import Mapping
from sqlite3 import Connection

from lauschen.core.config.site_text import SiteText, TextKind


def load_text(conn: Connection, kind: TextKind) -> SiteText:
    """In its newest version."""
    rows = conn.execute(
        "SELECT version, lang, text FROM house_text WHERE kind = ?1"
        " AND version = (SELECT max(version) FROM house_text WHERE kind = ?1)",
        (kind,),
    ).fetchall()
    texts = {lang: text for _, lang, text in rows if text}
    return SiteText(rows[0][0], texts) if rows else SiteText()


def save_text(conn: Connection, kind: TextKind, texts: Mapping[str, str], now: float) -> int:
    """A version more, in all its languages; the ones before stay readable."""
    row = conn.execute(
        "SELECT coalesce(max(version), 0) + 1 FROM house_text WHERE kind = ?", (kind,)
    ).fetchone()
    if not texts:  # a version without any text: nothing can be agreed to
        texts = {"": ""}
    conn.executemany(
        "INSERT INTO house_text (kind, version, lang, text, since) VALUES (?, ?, ?, ?, ?)",
        [(kind, row[0], lang, text, now) for lang, text in texts.items()],
    )
    return int(row[0])
