"""What staff did to passcodes; those that change by themselves are computed and not kept."""

from sqlite3 import Connection

from lauschen.core.ids import NetworkId
from lauschen.core.ways.passcode import ByHand, Renewed
from lauschen.store.keys import KeyRing

KEPT = 2
"""Texts of one network: the one that holds, and the one before."""


def load_by_hand(conn: Connection, keys: KeyRing) -> dict[NetworkId, ByHand]:
    """By network, as far as it may matter still."""
    found: dict[NetworkId, ByHand] = {}
    sql = "SELECT id, network, at, is_end, sealed FROM passcode ORDER BY id DESC"
    for row, network, at, is_end, sealed in conn.execute(sql):
        known = found.get(network, ByHand())
        if is_end:
            ended = known.overlap_ended_at or at
            found[network] = ByHand(known.renewed, ended)
        elif len(known.renewed) < KEPT:
            text = None if sealed is None else _unseal(keys, sealed, row)
            found[network] = ByHand((*known.renewed, Renewed(at, text)), known.overlap_ended_at)
    return found


def renew(conn: Connection, keys: KeyRing, network: NetworkId, text: str | None, now: float) -> None:
    """Another one from now on."""
    row = conn.execute(
        "INSERT INTO passcode (network, at) VALUES (?, ?) RETURNING id", (network, now)
    ).fetchone()[0]
    if text is not None:
        sealed = keys.seal(text.encode(), table="passcode", column="sealed", row=row)
        conn.execute("UPDATE passcode SET sealed = ? WHERE id = ?", (sealed, row))
    conn.execute(
        "DELETE FROM passcode WHERE network = ?1 AND NOT is_end AND id NOT IN"
        " (SELECT id FROM passcode WHERE network = ?1 AND NOT is_end ORDER BY id DESC LIMIT ?2)",
        (network, KEPT),
    )


def end_overlap(conn: Connection, network: NetworkId, now: float) -> None:
    """The one before is good no more."""
    conn.execute("DELETE FROM passcode WHERE network = ? AND is_end", (network,))
    conn.execute("INSERT INTO passcode (network, at, is_end) VALUES (?, ?, 1)", (network, now))


def _unseal(keys: KeyRing, sealed: bytes, row: int) -> str:
    return keys.unseal(sealed, table="passcode", column="sealed", row=row).decode()


def told(conn: Connection) -> dict[bytes, float]:
    """By whoever hands one out: since when the passcode holds that they were told of last."""
    return dict(conn.execute("SELECT hearer, since FROM passcode_told").fetchall())


def note_told(conn: Connection, hearer: bytes, since: float) -> None:
    conn.execute(
        "INSERT INTO passcode_told VALUES (?, ?) ON CONFLICT (hearer) DO UPDATE SET since = excluded.since",
        (hearer, since),
    )
