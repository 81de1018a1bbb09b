"""What a house went through, for a demo that has a past: rows with their own ids and moments."""

from collections.abc import Iterator
from itertools import islice
from sqlite3 import Connection
from typing import Any

from lauschen.core.ids import RoleId
from lauschen.store.db import atomic

SLICE = 20_000
DEVICES = "INSERT INTO device (mac, first_heard, typing_barred_until) VALUES (?, ?, ?)"
ALLOWANCES = (
    "INSERT INTO allowance (id, credential, first_used, octets, given_seconds, data_out_at)"
    " VALUES (?, ?, ?, ?, ?, ?)"
)
ADMISSIONS = (
    "INSERT INTO admission (id, mac, network, allowance, token, begun, ended, end_reason, seat_since, offered)"
    " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
)
PLACEMENTS = (
    "INSERT INTO placement (id, mac, network, access_device, role, admission, begun, ended)"
    " VALUES (?, ?, ?, ?, ?, ?, ?, ?)"
)
EVENTS = (
    "INSERT INTO event (id, at, kind, mac, network, access_device, facts, actor, staff, source)"
    " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
)
STANDINGS = (
    "INSERT INTO standing (mac, network, state, since, reason, reason_at, access_device, session_id, spelled,"
    " source, role, framed_ip, last_heard, page_opened, code_tried, admission, reconsider_at, decision, decision_at,"
    " decision_mark, repeats) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
)
STAYS = (
    "INSERT INTO stay (mac, network, access_device, nas_identifier, session_id, started, last_event, session_time,"
    " in_raw, in_octets, out_raw, out_octets, framed_ip, ended, end_cause, root, multi_session_id, user, gap, bssid,"
    " nas_address, packets, octets_per_s, day, day_octets)"
    " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
)
DECISIONS = (
    "INSERT INTO decision (id, at, mac, network, access_device, medium, answer, reason, role, rule, until, trace,"
    " repeats, before, house, hints) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
)
WANTED = (
    "INSERT INTO wanted (mac, network, revision, state, role, admission, until, since)"
    " VALUES (?, ?, ?, ?, ?, ?, ?, ?)"
)
AT_PLACES = (
    "INSERT INTO place (mac, network, access_device, session_id, spelled, source, role, admission, until, seen_at,"
    " seen_by, revision, tries, next_at, last_answer, last_answer_at, over_at)"
    " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
)
VISITS = (
    "INSERT INTO visit (id_hash, mac, network, access_device, going, opened_at, expires, admission, last_answer,"
    " last_answer_at, proof, source, barred_until) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 'token', ?, ?)"
)
ADDRESSES = "INSERT INTO address (mac, text, source, seen) VALUES (?, ?, ?, ?)"
TRIES = "INSERT INTO wrong_try (at, network, source, visit, mac) VALUES (?, ?, ?, ?, ?)"


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
    conn.execute("UPDATE batch SET unused = size - used - withdrawn")
