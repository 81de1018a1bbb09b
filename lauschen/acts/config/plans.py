"""Plans and rules: the limits of what is issued, and where whoever is let in is placed."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from lauschen.acts.config.changes import check_guest_role
from lauschen.acts.config.record import changes
from lauschen.acts.staying.everybody import reconsider_by_plan
from lauschen.core.config.checks import check_name, check_room
from lauschen.core.config.rule import Rule
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import PlanId, RoleId
from lauschen.core.limits.plan import Plan
from lauschen.road.tx import Tx
from lauschen.store.config import plans, rules, settings

MOST_RULES = 200


@dataclass(frozen=True, slots=True)
class _Rules:
    """As the record has them."""

    rules: tuple[Rule, ...]
    role: RoleId | None


def save_plan(tx: Tx, plan: Plan) -> PlanId:
    """A new one when its id is 0. Whoever is in by it has the new limits at the next look, some seconds later."""
    check_name("plan", plan.name, plan.id, tx.config.offered_plans)
    if plan.id == 0:
        check_room("plan", len(tx.config.offered_plans))
        plan = replace(plan, id=plans.add_plan(tx.conn, plan))
    else:
        _there(tx, plan.id)
        plans.save_plan(tx.conn, plan)
        reconsider_by_plan(tx, plan.id)
    facts = {"name": plan.name, **changes(tx.config, tx.config.plans.get(plan.id), plan)}
    tx.log("plan_saved", facts=facts)
    return plan.id


def remove_plan(tx: Tx, plan: PlanId) -> None:
    """Hidden: what was issued with it goes on. Invalid while a way in or a rule names it."""
    found = _there(tx, plan)
    for network in tx.config.networks.values():
        if any(way.plan == plan for way in network.ways):
            raise Invalid("plan_in_use", field="name", mend=f"A way in on {network.name} gives it.")
    rule = next((rule for rule in tx.config.rules if rule.plan == plan), None)
    if rule is not None:
        raise Invalid("plan_in_use", field="name", mend=f"Rule {rule.position} asks for it.")
    plans.remove_plan(tx.conn, plan, tx.now)
    tx.log("plan_removed", facts={"name": found.name})


def restore_plan(tx: Tx, plan: PlanId) -> None:
    """Takes its removal back. Invalid when another one has its name by now."""
    found = tx.config.plans.get(plan)
    if found is None:
        raise NotThere("plan")
    if not found.is_removed:
        return
    check_name("plan", found.name, found.id, tx.config.offered_plans)
    check_room("plan", len(tx.config.offered_plans))
    plans.remove_plan(tx.conn, plan, None)
    tx.log("plan_restored", facts={"name": found.name})


def put_rules(tx: Tx, wanted: Sequence[Rule], last_role: RoleId | None) -> None:
    """All rules in their order, and the last one, which always matches. Whoever is inside is placed anew by them."""
    if len(wanted) > MOST_RULES:
        raise Invalid("rules_many", field="rules", mend=f"At most {MOST_RULES} rules.")
    known = {rule.id for rule in tx.config.rules}
    for rule in wanted:
        if rule.id and rule.id not in known:
            raise NotThere("rule")
        if rule.network is not None and rule.network not in tx.config.networks:
            raise Invalid("rule_network", field="rules", mend="Choose a network that is there.")
        if rule.plan is not None and rule.plan not in tx.config.plans:
            raise Invalid("rule_plan", field="rules", mend="Choose a plan that is there.")
        check_guest_role(tx, rule.role, field="rules")
    if last_role is not None:
        check_guest_role(tx, last_role, field="rules")
    rules.put_rules(tx.conn, wanted)
    settings.set_last_role(tx.conn, last_role)
    reconsider_by_plan(tx, None)
    before, after = (
        _Rules(*one) for one in ((tx.config.rules, tx.config.last_role), (tuple(wanted), last_role))
    )
    tx.log("rules_saved", facts={"count": len(wanted), **changes(tx.config, before, after)})


def _there(tx: Tx, plan: PlanId) -> Plan:
    found = tx.config.plans.get(plan)
    if found is None or found.is_removed:
        raise NotThere("plan")
    return found
