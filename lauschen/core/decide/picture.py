"""What the decision looks at besides the arrival: the facts about its device and credential.

Slots without `frozen`: these are made for each packet (rulings 1.3 has the price).
"""

from dataclasses import dataclass

from lauschen.core.decide.arrival import Medium
from lauschen.core.decide.decision import Decision
from lauschen.core.decide.standing import Standing
from lauschen.core.house.house import House
from lauschen.core.ids import AdmissionId, CredentialId, PlanId
from lauschen.core.limits.left import Use


@dataclass(slots=True)
class CredentialFacts:
    """A credential as far as the decision needs it."""

    id: CredentialId
    plan: PlanId
    use: Use


@dataclass(slots=True)
class AdmissionFacts:
    """That a device got in by a credential."""

    id: AdmissionId
    credential: CredentialFacts
    has_seat: bool
    token: str
    """Random; sent as Class and Chargeable-User-Identity, and says nothing about anybody."""


@dataclass(slots=True)
class Picture:
    """The configuration and the facts about this device and credential."""

    house: House
    standing: Standing | None = None
    is_wanted: bool = False
    """Something was to change at its access device, which the answer to this arrival brings about."""
    barred_since: float | None = None
    """A person barred this device."""
    typing_barred_until: float | None = None
    """Too many wrong codes, of this visit or by RADIUS of this device; may be over by now."""
    admission: AdmissionFacts | None = None
    offers_code: bool = False
    offered: CredentialFacts | None = None
    only_same: bool = False
    """Only the code that the device is in by may be offered."""
    seats_taken: int = 0
    """Other devices that use the credential in question now."""
    memo: Decision | None = None
    """What was decided last from these very facts, while they are kept in memory."""
    memo_medium: Medium | None = None
    """What that decision answered: a device's own request and its person's are told apart in the log."""
