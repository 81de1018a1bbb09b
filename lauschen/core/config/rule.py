"""Rules: conditions that lead to a role."""

from dataclasses import dataclass

from lauschen.core.ids import NetworkId, PlanId, RoleId, RuleId
from lauschen.core.ways.kinds import WayIn


@dataclass(frozen=True, slots=True)
class Rule:
    """Conditions (None = any) -> role. Ordered by position, first match wins."""

    id: RuleId
    position: int
    network: NetworkId | None
    way_in: WayIn | None
    role: RoleId
    plan: PlanId | None = None

    def fits(self, network: NetworkId, way_in: WayIn, plan: PlanId) -> bool:
        return self.network in (None, network) and self.way_in in (None, way_in) and self.plan in (None, plan)
