"""The answer to one arrival, with its trace."""

from dataclasses import dataclass, field
from enum import StrEnum

from lauschen.core.decide.picture import Reason
from lauschen.core.ids import NetworkId, RoleId, RuleId
from lauschen.core.limits.left import Left


class Answer(StrEnum):
    """What an arrival gets."""

    ADMIT = "admit"
    DOOR = "door"
    REFUSE = "refuse"


class Step(StrEnum):
    """The steps of the decision in the order of reading."""

    NETWORK = "network"
    DEVICE = "device"
    BARS = "bars"
    CREDENTIAL = "credential"
    LIMITS = "limits"
    PLACEMENT = "placement"


TraceLine = tuple[str | int | float | None, ...]
"""A step, what it found, and the numbers; worded on reading by `words.trace_lines`."""


@dataclass(slots=True)
class Decision:
    """Admit, door or refuse; the role; what is left; and every step that led there."""

    answer: Answer
    reason: Reason
    network: NetworkId | None = None
    role: RoleId | None = None
    rule: RuleId | None = None
    left: Left | None = None
    trace: list[TraceLine] = field(default_factory=list)

    @property
    def mark(self) -> str:
        """Equal for decisions that say the same thing; the numbers in the trace may differ."""
        return f"{self.answer}:{self.reason}:{self.network}:{self.role}:{self.rule}"
