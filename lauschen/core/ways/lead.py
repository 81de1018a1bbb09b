"""What an offer leads to by one way in, before anybody looked whether it is there."""

from dataclasses import dataclass

from lauschen.core.ids import Mac, NetworkId, PlanId
from lauschen.core.ways.finder import Finder


@dataclass(frozen=True, slots=True)
class AtDoor:
    """Where and when something is offered."""

    network: NetworkId
    mac: Mac
    now: float
    rules: int
    """The version of the house rules that is in force."""


@dataclass(frozen=True, slots=True)
class Lead:
    """By what a credential is found."""

    finder: Finder
    plan: PlanId | None = None
    """Of what is issued at the door if nothing is found; None: only what was issued before counts."""
