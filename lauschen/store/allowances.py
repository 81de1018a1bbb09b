"""Allowances: what was used of a credential, by all its devices or by one (rulings 8.7)."""

from collections.abc import Mapping, Sequence
from sqlite3 import Connection
from typing import Any

from lauschen.core.decide.grant import Grant
from lauschen.core.ids import AllowanceId, CredentialId, Mac
from lauschen.core.limits.counters import CEILING
from lauschen.core.limits.seats import Seats
from lauschen.core.limits.terms import Own
from lauschen.core.limits.use import Use
from lauschen.core.ways.kinds import WayIn

GRANT = (
    "c.way, c.plan, c.id, w.id, c.issued_at, w.first_used, coalesce(w.octets, 0), coalesce(w.given_seconds, 0),"
    " coalesce(w.given_octets, 0), c.withdrawn_at, w.data_out_at,"
    " c.valid_from, c.valid_until, c.confirm_by, c.paused_at, c.devices, c.role, c.trusted, c.seats,"
    " c.network, c.seconds, c.octets, c.down_bps, c.up_bps, c.vlan"
)
"""Columns of a credential `c` and its allowance `w`, if it has one, for `read_grant`; the last ones of a query."""
_NONE_OF_ITS_OWN = [None] * 4
_WAYS = {way.value: way for way in WayIn}
_SEATS = {seats.value: seats for seats in Seats}


def read_grant(row: Sequence[Any]) -> Grant:
    """From the columns of `GRANT`."""
    (
        way, plan, credential, allowance, issued_at, first_used, used, given_seconds, given_octets, withdrawn_at,
        data_out_at, valid_from, valid_until, confirm_by, paused_at, devices, role, trusted, seats, network,
        *own, vlan,
    ) = row  # fmt: skip
    use = Use(
        issued_at, first_used, used, given_seconds, given_octets, withdrawn_at, data_out_at, valid_from, valid_until,
        confirm_by, paused_at,
    )  # fmt: skip
    # Looked up, not called: this runs for each packet.
    return Grant(
        _WAYS[way], plan, use, credential, allowance, devices, role, trusted, _SEATS[seats], network,
        None if own == _NONE_OF_ITS_OWN else Own(*own), vlan,
    )  # fmt: skip


def begin_allowance(conn: Connection, credential: CredentialId, mac: Mac | None) -> AllowanceId:
    """The allowance of a credential, or of one device by it; nothing is used of a new one."""
    key = credential, mac
    known = conn.execute(
        "SELECT id FROM allowance WHERE credential = ? AND coalesce(mac, 0) = coalesce(?, 0)", key
    ).fetchone()
    if known is None:
        known = conn.execute(
            "INSERT INTO allowance (credential, mac) VALUES (?, ?) RETURNING id", key
        ).fetchone()
    return AllowanceId(known[0])


def start_use(conn: Connection, allowance: AllowanceId, now: float) -> None:
    """*From first use* runs from the committed decision (rulings 5.2)."""
    conn.execute("UPDATE allowance SET first_used = ? WHERE id = ? AND first_used IS NULL", (now, allowance))


def begin_anew(conn: Connection, credential: CredentialId, now: float) -> None:
    """What was begun of a credential begins now: its time, not its data."""
    conn.execute(
        "UPDATE allowance SET first_used = ? WHERE credential = ? AND first_used IS NOT NULL",
        (now, credential),
    )


def charge(conn: Connection, octets: Mapping[AllowanceId, int]) -> None:
    """Adds to what was used of each of these, up to what a number of 64 bits holds."""
    conn.executemany(
        "UPDATE allowance SET octets = min(octets + ?, ?) WHERE id = ?",
        [(min(used, CEILING), CEILING, allowance) for allowance, used in octets.items()],
    )


def note_data_out(conn: Connection, allowance: AllowanceId, at: float) -> None:
    """The last octet of it was used."""
    conn.execute("UPDATE allowance SET data_out_at = coalesce(data_out_at, ?) WHERE id = ?", (at, allowance))


def give(conn: Connection, allowance: AllowanceId, seconds: int) -> None:
    conn.execute("UPDATE allowance SET given_seconds = given_seconds + ? WHERE id = ?", (seconds, allowance))


def allowances_of(conn: Connection, credential: CredentialId) -> list[Grant]:
    """A credential with each of its allowances; without any, as it was issued."""
    rows = conn.execute(
        f"SELECT {GRANT} FROM credential c LEFT JOIN allowance w ON w.credential = c.id WHERE c.id = ?"
        " ORDER BY w.id",
        (credential,),
    )
    return [read_grant(row) for row in rows]
