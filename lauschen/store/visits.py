"""Page visits (rulings 6.1) and wrong tries (rulings 6.4)."""

import hashlib
from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import AccessDeviceId, AdmissionId, Mac, NetworkId


@dataclass(slots=True)
class Visit:
    """A browser at the page; lives as long as the token that opened it and has its rights only."""

    mac: Mac
    network: NetworkId
    access_device: AccessDeviceId
    going: str | None
    opened_at: float
    expires: float
    admission: AdmissionId | None
    last_answer: str | None
    last_answer_at: float | None
    proof: str = "token"
    """How it was learned which device this is: `token`, `appended` or `address`."""
    login: "Login | None" = None


@dataclass(slots=True)
class Login:
    """The one-time login that a visit handed out (road/posted.py)."""

    visit_digest: bytes
    mac: Mac
    access_device: AccessDeviceId
    name: str
    handed_out_at: float
    used_at: float | None


def visit_hash(visit_id: str) -> bytes:
    """Visits are stored by hash, so that a stolen database opens none."""
    return hashlib.sha256(visit_id.encode()).digest()


def add_visit(conn: Connection, visit_id: str, visit: Visit) -> None:
    conn.execute(
        "INSERT INTO visit (id_hash, mac, network, access_device, going, opened_at, expires, proof)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
        (
            visit_hash(visit_id),
            visit.mac,
            visit.network,
            visit.access_device,
            visit.going,
            visit.opened_at,
            visit.expires,
            visit.proof,
        ),
    )


def find_visit(conn: Connection, visit_id: str, now: float) -> Visit | None:
    """None when there is none or its time is over."""
    row = conn.execute(
        "SELECT mac, network, access_device, going, opened_at, expires, admission, last_answer, last_answer_at,"
        " proof, posted_name, posted_at, posted_used FROM visit WHERE id_hash = ? AND expires > ?",
        (visit_hash(visit_id), now),
    ).fetchone()
    if row is None:
        return None
    visit = Visit(*row[:10])
    if row[10] is not None:
        visit.login = Login(visit_hash(visit_id), visit.mac, visit.access_device, *row[10:])
    return visit


def hand_out_login(conn: Connection, visit_digest: bytes, *, name: str, now: float) -> None:
    """The one before it is forgotten."""
    conn.execute(
        "UPDATE visit SET posted_name = ?, posted_at = ?, posted_used = NULL WHERE id_hash = ?",
        (name, now, visit_digest),
    )


def find_login(conn: Connection, name: str) -> Login | None:
    """The last one-time login that was handed out under this name."""
    row = conn.execute(
        "SELECT id_hash, mac, access_device, posted_name, posted_at, posted_used FROM visit"
        " WHERE posted_name = ?",
        (name,),
    ).fetchone()
    return None if row is None else Login(*row)


def use_login(conn: Connection, visit_digest: bytes, now: float) -> None:
    conn.execute("UPDATE visit SET posted_used = ? WHERE id_hash = ?", (now, visit_digest))


def note_visit(
    conn: Connection, visit_id: str, *, admission: AdmissionId | None, answer: str, now: float
) -> None:
    """Keeps what the page last answered and, after a login, which admission it may end."""
    conn.execute(
        "UPDATE visit SET admission = coalesce(?, admission), last_answer = ?, last_answer_at = ? WHERE id_hash = ?",
        (admission, answer, now, visit_hash(visit_id)),
    )


def forget_visits(conn: Connection, expired_before: float, at_most: int) -> int:
    return conn.execute(
        "DELETE FROM visit WHERE id_hash IN (SELECT id_hash FROM visit WHERE expires < ? LIMIT ?)",
        (expired_before, at_most),
    ).rowcount


def add_wrong_try(conn: Connection, *, mac: Mac, network: NetworkId, source: str, now: float) -> None:
    conn.execute(
        "INSERT INTO wrong_try (at, mac, network, source) VALUES (?, ?, ?, ?)", (now, mac, network, source)
    )


def wrong_tries_of(conn: Connection, mac: Mac, since: float) -> list[float]:
    return [r[0] for r in conn.execute("SELECT at FROM wrong_try WHERE mac = ? AND at > ?", (mac, since))]


def wrong_tries_from(conn: Connection, source: str, since: float) -> list[float]:
    return [
        r[0] for r in conn.execute("SELECT at FROM wrong_try WHERE source = ? AND at > ?", (source, since))
    ]


def count_wrong_tries(conn: Connection, network: NetworkId, since: float) -> int:
    row = conn.execute(
        "SELECT count(*) FROM wrong_try WHERE network = ? AND at > ?", (network, since)
    ).fetchone()
    return int(row[0])


def forget_tries_of(conn: Connection, mac: Mac) -> None:
    conn.execute("DELETE FROM wrong_try WHERE mac = ?", (mac,))


def forget_tries(conn: Connection, before: float, at_most: int) -> int:
    return conn.execute(
        "DELETE FROM wrong_try WHERE id IN (SELECT id FROM wrong_try WHERE at < ? LIMIT ?)", (before, at_most)
    ).rowcount
