"""The log: decisions and whatever else was heard, in one order of ids."""

import json
from collections.abc import Iterable
from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import AccessDeviceId, Mac, NetworkId, RoleId, RuleId, StaffId

Facts = dict[str, str | int | float | None]


@dataclass(slots=True)
class DecisionRow:
    """One answer, stored as codes and numbers; `words` makes sentences of it."""

    id: int
    at: float
    mac: Mac
    network: NetworkId | None
    access_device: AccessDeviceId
    medium: str
    answer: str
    reason: str
    role: RoleId | None
    rule: RuleId | None
    until: float | None
    trace: str
    """JSON: a list of trace lines."""
    repeats: int = 0


@dataclass(slots=True)
class HeardRow:
    """One thing heard that is not a decision."""

    id: int
    at: float
    kind: str
    mac: Mac | None
    network: NetworkId | None
    access_device: AccessDeviceId | None
    staff: StaffId | None
    facts: Facts


LogRow = DecisionRow | HeardRow

_DECISION = "id, at, mac, network, access_device, medium, answer, reason, role, rule, until, trace, repeats"
_HEARD = "id, at, kind, mac, network, access_device, staff, facts"


def last_log_id(conn: Connection) -> int:
    row = conn.execute(
        "SELECT max(coalesce((SELECT max(id) FROM decision), 0), coalesce((SELECT max(id) FROM heard), 0))"
    ).fetchone()
    return int(row[0])


def add_decisions(conn: Connection, rows: Iterable[DecisionRow]) -> None:
    conn.executemany(
        "INSERT INTO decision (id, at, mac, network, access_device, medium, answer, reason, role, rule, until,"
        " trace, repeats) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        [
            (r.id, r.at, r.mac, r.network, r.access_device, r.medium, r.answer, r.reason, r.role, r.rule,
             r.until, r.trace, r.repeats)
            for r in rows
        ],
    )  # fmt: skip


def repeat_decision(conn: Connection, decision: int) -> None:
    """The same answer again within a minute raises a counter (rulings 1.4)."""
    conn.execute("UPDATE decision SET repeats = repeats + 1 WHERE id = ?", (decision,))


def add_heard(conn: Connection, rows: Iterable[HeardRow]) -> None:
    conn.executemany(
        "INSERT INTO heard (id, at, kind, mac, network, access_device, staff, facts)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
        [(r.id, r.at, r.kind, r.mac, r.network, r.access_device, r.staff, json.dumps(r.facts)) for r in rows],
    )


def log_before(conn: Connection, before: int | None, at_most: int, mac: Mac | None = None) -> list[LogRow]:
    """Newest first, from the row before `before`; of one device if `mac` is given."""
    edge = before if before is not None else 1 << 62
    which, values = (
        ("id < ?", (edge, at_most)) if mac is None else ("mac = ? AND id < ?", (mac, edge, at_most))
    )
    tail = f"WHERE {which} ORDER BY id DESC LIMIT ?"
    rows: list[LogRow] = [
        DecisionRow(*row) for row in conn.execute(f"SELECT {_DECISION} FROM decision {tail}", values)
    ]
    rows += [
        HeardRow(row[0], row[1], row[2], row[3], row[4], row[5], row[6], json.loads(row[7]))
        for row in conn.execute(f"SELECT {_HEARD} FROM heard {tail}", values)
    ]
    rows.sort(key=lambda r: r.id, reverse=True)
    return rows[:at_most]


def forget_log(conn: Connection, before: float, at_most: int) -> int:
    """Retention, a slice at a time. Ids rise with time, so the oldest come first."""
    gone = 0
    for table in ("decision", "heard"):
        gone += conn.execute(
            f"DELETE FROM {table} WHERE id IN"
            f" (SELECT id FROM (SELECT id, at FROM {table} ORDER BY id LIMIT ?) WHERE at < ?)",
            (at_most, before),
        ).rowcount
    return gone
