"""Page visits (rulings 6.1, 8.3) and wrong tries (rulings 8.2)."""

import hashlib
from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import AccessDeviceId, AdmissionId, Mac, NetworkId

TOKEN = "token"  # noqa: S105 - a kind of proof
"""Of a visit that was opened by a token of ours: then its device is known."""


@dataclass(slots=True)
class Visit:
    """A browser at the page, from one source address; lives as long as the token that opened it, or as long as the
    admission that it made."""

    mac: Mac
    network: NetworkId
    access_device: AccessDeviceId
    going: str | None
    opened_at: float
    expires: float
    proof: str = "token"
    """How it was learned which device this is: `token`, `appended`, `address` or `look`."""
    source: str = ""
    admission: AdmissionId | None = None
    last_answer: str | None = None
    last_answer_at: float | None = None
    barred_until: float | None = None
    """Too many wrong codes were typed in it."""
    login: "Login | None" = None
    has_written: bool = False
    """A guest wrote themselves in by it, or asked for a host."""


AFTER_END_S = 600.0
"""A visit outlives the end of its admission by this, so that the guest can read how it ended."""


@dataclass(slots=True)
class Login:
    """The one-time login that a visit handed out (acts/arriving/posted.py)."""

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
    """In place of one with the same name whose time is over."""
    conn.execute(
        "INSERT OR REPLACE INTO visit (id_hash, mac, network, access_device, going, opened_at, expires, proof,"
        " source) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (
            visit_hash(visit_id),
            visit.mac,
            visit.network,
            visit.access_device,
            visit.going,
            visit.opened_at,
            visit.expires,
            visit.proof,
            visit.source,
        ),
    )


_GOES_ON = (
    "id_hash = ? AND (expires > ? OR EXISTS (SELECT 1 FROM admission a WHERE a.id = v.admission"
    " AND (a.ended IS NULL OR a.ended > ?)))"
)


def is_going_on(conn: Connection, visit_id: str, now: float) -> bool:
    """Whether `find_visit` would find it; asked of each request before anything else is."""
    row = conn.execute(
        f"SELECT 1 FROM visit v WHERE {_GOES_ON}", (visit_hash(visit_id), now, now - AFTER_END_S)
    ).fetchone()
    return row is not None


def find_visit(conn: Connection, visit_id: str, now: float) -> Visit | None:
    """None when there is none or its time is over."""
    return find_by_digest(conn, visit_hash(visit_id), now)


def find_by_digest(conn: Connection, digest: bytes, now: float) -> Visit | None:
    """The same for whoever knows its hash only."""
    row = conn.execute(
        "SELECT mac, network, access_device, going, opened_at, expires, proof, source, admission, last_answer,"
        " last_answer_at, barred_until, posted_name, posted_at, posted_used,"
        " EXISTS (SELECT 1 FROM registration r WHERE r.visit = v.id_hash)"
        f" OR EXISTS (SELECT 1 FROM vouching q WHERE q.visit = v.id_hash) FROM visit v WHERE {_GOES_ON}",
        (digest, now, now - AFTER_END_S),
    ).fetchone()
    if row is None:
        return None
    *of_visit, posted_name, posted_at, posted_used, has_written = row
    visit = Visit(*of_visit)
    if posted_name is not None:
        visit.login = Login(digest, visit.mac, visit.access_device, posted_name, posted_at, posted_used)
    visit.has_written = bool(has_written)
    return visit


def living_visits(conn: Connection, mac: Mac, network: NetworkId, source: str, now: float) -> list[bytes]:
    """Hashes of a device's visits from one source that have not logged in, oldest first."""
    rows = conn.execute(
        "SELECT id_hash FROM visit WHERE mac = ? AND network = ? AND source = ? AND expires > ?"
        " AND admission IS NULL ORDER BY opened_at",
        (mac, network, source, now),
    )
    return [row[0] for row in rows]


def end_visit(conn: Connection, digest: bytes, now: float) -> None:
    conn.execute("UPDATE visit SET expires = ? WHERE id_hash = ?", (now, digest))


def prolong_visit(conn: Connection, digest: bytes, until: float) -> None:
    """Somebody waits in it for something."""
    conn.execute("UPDATE visit SET expires = max(expires, ?) WHERE id_hash = ?", (until, digest))


def set_going(conn: Connection, visit_id: str, going: str) -> None:
    """The guest was on the way somewhere else this time."""
    conn.execute("UPDATE visit SET going = ? WHERE id_hash = ?", (going, visit_hash(visit_id)))


def bar_visit(conn: Connection, digest: bytes, until: float) -> None:
    conn.execute("UPDATE visit SET barred_until = ? WHERE id_hash = ?", (until, digest))


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
    conn: Connection, digest: bytes, *, admission: AdmissionId | None, answer: str, now: float
) -> None:
    """Keeps what the page last answered and, after a login, which admission it may end."""
    conn.execute(
        "UPDATE visit SET admission = coalesce(?, admission), last_answer = ?, last_answer_at = ? WHERE id_hash = ?",
        (admission, answer, now, digest),
    )


def add_wrong_try(
    conn: Connection,
    *,
    network: NetworkId,
    now: float,
    visit: bytes | None = None,
    source: str | None = None,
    mac: Mac | None = None,
) -> None:
    """`visit` and `source`: at the page; `mac`: by RADIUS."""
    conn.execute(
        "INSERT INTO wrong_try (at, network, source, visit, mac) VALUES (?, ?, ?, ?, ?)",
        (now, network, source, visit, mac),
    )


def wrong_tries_in(conn: Connection, visit: bytes, since: float) -> list[float]:
    rows = conn.execute("SELECT at FROM wrong_try WHERE visit = ? AND at > ?", (visit, since))
    return [row[0] for row in rows]


def wrong_tries_at_page(conn: Connection, mac: Mac, proof: str, since: float) -> list[float]:
    """Return the moments of a device's wrong tries in all its visits of that proof."""
    rows = conn.execute(
        "SELECT w.at FROM visit v CROSS JOIN wrong_try w INDEXED BY wrong_try_by_visit ON w.visit = v.id_hash"
        " AND w.at > ?3 WHERE v.mac = ?1 AND v.proof = ?2",
        (mac, proof, since),
    )
    return [row[0] for row in rows]


def bar_visits_of(conn: Connection, mac: Mac, proof: str, until: float) -> None:
    """Nothing may be typed in any of a device's visits of that proof until then."""
    conn.execute("UPDATE visit SET barred_until = ? WHERE mac = ? AND proof = ?", (until, mac, proof))


def wrong_tries_of(conn: Connection, mac: Mac, since: float) -> list[float]:
    """By RADIUS."""
    return [r[0] for r in conn.execute("SELECT at FROM wrong_try WHERE mac = ? AND at > ?", (mac, since))]


def count_tries_from(conn: Connection, source: str, since: float) -> int:
    row = conn.execute(
        "SELECT count(*) FROM wrong_try WHERE source = ? AND at > ?", (source, since)
    ).fetchone()
    return int(row[0])


def count_tries_on(conn: Connection, network: NetworkId, since: float) -> int:
    row = conn.execute(
        "SELECT count(*) FROM wrong_try WHERE network = ? AND at > ?", (network, since)
    ).fetchone()
    return int(row[0])


def guessing_sources(conn: Connection, since: float, more_than: int, at_most: int) -> list[tuple[str, int]]:
    """Source addresses with many wrong codes at the page, the worst first."""
    return conn.execute(
        "SELECT source, count(*) AS tries FROM wrong_try INDEXED BY wrong_try_by_source"
        " WHERE source IS NOT NULL AND at > ? GROUP BY source HAVING tries > ? ORDER BY tries DESC LIMIT ?",
        (since, more_than, at_most),
    ).fetchall()


def forget_tries_of(conn: Connection, mac: Mac) -> None:
    """Whoever typed for this device, at the page or by RADIUS, begins anew."""
    conn.execute("DELETE FROM wrong_try WHERE mac = ?", (mac,))
    conn.execute("DELETE FROM wrong_try WHERE visit IN (SELECT id_hash FROM visit WHERE mac = ?)", (mac,))
    conn.execute("UPDATE visit SET barred_until = NULL WHERE mac = ?", (mac,))
