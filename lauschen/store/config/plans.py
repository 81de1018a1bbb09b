"""Plans: the limits of what is issued. A removed one is kept, since what was issued with it goes on."""

import json
from sqlite3 import Connection
from zoneinfo import ZoneInfo

from lauschen.core.ids import PlanId
from lauschen.core.limits.hours import read_hours, write_hours
from lauschen.core.limits.plan import Plan
from lauschen.store.db import insert

_LIMITS = "name, seconds, idle_seconds, octets, devices, use_within_days, down_bps, up_bps, hours"


def load_plans(conn: Connection, zone: ZoneInfo) -> list[Plan]:
    """Their hours are those of the site's zone."""
    plans = []
    rows = conn.execute(f"SELECT id, {_LIMITS}, removed_at IS NOT NULL FROM plan ORDER BY id")
    for id, name, seconds, idle, octets, devices, within, down, up, stored, is_removed in rows:
        hours = read_hours(json.loads(stored) if stored else None, zone)
        plans.append(
            Plan(id, name, seconds, idle, octets, devices, within, down, up, hours, bool(is_removed))
        )
    return plans


def add_plan(conn: Connection, plan: Plan) -> PlanId:
    """Its id is given here."""
    sql = f"INSERT INTO plan ({_LIMITS}) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)"
    return PlanId(insert(conn, "plan", "name", sql, _limits(plan)))


def save_plan(conn: Connection, plan: Plan) -> None:
    marks = ", ".join(f"{column} = ?" for column in _LIMITS.split(", "))
    insert(conn, "plan", "name", f"UPDATE plan SET {marks} WHERE id = ?", (*_limits(plan), plan.id))


def remove_plan(conn: Connection, plan: PlanId, at: float | None) -> None:
    """`at` None: it can be chosen again."""
    conn.execute("UPDATE plan SET removed_at = ? WHERE id = ?", (at, plan))


def who_is_in_by(conn: Connection) -> dict[PlanId, int]:
    """Return how many devices are let in by something with each plan; those that nobody is in by are left out."""
    rows = conn.execute(
        "SELECT c.plan, count(*) FROM admission a INDEXED BY admission_open"
        " CROSS JOIN allowance w ON w.id = a.allowance"
        " CROSS JOIN credential c ON c.id = w.credential WHERE a.ended IS NULL GROUP BY c.plan"
    )
    return dict(rows.fetchall())


def unused_with(conn: Connection, plan: PlanId) -> int:
    """Return how many were issued with this plan that nobody used and nobody withdrew."""
    row = conn.execute(
        "SELECT total(unused) FROM batch INDEXED BY batch_unused WHERE plan = ? AND unused > 0 AND is_valid",
        (plan,),
    ).fetchone()
    return int(row[0])


def _limits(plan: Plan) -> tuple[str | int | None, ...]:
    return (
        plan.name,
        plan.seconds,
        plan.idle_seconds,
        plan.octets,
        plan.devices,
        plan.use_within_days,
        plan.down_bps,
        plan.up_bps,
        None if plan.hours is None else json.dumps(write_hours(plan.hours)),
    )
