"""What a house went through, for a demo that has a past: rows with their own ids and moments."""

from collections.abc import Iterator
from itertools import islice
from sqlite3 import Connection
from typing import Any

from lauschen.core.ids import RoleId
from lauschen.store.db import atomic

SLICE = 20_000
DEVICES = "INSERT INTO device (mac, first_heard) VALUES (?, ?)"
ALLOWANCES = "INSERT INTO allowance (id, credential, first_used, octets) VALUES (?, ?, ?, ?)"
ADMISSIONS = (
    "INSERT INTO admission (id, mac, network, allowance, token, begun, ended, end_reason, seat_since)"
    " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)"
)
EVENTS = (
    "INSERT INTO event (id, at, kind, mac, network, access_device, facts) VALUES (?, ?, ?, ?, ?, ?, '{}')"
)
STANDINGS = (
    "INSERT INTO standing (mac, network, state, since, access_device, session_id, spelled, role, framed_ip,"
    " last_heard, admission, decision) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
)
STAYS = (
    "INSERT INTO stay (mac, network, access_device, nas_identifier, session_id, started, last_event, in_octets,"
    " out_octets, ended, octets_per_s, day, day_octets) VALUES (?, ?, ?, '', ?, ?, ?, ?, ?, ?, ?, ?, ?)"
)
DECISIONS = (
    "INSERT INTO decision (id, at, mac, network, access_device, medium, answer, reason, role, trace, before)"
    " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
)


def add_all(conn: Connection, into: str, rows: Iterator[tuple[Any, ...]]) -> None:
    """`into`: one of the statements above."""
    while part := list(islice(rows, SLICE)):
        with atomic(conn):
            conn.executemany(into, part)


def first_guest_role(conn: Connection) -> RoleId:
    return RoleId(conn.execute("SELECT min(id) FROM role WHERE NOT is_door").fetchone()[0])


def count_used(conn: Connection) -> None:
    """Of each batch, as triggers would have counted."""
    conn.execute(
        "UPDATE batch SET used = (SELECT count(*) FROM credential c JOIN allowance w ON w.credential = c.id"
        " AND w.first_used IS NOT NULL WHERE c.batch = batch.id)"
    )
