"""Where a device stands on a guest network."""

from dataclasses import dataclass
from enum import StrEnum

from lauschen.core.decide.reason import Reason
from lauschen.core.ids import AccessDeviceId, AdmissionId, Mac, NetworkId, RoleId


class State(StrEnum):
    """Where a device stands on a guest network."""

    AT_DOOR = "at_door"
    INSIDE = "inside"
    HELD = "held"
    BARRED = "barred"
    LEFT = "left"


@dataclass(slots=True)
class Standing:
    """Where one device stands on one guest network."""

    mac: Mac
    network: NetworkId
    state: State
    since: float
    wanted: State
    """In what state it should be."""
    reason: Reason | None
    """Why it is held or barred, or how its last stay ended."""
    reason_at: float | None
    """When that came about: for a limit, the moment it ended, wherever the device was then (rulings 8.5)."""
    access_device: AccessDeviceId
    session_id: str | None
    spelled: str
    source: str
    """The address that the last verified packet about it came from."""
    role: RoleId | None
    framed_ip: str | None
    last_heard: float
    page_opened: float | None
    code_tried: float | None
    admission: AdmissionId | None
    """The one that is open; it outlives a lost connection."""
    reconsider_at: float | None
    """The next moment at which the clock alone may change the answer to it."""
    decision: int | None
    """The last decision's row, and what tells it from another one."""
    decision_at: float
    decision_mark: str
    repeats: int
    """How often that decision was given again."""

    @property
    def at(self) -> tuple[AccessDeviceId, str]:
        """The place where it is: the access device, and the session there, empty when that names none."""
        return self.access_device, self.session_id or ""

    @property
    def going(self) -> State | None:
        """Where it is on its way to: what is wanted was not seen to hold yet. None: it is where it should be."""
        return None if self.wanted is self.state else self.wanted
