"""From the house to what the room Rules and plans says, and back."""

from sqlite3 import Connection
from zoneinfo import ZoneInfo

from lauschen.api.hours import hours_out, read_hours_in
from lauschen.api.rules import models
from lauschen.api.shaping import Shaper
from lauschen.api.words.plans import plan_words
from lauschen.api.words.speaker import Speaker, way_name
from lauschen.core.config.checks import sends_rates
from lauschen.core.config.config import Config
from lauschen.core.config.reached import covered_by
from lauschen.core.config.rule import Rule
from lauschen.core.ids import NetworkId, PlanId, RoleId, RuleId
from lauschen.core.limits.plan import Plan
from lauschen.core.ways.kinds import WayIn
from lauschen.sentences.slips import slip_limits
from lauschen.store.config import plans as stored


def placement_out(shaper: Shaper) -> models.RulesOut:
    config, inside = shaper.config, stored.who_is_in_by(shaper.conn)
    return models.RulesOut(
        plans=[_plan_out(shaper, plan, inside.get(plan.id, 0)) for plan in config.offered_plans],
        rules=[_rule_out(shaper, rule) for rule in config.rules],
        last_role=config.last_role,
        roles=[models.Choice(id=r.id, name=r.name) for r in config.roles.values() if not r.is_door],
        networks=[models.Choice(id=n.id, name=n.name) for n in config.networks.values()],
        ways=list(WayIn),
    )


def plan_out(shaper: Shaper, plan: Plan) -> models.PlanFull:
    return _plan_out(shaper, plan, stored.who_is_in_by(shaper.conn).get(plan.id, 0))


def _plan_out(shaper: Shaper, plan: Plan, inside: int) -> models.PlanFull:
    return models.PlanFull(
        id=plan.id,
        name=plan.name,
        seconds=plan.seconds,
        idle_seconds=plan.idle_seconds,
        octets=plan.octets,
        devices=plan.devices,
        use_within_days=plan.use_within_days,
        down_bps=plan.down_bps,
        up_bps=plan.up_bps,
        hours=hours_out(plan.hours),
        sentence=plan_words(plan),
        slip=slip_limits(plan),
        inside=inside,
        unused=stored.unused_with(shaper.conn, plan.id),
        needed_by=_needed_by(shaper.config, plan.id),
    )


def words_out(conn: Connection, config: Config, plan: Plan) -> models.PlanWords:
    """A plan as it is typed; its id is 0 while it is new."""
    inside = stored.who_is_in_by(conn).get(plan.id, 0) if plan.id else 0
    unused = stored.unused_with(conn, plan.id) if plan.id else 0
    parts = []
    if inside:
        one = "One device is in by it and has" if inside == 1 else f"{inside} devices are in by it and have"
        parts.append(f"{one} the new limits within seconds")
    if unused:
        issued = "one voucher" if unused == 1 else f"{unused} vouchers"
        parts.append(f"{issued} that nobody used yet will have them")
    touched = "; ".join(parts)
    return models.PlanWords(
        sentence=plan_words(plan),
        slip=slip_limits(plan),
        touches=f"{touched[0].upper()}{touched[1:]}." if touched else None,
        ignored=rate_ignored(config, plan),
    )


def rate_ignored(config: Config, plan: Plan) -> list[str]:
    """Dialects in use that have no attribute for a rate."""
    if plan.down_bps is None and plan.up_bps is None:
        return []
    deaf = [config.dialects[one].name for one in config.spoken if not sends_rates(config.dialects[one])]
    return [f"{name} has no attribute for a rate, so its access devices keep none." for name in deaf]


def read_plan(plan: int, wanted: models.PlanIn, zone: ZoneInfo) -> Plan:
    return Plan(
        id=PlanId(plan),
        name=wanted.name.strip(),
        seconds=wanted.seconds,
        idle_seconds=wanted.idle_seconds,
        octets=wanted.octets,
        devices=wanted.devices,
        use_within_days=wanted.use_within_days,
        down_bps=wanted.down_bps,
        up_bps=wanted.up_bps,
        hours=read_hours_in(wanted.hours, zone),
    )


def read_rules(wanted: models.RulesIn) -> list[Rule]:
    return [
        Rule(
            id=RuleId(rule.id),
            position=place,
            network=None if rule.network is None else NetworkId(rule.network),
            way_in=rule.way_in,
            role=RoleId(rule.role),
            plan=None if rule.plan is None else PlanId(rule.plan),
        )
        for place, rule in enumerate(wanted.rules, start=1)
    ]


def _rule_out(shaper: Shaper, rule: Rule) -> models.RuleOut:
    config, speaker = shaper.config, shaper.speaker()
    wide = covered_by(rule, config.rules[: config.rules.index(rule)])
    return models.RuleOut(
        id=rule.id,
        network=rule.network,
        way_in=rule.way_in,
        plan=rule.plan,
        role=rule.role,
        sentence=f"{_asks(speaker, rule)}: {speaker.role(rule.role)}",
        never=f"never matches: rule {wide.position} catches everything before it" if wide else None,
    )


def _asks(speaker: Speaker, rule: Rule) -> str:
    """What a rule asks for, as it stands in the list."""
    parts = [f"on {speaker.network(rule.network)}"] if rule.network is not None else []
    parts += [f"in by {way_name(rule.way_in)}"] if rule.way_in else []
    parts += [f"with {speaker.plan(rule.plan)}"] if rule.plan is not None else []
    text = ", ".join(parts) or "everybody"
    return text[0].upper() + text[1:]


def _needed_by(config: Config, plan: PlanId) -> list[str]:
    ways = [n.name for n in config.networks.values() if any(way.plan == plan for way in n.ways)]
    return ways + [f"rule {rule.position}" for rule in config.rules if rule.plan == plan]
