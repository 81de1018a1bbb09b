"""The answer to one arrival, with its trace."""

from dataclasses import dataclass, field
from enum import StrEnum

from lauschen.core.decide.reason import Reason
from lauschen.core.decide.trace import TraceLine
from lauschen.core.ids import NetworkId, RoleId, RuleId
from lauschen.core.limits.left import Left


class Answer(StrEnum):
    """What an arrival gets."""

    ADMIT = "admit"
    DOOR = "door"
    REFUSE = "refuse"


@dataclass(slots=True)
class Decision:
    """Admit, door or refuse; the role; what is left; and every step that led there."""

    answer: Answer
    reason: Reason
    network: NetworkId | None = None
    role: RoleId | None = None
    rule: RuleId | None = None
    vlan: int | None = None
    """Of a private group, in place of the role's."""
    left: Left | None = None
    ended: float | None = None
    """When the limit ended that keeps it out."""
    good_until: float | None = None
    """The next moment at which the clock alone changes it; None: never."""
    trace: list[TraceLine] = field(default_factory=list)

    @property
    def mark(self) -> str:
        """Equal for decisions that say the same thing; the numbers in the trace may differ."""
        return f"{self.answer}:{self.reason}:{self.network}:{self.role}:{self.rule}"
