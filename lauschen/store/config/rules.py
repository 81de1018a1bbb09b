"""Rules: conditions that lead to a role, in their order."""

from collections.abc import Iterable
from sqlite3 import Connection

from lauschen.core.config.rule import Rule
from lauschen.core.ids import NetworkId, PlanId, RoleId, RuleId
from lauschen.core.ways.kinds import WayIn


def load_rules(conn: Connection) -> list[Rule]:
    return [
        Rule(i, position, network, WayIn(way_in) if way_in else None, role, plan)
        for i, position, network, way_in, role, plan in conn.execute(
            "SELECT id, position, network, way_in, role, plan FROM rule ORDER BY position"
        )
    ]


def add_rule(
    conn: Connection,
    *,
    role: RoleId,
    network: NetworkId | None = None,
    way_in: WayIn | None = None,
    plan: PlanId | None = None,
) -> RuleId:
    """Appends a rule after the last one."""
    row = conn.execute(
        "INSERT INTO rule (position, network, way_in, role, plan)"
        " VALUES ((SELECT coalesce(max(position), 0) + 1 FROM rule), ?, ?, ?, ?) RETURNING id",
        (network, way_in, role, plan),
    ).fetchone()
    return RuleId(row[0])


def put_rules(conn: Connection, rules: Iterable[Rule]) -> None:
    """All rules, in this order, in place of those before; one whose id is 0 is new, the others keep theirs."""
    wanted = list(rules)
    kept = [rule.id for rule in wanted if rule.id]
    marks = ", ".join("?" * len(kept))
    conn.execute(f"DELETE FROM rule WHERE id NOT IN ({marks})", kept)
    conn.execute("UPDATE rule SET position = -position")  # no two have the same place meanwhile
    for place, rule in enumerate(wanted, start=1):
        values = (place, rule.network, rule.way_in, rule.role, rule.plan)
        if rule.id:
            conn.execute(
                "UPDATE rule SET position = ?, network = ?, way_in = ?, role = ?, plan = ? WHERE id = ?",
                (*values, rule.id),
            )
        else:
            conn.execute(
                "INSERT INTO rule (position, network, way_in, role, plan) VALUES (?, ?, ?, ?, ?)", values
            )
