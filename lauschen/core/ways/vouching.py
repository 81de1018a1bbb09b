"""What passes between a guest and a host: how far it is, who is asked, and what a host may give."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from lauschen.core.ids import PlanId
from lauschen.core.limits.plan import Plan

LONGEST_WORD = 200
"""Signs of what a host says to the guest."""
HOUR_S, DAY_S = 3600, 86_400
SHORTER = (HOUR_S, 4 * HOUR_S, DAY_S, 3 * DAY_S, 7 * DAY_S)
"""What is offered besides the whole of a plan, in seconds."""


class VouchingState(StrEnum):
    """How far it is."""

    WAITING = "waiting"
    YES = "yes"
    NO = "no"
    OVER = "over"
    """Nobody answered in time."""
    TAKEN_BACK = "taken_back"
    """The guest asked somebody else instead."""


class Role(StrEnum):
    """As what somebody was asked."""

    NAMED = "named"
    """The guest named them."""
    STAND_IN = "stand_in"
    """Nobody answered in time before."""
    BY_DESK = "by_desk"
    """The desk chose them."""


@dataclass(frozen=True, slots=True)
class Length:
    """One of the lengths that a host may give."""

    plan: PlanId
    seconds: int | None
    """From the yes on; None: as long as the plan."""

    @property
    def key(self) -> str:
        """As a form names it."""
        return f"{self.plan}-{self.seconds or 0}"


def lengths(plans: Sequence[Plan], longest_s: int | None) -> list[Length]:
    """What a host may choose from, what is proposed first: of the first plan the whole and less, of others the whole.

    `longest_s`: what they may give at most; None: as much as the plans do.
    """
    found: list[Length] = []
    for plan in plans:
        whole = plan.seconds
        is_bound = longest_s is not None and (whole is None or whole > longest_s)
        found.append(Length(plan.id, longest_s if is_bound else None))
        if plan is plans[0]:
            most = longest_s if is_bound else whole
            found += [Length(plan.id, less) for less in reversed(SHORTER) if most is None or less < most]
    return found
