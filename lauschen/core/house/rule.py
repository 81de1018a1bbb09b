"""Rules: conditions that lead to a role."""

from dataclasses import dataclass

from lauschen.core.ids import NetworkId, RoleId, RuleId
from lauschen.core.ways.kinds import WayIn


@dataclass(frozen=True, slots=True)
class Rule:
    """Conditions (None = any) -> role. Ordered by position, first match wins."""

    id: RuleId
    position: int
    network: NetworkId | None
    way_in: WayIn | None
    role: RoleId
