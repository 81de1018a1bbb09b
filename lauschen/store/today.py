"""What the desk looks at today: names that came before, what ends soon, what could not be sent."""

from pathlib import Path
from sqlite3 import Connection

from lauschen.core.ids import BatchId, CredentialId
from lauschen.core.messages.message import Channel, MessageState
from lauschen.store.credentials import CODE
from lauschen.store.db import open_reader

LAST_SIGN = "\U0010ffff"


def batches_for(conn: Connection, name: str, at_most: int) -> list[BatchId]:
    """Issued for whose name begins so, newest first."""
    rows = conn.execute(
        "SELECT id FROM batch WHERE label <> '' AND label >= ?1 COLLATE NOCASE"
        " AND label < ?1 || ?2 COLLATE NOCASE AND size = 1 AND is_valid ORDER BY issued_at DESC LIMIT ?3",
        (name, LAST_SIGN, at_most),
    )
    return [BatchId(row[0]) for row in rows]


def ending_between(conn: Connection, since: float, until: float, at_most: int) -> list[CredentialId]:
    """What is in use by somebody now, and ends by the clock in that time; the soonest first."""
    ends = (
        "min(coalesce(w.first_used + coalesce(c.seconds, p.seconds) + w.given_seconds, c.valid_until),"
        " coalesce(c.valid_until, w.first_used + coalesce(c.seconds, p.seconds) + w.given_seconds))"
    )
    rows = conn.execute(
        f"SELECT c.id, {ends} AS ends FROM (SELECT DISTINCT allowance FROM admission WHERE ended IS NULL) a"
        " JOIN allowance w ON w.id = a.allowance JOIN credential c ON c.id = w.credential"
        " JOIN plan p ON p.id = c.plan WHERE c.batch IS NOT NULL AND c.withdrawn_at IS NULL"
        " AND ends > ? AND ends <= ? ORDER BY ends LIMIT ?",
        (since, until, at_most),
    )
    return [CredentialId(row[0]) for row in rows]


def not_sent_since(conn: Connection, since: float, at_most: int) -> list[CredentialId]:
    """Issued at the desk, and the newest message about it was given up."""
    rows = conn.execute(
        "SELECT m.credential FROM message m JOIN credential c ON c.id = m.credential WHERE m.state = ?"
        " AND m.written_at > ? AND m.channel IN (?, ?) AND c.batch IS NOT NULL AND NOT EXISTS"
        " (SELECT 1 FROM message n WHERE n.credential = m.credential AND n.id > m.id)"
        " ORDER BY m.id DESC LIMIT ?",
        (MessageState.FAILED, since, Channel.MAIL, Channel.TEXT, at_most),
    )
    return [CredentialId(row[0]) for row in rows]


def count_live_codes(database: Path) -> int:
    """Drawn codes that may still let somebody in. In the worker: it walks them all."""
    conn = open_reader(database)
    try:
        return live_codes(conn)
    finally:
        conn.close()


def live_codes(conn: Connection) -> int:
    """Drawn codes that may still let somebody in; those whose time is over are counted too, so never too few."""
    row = conn.execute(
        "SELECT count(*) FROM finder f JOIN credential c ON c.id = f.credential"
        " WHERE f.kind = ? AND c.withdrawn_at IS NULL",
        (CODE,),
    ).fetchone()
    return int(row[0])
