"""What the decision looks at besides the arrival: the facts about its device and credential.

Slots without `frozen`: these are made for each packet (rulings 1.3 has the price).
"""

from dataclasses import dataclass

from lauschen.core.config.config import Config
from lauschen.core.decide.arrival import Medium
from lauschen.core.decide.decision import Decision
from lauschen.core.decide.grant import Grant
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import Standing
from lauschen.core.ids import AdmissionId


@dataclass(slots=True)
class AdmissionFacts:
    """That a device got in by a grant."""

    id: AdmissionId
    grant: Grant
    has_seat: bool
    begun: float
    """When it logged in, UTC epoch seconds."""
    rules: int | None
    """The version of the house rules that was agreed to, where they were."""
    token: str
    """Random; sent as Class and Chargeable-User-Identity, and says nothing about anybody."""


@dataclass(slots=True)
class Picture:
    """The configuration and the facts about this device and credential."""

    config: Config
    standing: Standing | None = None
    is_wanted: bool = False
    """Something is to change at its place, which the answer to this arrival brings about."""
    barred_since: float | None = None
    """A person barred this device."""
    typing_barred_until: float | None = None
    """Too many wrong codes, of this visit or by RADIUS of this device; may be over by now."""
    admission: AdmissionFacts | None = None
    offered: Grant | None = None
    """What the arrival's offer leads to."""
    offer_fault: Reason | None = None
    """Why it leads to nothing, if there is more to say than that."""
    only_same: bool = False
    """Only what the device is in by may be offered."""
    candidates: tuple[Grant, ...] = ()
    """What the keys lead to of which the device may have one, the likeliest first; which one it has is not known."""
    keys: tuple[str, ...] = ()
    """Private passphrases that go back with the answer."""
    seats_taken: int = 0
    """Other devices that use the allowance in question now."""
    memo: Decision | None = None
    """What was decided last from these very facts, while they are kept in memory."""
    memo_medium: Medium | None = None
    """What that decision answered: a device's own request and its person's are told apart in the log."""
