"""What should hold for a device on a network, and what was seen of that at each place where it is.

A *place* is one access device and one session there. Slots without `frozen`: these are made for each packet.
"""

from dataclasses import dataclass

from lauschen.core.decide.standing import State
from lauschen.core.ids import AccessDeviceId, AdmissionId, Mac, NetworkId, RoleId

SAME_END_S = 1.0
"""Two ends that are closer than this are the same to an access device, which counts whole seconds."""


@dataclass(slots=True)
class Wanted:
    """What should hold, in its newest revision."""

    mac: Mac
    network: NetworkId
    revision: int
    """Grows with each change in the whole database, so that what changed since can be read by it."""
    state: State
    role: RoleId | None
    """None: nothing, so the access device should hold no session."""
    admission: AdmissionId | None
    """Its token goes to the access device as Class, and comes back with what is used."""
    until: float | None
    """When that ends by itself; None: never. The time-out before login is no end, as the device is asked again."""
    since: float

    @property
    def lets_in(self) -> bool:
        return self.state is State.INSIDE


@dataclass(slots=True)
class Place:
    """One access device and session: what was seen there last, and what is being done about it."""

    mac: Mac
    network: NetworkId
    access_device: AccessDeviceId
    session_id: str
    """Empty when the access device names none."""
    spelled: str
    """The MAC address as this access device spells it."""
    source: str
    """The address that the last verified packet about it came from."""
    role: RoleId | None
    admission: AdmissionId | None
    until: float | None
    """When the access device ends it by itself; None: never, or before login."""
    seen_at: float | None
    """None: a request has been sent since, so nobody knows."""
    seen_by: str | None
    revision: int
    """Of what is wanted, that was seen here or is being brought about."""
    tries: int
    next_at: float | None
    """When the next request is due; None: nothing is to be changed."""
    last_answer: str | None
    last_answer_at: float | None
    over_at: float | None
    """When what it holds has ended by itself for certain; None: never."""
    under_way: float | None
    """Since when a request is out."""
    is_left: int = 0
    """1: the device went on to another place, so this one should hold nothing."""

    @property
    def at(self) -> tuple[AccessDeviceId, str]:
        """The access device and the session there, as `Standing.at`."""
        return self.access_device, self.session_id

    def agrees(self, wanted: Wanted) -> bool:
        """Return whether what was seen here is what should hold."""
        if self.seen_at is None or (self.role, self.admission) != (wanted.role, wanted.admission):
            return False
        if wanted.until is None or self.until is None:
            return self.until is wanted.until
        return abs(self.until - wanted.until) <= SAME_END_S


ANSWER, REPORT, CONFIRMED = "answer", "report", "confirmed"
"""How a place was seen: the access device was answered; its reports repeat our Class; it confirmed a change or lists
the device."""
ACCEPTED, SILENT = "accepted", "silent"
"""What an access device may answer to a change, besides what it refuses by."""
