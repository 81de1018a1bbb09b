"""What an offer leads to by one way in, before anybody looked whether it is there."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

from lauschen.core.ids import Mac, NetworkId, PlanId, RoleId, TrustedId
from lauschen.core.words.plain import plain_words


class Finder(NamedTuple):
    """What leads to a credential: stored by keyed hash; a credential may have several (rulings 8.7)."""

    kind: str
    """`code`, `agreed`: texts of different kinds never meet."""
    text: str


@dataclass(frozen=True, slots=True)
class GoodPasscode:
    """A passcode that is good now."""

    text: str
    """As it is told to guests."""
    since: float
    until: float | None
    """None: as long as nobody changes it."""

    @property
    def words(self) -> str:
        """As it is compared."""
        return plain_words(self.text)


# These two are made for each thing that is offered: frozen ones take twice as long to make.
@dataclass(slots=True)
class AtDoor:
    """Where and when something is offered."""

    network: NetworkId
    mac: Mac
    now: float
    rules: int
    """The version of the house rules that is in force."""
    passcodes: Sequence[GoodPasscode] = ()
    """Those of this network that are good now."""


@dataclass(slots=True)
class Lead:
    """By what a credential is found."""

    finder: Finder
    plan: PlanId | None = None
    """Of what is issued at the door if nothing is found; None: only what was issued before counts."""
    role: RoleId | None = None
    """What is issued at the door is placed so, whatever the rules say."""
    trusted: TrustedId | None = None
    """Which of the trusted it stands for."""
    anew_before: float | None = None
    """What was first used before this is not continued: another one is issued."""
