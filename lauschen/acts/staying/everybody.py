"""The configuration changed: everybody who is in by it is looked at again, a slice at a time."""

from lauschen.acts.mass.intents import Walk, begin_later
from lauschen.acts.staying.reconsidering import reconsider
from lauschen.core.decide.standing import Standing, State
from lauschen.core.ids import NetworkId, PlanId
from lauschen.road.tx import Tx
from lauschen.store import devices
from lauschen.store.moving.intents import Intent


def reconsider_by_plan(tx: Tx, plan: PlanId | None) -> None:
    """Reconsider every device admitted with this plan, or with any plan."""
    begin_later(tx, BY_PLAN, plan or 0)


def reconsider_on_network(tx: Tx, network: NetworkId) -> None:
    """Reconsider every device with an open admission on this network."""
    begin_later(tx, BY_NETWORK, network)


def _by_plan(tx: Tx, intent: Intent, standing: Standing) -> None:
    if _may_be_in(standing) and (intent.key == 0 or _plan_of(tx, standing) == intent.key):
        reconsider(tx, standing)


def _on_network(tx: Tx, intent: Intent, standing: Standing) -> None:
    if _may_be_in(standing) and standing.network == intent.key:
        reconsider(tx, standing)


def _may_be_in(standing: Standing) -> bool:
    return standing.admission is not None and standing.state is not State.LEFT


def _plan_of(tx: Tx, standing: Standing) -> PlanId | None:
    found = devices.open_admission_of(tx.conn, standing.mac, standing.network)
    return None if found is None else found.grant.plan


BY_PLAN = Walk("reconsider_plan", _by_plan)
BY_NETWORK = Walk("reconsider_network", _on_network)
