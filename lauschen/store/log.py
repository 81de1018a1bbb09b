"""The log: decisions and whatever else was heard, in one order of ids."""

import json
from collections.abc import Iterable
from dataclasses import dataclass
from sqlite3 import Connection
from typing import Any

from lauschen.core.actor import Actor, ActorKind
from lauschen.core.ids import AccessDeviceId, Mac, NetworkId, RoleId, RuleId
from lauschen.store.db import walk

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
    before: int | None = None
    """The row of this device's decision before, on the same network."""
    repeats: int = 0
    config: int | None = None
    """The version of the configuration that it was made by."""
    hints: str | None = None
    """JSON: what the request said of where it comes from."""


@dataclass(slots=True)
class EventRow:
    """One event that is not a decision."""

    id: int
    at: float
    kind: str
    mac: Mac | None
    network: NetworkId | None
    access_device: AccessDeviceId | None
    actor: Actor | None
    """Who acted, if anybody did."""
    facts: Facts


LogRow = DecisionRow | EventRow


@dataclass(frozen=True, slots=True)
class Kept:
    """From when on events are kept (UTC epoch seconds)."""

    log: float
    acts_on_devices: float
    """What was done by the house to a guest's device."""
    acts: float
    """What else was done by the house."""


MARK = "log"
OF_HOUSE = (ActorKind.PERSON, ActorKind.TOKEN, ActorKind.COMMAND_LINE)
"""Who acts for the house: their acts are kept longer than what guests and devices did."""
_EVENT = "id, at, kind, mac, network, access_device, actor, staff, facts, source"


def last_log_id(conn: Connection) -> int:
    """The greatest that was ever given, also when its row is forgotten: others name it."""
    row = conn.execute(
        "SELECT max(coalesce((SELECT max(id) FROM decision), 0), coalesce((SELECT max(id) FROM event), 0),"
        f" coalesce((SELECT id FROM id_mark WHERE what = '{MARK}'), 0))"
    ).fetchone()
    return int(row[0])


def newest_record(conn: Connection) -> float | None:
    """When the last row of the log was written (UTC epoch seconds), by the clock as it was then."""
    newest = [
        row
        for table in ("decision", "event")
        for row in conn.execute(f"SELECT id, at FROM {table} ORDER BY id DESC LIMIT 1")
    ]
    return max(newest)[1] if newest else None


def add_decisions(conn: Connection, rows: Iterable[DecisionRow]) -> None:
    conn.executemany(
        "INSERT INTO decision (id, at, mac, network, access_device, medium, answer, reason, role, rule, until,"
        " trace, before, house, hints) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        [
            (r.id, r.at, r.mac, r.network, r.access_device, r.medium, r.answer, r.reason, r.role, r.rule,
             r.until, r.trace, r.before, r.config, r.hints)
            for r in rows
        ],
    )  # fmt: skip


def set_repeats(conn: Connection, counted: Iterable[tuple[int, int]]) -> None:
    """How often a decision (second) was given again (first), once that is not counted in a standing."""
    conn.executemany("UPDATE decision SET repeats = ? WHERE id = ?", counted)


def add_events(conn: Connection, rows: Iterable[EventRow]) -> None:
    conn.executemany(
        "INSERT INTO event (id, at, kind, mac, network, access_device, actor, staff, facts, source)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        [
            (
                r.id,
                r.at,
                r.kind,
                r.mac,
                r.network,
                r.access_device,
                r.actor.kind if r.actor else None,
                r.actor.staff if r.actor else None,
                json.dumps(r.facts),
                r.actor.source or None if r.actor else None,
            )
            for r in rows
        ],
    )


_REPEATED = (
    "SELECT d.id, d.at, d.mac, d.network, d.access_device, d.medium, d.answer, d.reason, d.role, d.rule, d.until,"
    " d.trace, d.before, coalesce(s.repeats, d.repeats), d.house, d.hints FROM {source}"
    " LEFT JOIN standing s ON s.mac = d.mac AND s.network = d.network AND s.decision = d.id"
)
_ALL = _REPEATED.format(source="decision d") + " WHERE d.id < ? ORDER BY d.id DESC LIMIT ?"
# From the last decision of each of the device's standings back to the one before, and so on; and what refused it.
_OF_DEVICE = (
    "WITH RECURSIVE chain(id) AS (SELECT decision FROM standing WHERE mac = ?1 AND decision IS NOT NULL"
    # Looked up, not joined: with statistics SQLite would read the whole table first, into a filter for the join.
    " UNION ALL SELECT (SELECT before FROM decision WHERE id = chain.id) FROM chain WHERE chain.id IS NOT NULL"
    " ORDER BY 1 DESC LIMIT ?2), refused(id) AS (SELECT id FROM decision WHERE mac = ?1 AND answer = 'refuse'"
    " ORDER BY id DESC LIMIT ?2), both(id) AS (SELECT id FROM chain UNION SELECT id FROM refused) "
    + _REPEATED.format(source="decision d")
    + " WHERE d.id IN (SELECT id FROM both) ORDER BY d.id DESC"
)


def log_before(conn: Connection, before: int | None, at_most: int) -> list[LogRow]:
    """Newest first, from the row before `before`."""
    edge = before if before is not None else 1 << 62
    decisions = conn.execute(_ALL, (edge, at_most))
    events = conn.execute(
        f"SELECT {_EVENT} FROM event WHERE id < ? ORDER BY id DESC LIMIT ?", (edge, at_most)
    )
    return _merge(decisions, events, at_most)


def log_of_device(conn: Connection, mac: Mac, at_most: int) -> list[LogRow]:
    """Newest first: what was heard of one device, and what was decided about it."""
    decisions = conn.execute(_OF_DEVICE, (mac, at_most))
    events = conn.execute(
        f"SELECT {_EVENT} FROM event WHERE mac = ? ORDER BY id DESC LIMIT ?", (mac, at_most)
    )
    return _merge(decisions, events, at_most)


def _merge(decisions: Iterable[Any], events: Iterable[Any], at_most: int) -> list[LogRow]:
    rows: list[LogRow] = [DecisionRow(*row) for row in decisions]
    rows += [_event(row) for row in events]
    rows.sort(key=lambda r: r.id, reverse=True)
    return rows[:at_most]


def _event(row: tuple[Any, ...]) -> EventRow:
    id, at, kind, mac, network, access_device, who, staff, facts, source = row
    actor = None if who is None else Actor(ActorKind(who), staff, source or "")
    return EventRow(id, at, kind, mac, network, access_device, actor, json.loads(facts))


def acts_before(
    conn: Connection, kinds: Iterable[ActorKind], before: int | None, at_most: int, staff: int | None = None
) -> list[EventRow]:
    """The activity record, newest first: what actors of these kinds did, or one of `staff` alone."""
    edge = before if before is not None else 1 << 62
    rows = [
        _event(row)
        for kind in kinds
        for row in conn.execute(
            f"SELECT {_EVENT} FROM event WHERE actor = ?1 AND id < ?2 AND (?3 IS NULL OR staff = ?3)"
            " ORDER BY id DESC LIMIT ?4",
            (kind, edge, staff, at_most),
        )
    ]
    rows.sort(key=lambda row: row.id, reverse=True)
    return rows[:at_most]


def events_since(conn: Connection, kinds: tuple[str, ...], since: float, among: int) -> list[EventRow]:
    """Events of these kinds since then among the last rows of the log, newest first."""
    marks = ", ".join("?" * len(kinds))
    return [
        _event(row)
        for row in conn.execute(
            f"SELECT {_EVENT} FROM event WHERE id > (SELECT max(id) FROM event) - ? AND at > ?"
            f" AND kind IN ({marks}) ORDER BY id DESC",
            (among, since, *kinds),
        )
    ]


def forget_events(conn: Connection, kept: Kept, after: int, at_most: int) -> tuple[int, int]:
    """Retention, among the next rows in order of id (`db.walk`)."""
    last = last_log_id(conn)
    marks = ", ".join(f"'{kind}'" for kind in OF_HOUSE)
    is_old = (
        f"at < ?1 AND (actor IS NULL OR actor NOT IN ({marks})"
        f" OR at < iif(mac IS NULL, {kept.acts!r}, {kept.acts_on_devices!r}))"
    )
    gone, walked_to = walk(conn, "event", "at", is_old, kept.log, after, at_most)
    if gone:
        mark_last(conn, last)
    return gone, walked_to


def forget_names(conn: Connection, after: int, at_most: int) -> None:
    """In the next rows, remove guests' names from acts whose credential or batch has been deleted."""
    conn.execute(
        "UPDATE event SET facts = json_remove(facts, '$.name') WHERE id IN (SELECT id FROM ("
        " SELECT id, facts ->> '$.batch' AS issued, facts ->> '$.voucher' AS one FROM ("
        " SELECT id, facts FROM event WHERE id > ? ORDER BY id LIMIT ?)"
        " WHERE facts ->> '$.name' IS NOT NULL)"
        " WHERE (issued IS NOT NULL AND NOT EXISTS (SELECT 1 FROM credential c WHERE c.batch = issued))"
        " OR (one IS NOT NULL AND NOT EXISTS (SELECT 1 FROM credential c WHERE c.id = one)))",
        (after, at_most),
    )


def mark_last(conn: Connection, last: int) -> None:
    """With what was forgotten: the greatest id before that is never given again."""
    conn.execute(
        "INSERT INTO id_mark (what, id) VALUES (?, ?) ON CONFLICT (what) DO UPDATE SET id = max(id, excluded.id)",
        (MARK, last),
    )
