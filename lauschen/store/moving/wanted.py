"""What must still change at an access device (rulings 2.1)."""

from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import Mac, NetworkId, StayId

IN = "in"
OUT = "out"


@dataclass(slots=True)
class Wanted:
    """One change, in its newest version."""

    mac: Mac
    network: NetworkId
    version: int
    what: str
    """`in`: ask again, the answer has changed for the better; `out`: end what is there."""
    stay: StayId | None
    session_id: str | None
    since: float
    tries: int
    next_at: float
    last_answer: str | None
    last_answer_at: float | None
    until: float | None
    """When what is to be changed would have ended anyway; None: never."""


_WANTED = (
    "mac, network, version, what, stay, session_id, since, tries, next_at, last_answer, last_answer_at, until"
)


def want(
    conn: Connection,
    *,
    mac: Mac,
    network: NetworkId,
    what: str,
    stay: StayId | None,
    session_id: str | None,
    now: float,
    due: float,
    until: float | None,
) -> None:
    """Newer overwrites older."""
    conn.execute(
        "INSERT INTO wanted (mac, network, version, what, stay, session_id, since, next_at, until)"
        " VALUES (?, ?, 1, ?, ?, ?, ?, ?, ?) ON CONFLICT (mac, network) DO UPDATE SET version = version + 1,"
        " what = excluded.what, stay = excluded.stay, session_id = excluded.session_id, since = excluded.since,"
        " tries = 0, next_at = excluded.next_at, last_answer = NULL, last_answer_at = NULL,"
        " until = excluded.until",
        (mac, network, what, stay, session_id, now, due, until),
    )


def find_wanted(conn: Connection, mac: Mac, network: NetworkId) -> Wanted | None:
    row = conn.execute(
        f"SELECT {_WANTED} FROM wanted WHERE mac = ? AND network = ?",
        (mac, network),
    ).fetchone()
    return None if row is None else Wanted(*row)


def due(conn: Connection, now: float, at_most: int) -> list[Wanted]:
    return [
        Wanted(*row)
        for row in conn.execute(
            f"SELECT {_WANTED} FROM wanted WHERE next_at <= ? ORDER BY next_at LIMIT ?",
            (now, at_most),
        )
    ]


def next_due_after(conn: Connection, now: float) -> float | None:
    row = conn.execute("SELECT min(next_at) FROM wanted WHERE next_at > ?", (now,)).fetchone()
    return None if row is None else row[0]


def not_confirmed(conn: Connection, at_most: int) -> list[Wanted]:
    """Changes that an access device refused or did not answer."""
    return [
        Wanted(*row)
        for row in conn.execute(
            f"SELECT {_WANTED} FROM wanted WHERE last_answer IS NOT NULL ORDER BY since LIMIT ?",
            (at_most,),
        )
    ]


def note_answer(
    conn: Connection, wish: Wanted, *, answer: str | None, at: float, tries: int, next_at: float
) -> bool:
    """Keeps what came of a request; False when the wish was overwritten or dropped meanwhile."""
    return (
        conn.execute(
            "UPDATE wanted SET last_answer = ?, last_answer_at = ?, tries = ?, next_at = ?"
            " WHERE mac = ? AND network = ? AND version = ?",
            (answer, at, tries, next_at, wish.mac, wish.network, wish.version),
        ).rowcount
        == 1
    )


def put_off(conn: Connection, wish: Wanted, *, answer: str, at: float, later: float) -> None:
    """It could not be sent; the next one is tried instead."""
    note_answer(conn, wish, answer=answer, at=at, tries=wish.tries + 1, next_at=at + later)


def postpone(conn: Connection, wish: Wanted, until: float) -> None:
    conn.execute(
        "UPDATE wanted SET next_at = ? WHERE mac = ? AND network = ? AND version = ?",
        (until, wish.mac, wish.network, wish.version),
    )


def drop(conn: Connection, mac: Mac, network: NetworkId) -> bool:
    """Confirmed, or overtaken by events."""
    return conn.execute("DELETE FROM wanted WHERE mac = ? AND network = ?", (mac, network)).rowcount == 1


def hurry(conn: Connection, now: float) -> int:
    """After a start all unconfirmed changes go again at once."""
    return conn.execute("UPDATE wanted SET next_at = ?, tries = 0", (now,)).rowcount
