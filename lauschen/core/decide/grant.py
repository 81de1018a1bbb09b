"""What is decided about: by which way, under which plan, and what of it was used."""

from dataclasses import dataclass

from lauschen.core.ids import AllowanceId, CredentialId, NetworkId, PlanId, RoleId, TrustedId
from lauschen.core.limits.seats import Seats
from lauschen.core.limits.terms import Own
from lauschen.core.limits.use import Use
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import Finder


@dataclass(slots=True)
class Grant:
    """A credential as far as the decision needs it, with the allowance that counts here."""

    way: WayIn
    plan: PlanId
    use: Use
    credential: CredentialId | None
    """None: the deciding transaction would issue it."""
    allowance: AllowanceId | None
    """None: nothing of it was used yet."""
    devices: int | None = None
    """Where that is not as its plan says."""
    role: RoleId | None = None
    """Where it is placed, whatever the rules say."""
    trusted: TrustedId | None = None
    """Which of the trusted it stands for, if it is issued at the door."""
    seats: Seats = Seats.AT_ONCE
    """How its devices are counted."""
    network: NetworkId | None = None
    """Where alone it is good."""
    own: Own | None = None
    """Limits in place of its plan's; `House.plan_of` has both."""
    vlan: int | None = None
    """Of its private group, in place of its role's."""
    finder: Finder | None = None
    """By what it will be found, if it is issued at the door."""
