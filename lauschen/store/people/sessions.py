"""Sessions: browsers that are signed in, and the tokens of programs. Both are kept as hashes (rulings 6.11)."""

import hashlib
from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import NetworkId, StaffId
from lauschen.core.people.duties import Duty
from lauschen.core.people.limits import NO_LIMITS, Limits
from lauschen.core.people.sight import Sight
from lauschen.store.people.staff import read_limits

SHOWN = 8
"""Octets of a session's hash by which it is named."""


@dataclass(frozen=True, slots=True)
class StaffSession:
    """Who asks: a browser that is signed in or, without a CSRF value, a program."""

    staff: StaffId
    name: str
    must_change: bool
    csrf: str
    duty: Duty
    limits: Limits
    is_program: bool = False

    @property
    def sight(self) -> Sight:
        """What they may see."""
        return Sight(self.limits.networks, self.staff, self.limits.own_only)

    def reads_code_of(self, issuer: StaffId | None) -> bool:
        """Whether a live code that this person issued is for their eyes: auditors read none."""
        if self.duty is Duty.AUDITOR:
            return False
        return not self.limits.own_only or issuer == self.staff

    def reads_passcode_of(self, network: NetworkId) -> bool:
        """Whether the passcode of a network is theirs to hand out."""
        if self.duty is Duty.AUDITOR:
            return False
        return not self.limits.networks or network in self.limits.networks


@dataclass(frozen=True, slots=True)
class SeenSession:
    """A signed-in browser as its owner sees it."""

    id: str
    begun: float
    expires: float
    source: str
    browser: str


def add_session(
    conn: Connection,
    token: str,
    staff: StaffId,
    *,
    csrf: str,
    now: float,
    expires: float,
    source: str = "",
    browser: str = "",
) -> None:
    conn.execute(
        "INSERT INTO staff_session (token_hash, staff, csrf, expires, begun, source, browser)"
        " VALUES (?, ?, ?, ?, ?, ?, ?)",
        (hash_token(token), staff, csrf, expires, now, source, browser),
    )


def find_session(conn: Connection, token: str, now: float) -> StaffSession | None:
    row = conn.execute(
        "SELECT s.id, s.name, s.must_change, t.csrf, s.duty, s.limits FROM staff_session t"
        " JOIN staff s ON s.id = t.staff WHERE t.token_hash = ? AND t.expires > ?",
        (hash_token(token), now),
    ).fetchone()
    return None if row is None else _session(row, is_program=False)


def find_program(conn: Connection, token: str, now: float) -> StaffSession | None:
    """By its token, while that is good."""
    row = conn.execute(
        "SELECT id, name, 0, '', duty, limits FROM staff WHERE token_hash = ? AND removed_at IS NULL"
        " AND (token_until IS NULL OR token_until > ?)",
        (hash_token(token), now),
    ).fetchone()
    return None if row is None else _session(row, is_program=True)


def _session(row: tuple[int, str, int, str, str, str | None], *, is_program: bool) -> StaffSession:
    id, name, must_change, form_value, stored_duty, stored_limits = row
    duty = Duty(stored_duty)
    limits = read_limits(stored_limits) if duty is Duty.DESK else NO_LIMITS
    return StaffSession(StaffId(id), name, bool(must_change), form_value, duty, limits, is_program)


def sessions_of(conn: Connection, staff: StaffId, now: float) -> list[SeenSession]:
    """Newest first."""
    rows = conn.execute(
        "SELECT token_hash, begun, expires, source, browser FROM staff_session WHERE staff = ? AND expires > ?"
        " ORDER BY begun DESC",
        (staff, now),
    )
    return [SeenSession(token_hash[:SHOWN].hex(), *rest) for token_hash, *rest in rows]


def end_session(conn: Connection, token: str) -> None:
    conn.execute("DELETE FROM staff_session WHERE token_hash = ?", (hash_token(token),))


def end_others(conn: Connection, staff: StaffId, token: str) -> None:
    """All but the one of this token."""
    sql = "DELETE FROM staff_session WHERE staff = ? AND token_hash <> ?"
    conn.execute(sql, (staff, hash_token(token)))


def end_one_of(conn: Connection, staff: StaffId, session: str) -> bool:
    """By the id that `sessions_of` says; False when there is none."""
    sql = "DELETE FROM staff_session WHERE staff = ? AND hex(substr(token_hash, 1, ?)) = ?"
    return conn.execute(sql, (staff, SHOWN, session.upper())).rowcount > 0


def name_of(token: str) -> str:
    """The id by which a session is named."""
    return hash_token(token)[:SHOWN].hex()


def hash_token(token: str) -> bytes:
    return hashlib.sha256(token.encode()).digest()
