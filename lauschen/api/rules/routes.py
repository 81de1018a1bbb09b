"""The room Rules and plans: plans in words, and rules in order."""

from fastapi import APIRouter

from lauschen.acts.config import plans as acts
from lauschen.acts.config.configuring import configured
from lauschen.api.door.asking import Configures, Id, Inspects, NeedFirst, Row, TheOffice
from lauschen.api.rules import models
from lauschen.api.rules.shapes import placement_out, plan_out, read_plan, read_rules, words_out
from lauschen.core.ids import PlanId, RoleId

router = APIRouter(tags=["rules and plans"], route_class=NeedFirst)


@router.get("/rules")
async def placement(_: Inspects, office: TheOffice) -> models.RulesOut:
    return placement_out(office.shaper())


@router.post("/plans/words")
async def words(_: Configures, office: TheOffice, wanted: models.PlanIn, plan: Row = 0) -> models.PlanWords:
    """What a plan that is being typed means, and whom it would touch; nothing is changed."""
    return words_out(office.reader, office.config, read_plan(plan, wanted, office.config.zone))


@router.post("/plans", status_code=201)
async def add_plan(actor: Configures, office: TheOffice, wanted: models.PlanIn) -> models.PlanFull:
    new = read_plan(0, wanted, office.config.zone)
    added = await office.road.act(configured(lambda tx: acts.save_plan(tx, new)), by=actor)
    return plan_out(office.shaper(), office.config.plans[added])


@router.put("/plans/{plan}")
async def change_plan(
    actor: Configures, office: TheOffice, plan: Id, wanted: models.PlanIn
) -> models.PlanFull:
    changed = read_plan(plan, wanted, office.config.zone)
    await office.road.act(configured(lambda tx: acts.save_plan(tx, changed)), by=actor)
    return plan_out(office.shaper(), office.config.plans[changed.id])


@router.delete("/plans/{plan}", status_code=204)
async def remove_plan(actor: Configures, office: TheOffice, plan: Id) -> None:
    """Hidden from now on; what was issued with it goes on."""
    gone = PlanId(plan)
    await office.road.act(configured(lambda tx: acts.remove_plan(tx, gone)), by=actor)


@router.post("/plans/{plan}/restore")
async def restore_plan(actor: Configures, office: TheOffice, plan: Id) -> models.PlanFull:
    """One that was removed can be chosen again."""
    wanted = PlanId(plan)
    await office.road.act(configured(lambda tx: acts.restore_plan(tx, wanted)), by=actor)
    return plan_out(office.shaper(), office.config.plans[wanted])


@router.put("/rules")
async def put_rules(actor: Configures, office: TheOffice, wanted: models.RulesIn) -> models.RulesOut:
    rules = read_rules(wanted)
    last = None if wanted.last_role is None else RoleId(wanted.last_role)
    await office.road.act(configured(lambda tx: acts.put_rules(tx, rules, last)), by=actor)
    return placement_out(office.shaper())
