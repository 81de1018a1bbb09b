"""Mass work that is under way: what is done to each of many targets, how far it is, and on whose behalf."""

import json
from collections.abc import Sequence
from dataclasses import dataclass, field
from sqlite3 import Connection
from typing import Any

from lauschen.core.actor import Actor, ActorKind
from lauschen.core.ids import AccessDeviceId
from lauschen.store.log import Facts

RESTARTED = "restarted"
"""An access device said that it began anew or stops: its stays that began before are over."""
Target = list[int]
PART = 50
"""Targets that stand together."""


@dataclass(slots=True)
class Intent:
    """Targets are fixed when it is written: what comes between two slices is not taken for old."""

    id: int
    kind: str
    key: int
    """The access device or credential that it is about."""
    at: float
    """When it was written."""
    actor: Actor | None
    facts: Facts
    size: int
    """How many targets there are."""
    done: int = 0
    """So many of the targets were tried."""
    failed: list[int] = field(default_factory=list)
    """Positions of those that raised."""
    is_walked: bool = False
    """All were tried, where it walks over everybody."""


_INTENT = (
    "SELECT i.id, i.kind, i.key, i.at, i.actor, i.staff, i.facts, i.size, p.done, p.failed, p.is_walked"
    " FROM intent i JOIN intent_progress p ON p.intent = i.id"
)


def add_intent(
    conn: Connection,
    kind: str,
    key: int,
    targets: Sequence[Target],
    facts: Facts,
    actor: Actor | None,
    now: float,
) -> Intent:
    row = conn.execute(
        "INSERT INTO intent (kind, key, at, actor, staff, facts, size) VALUES (?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (
            kind, key, now, actor.kind if actor else None, actor.staff if actor else None, json.dumps(facts),
            len(targets),
        ),
    ).fetchone()  # fmt: skip
    conn.execute(
        "INSERT INTO intent_progress (intent, done, failed, due_at) VALUES (?, 0, '[]', ?)", (row[0], now)
    )
    parts = [
        (row[0], part, json.dumps(targets[part * PART : (part + 1) * PART]))
        for part in range(-(-len(targets) // PART))
    ]
    conn.executemany("INSERT INTO intent_targets VALUES (?, ?, ?)", parts)
    return Intent(row[0], kind, key, now, actor, facts, len(targets))


def targets_of(conn: Connection, intent: int, position: int) -> list[Target]:
    """Return the targets from this position on, as far as they stand together."""
    row = conn.execute(
        "SELECT targets FROM intent_targets WHERE intent = ? AND part = ?", (intent, position // PART)
    ).fetchone()
    found: list[Target] = json.loads(row[0])
    return found[position % PART :]


def next_due(conn: Connection, now: float) -> Intent | None:
    """Return the one that has waited longest."""
    row = conn.execute(
        "SELECT intent FROM intent_progress WHERE due_at <= ? ORDER BY due_at, intent LIMIT 1", (now,)
    ).fetchone()
    return None if row is None else _read(conn.execute(f"{_INTENT} WHERE i.id = ?", row).fetchone())


def is_any_due(conn: Connection, now: float) -> bool:
    return (
        conn.execute("SELECT 1 FROM intent_progress WHERE due_at <= ? LIMIT 1", (now,)).fetchone() is not None
    )


def facts_of(conn: Connection, kind: str, key: int) -> list[Facts]:
    """Return what was written with those of one kind about one access device or credential."""
    rows = conn.execute("SELECT facts FROM intent WHERE kind = ? AND key = ? ORDER BY id", (kind, key))
    return [json.loads(facts) for (facts,) in rows]


def restarting(conn: Connection) -> frozenset[AccessDeviceId]:
    """Return the access devices whose stays are being closed."""
    rows = conn.execute("SELECT DISTINCT key FROM intent WHERE kind = ?", (RESTARTED,))
    return frozenset(AccessDeviceId(key) for (key,) in rows)


def save_progress(conn: Connection, intent: Intent, due_at: float) -> None:
    conn.execute(
        "UPDATE intent_progress SET done = ?, failed = ?, is_walked = ?, due_at = ? WHERE intent = ?",
        (intent.done, json.dumps(intent.failed), intent.is_walked, due_at, intent.id),
    )


def remove_intent(conn: Connection, intent: int) -> None:
    conn.execute("DELETE FROM intent WHERE id = ?", (intent,))


def remove_of(conn: Connection, kind: str, key: int, reason: str | None = None) -> None:
    """Remove what is under way for one credential; with `reason`, only what is done for that one."""
    conn.execute(
        "DELETE FROM intent WHERE kind = ?1 AND key = ?2 AND (?3 IS NULL OR json_extract(facts, '$.reason') = ?3)",
        (kind, key, reason),
    )


def _read(row: tuple[Any, ...]) -> Intent:
    number, kind, key, at, actor, staff, facts, size, done, failed, walked = row
    by = None if actor is None else Actor(ActorKind(actor), staff)
    said, raised = json.loads(facts), json.loads(failed)
    return Intent(number, kind, key, at, by, said, size, done, raised, bool(walked))
