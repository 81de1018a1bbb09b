"""What the decision looks at: the arrival that was heard, and the facts about it.

Slots without `frozen`: these are made for each packet (rulings 1.3 has the price).
"""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING

from lauschen.core.house.house import House
from lauschen.core.ids import AccessDeviceId, AdmissionId, CredentialId, Mac, NetworkId, PlanId, RoleId
from lauschen.core.limits.left import Use

if TYPE_CHECKING:
    from lauschen.core.decide.decision import Decision


class Medium(StrEnum):
    """How an arrival reached us."""

    ASKED = "asked"
    """An access device asked for a device that joined."""
    REAUTHORISED = "reauthorised"
    """An access device asked again because we told it to (RFC 5176 section 3)."""
    PAGE = "page"
    """A guest typed a code at the page."""
    PERSON = "person"
    """An access device asked for a person, with a name and a voucher code."""
    POSTED = "posted"
    """An access device asked with the one-time name and secret that the page gave the guest's browser."""
    CHANGED = "changed"
    """Nobody asked: what a device should have now is sent to its access device as new attributes."""


class State(StrEnum):
    """Where a device stands on a guest network."""

    AT_DOOR = "at_door"
    INSIDE = "inside"
    HELD = "held"
    BARRED = "barred"
    LEFT = "left"


class Reason(StrEnum):
    """Why an answer is what it is; worded for staff in `words`, for guests by the portal."""

    ADMITTED = "admitted"
    NEEDS_CODE = "needs_code"
    CODE_UNKNOWN = "code_unknown"
    CODE_EXPIRED = "code_expired"
    CODE_WITHDRAWN = "code_withdrawn"
    TIME_USED_UP = "time_used_up"
    DATA_USED_UP = "data_used_up"
    DEVICES_FULL = "devices_full"
    BARRED_BY_STAFF = "barred_by_staff"
    BARRED_BY_TRIES = "barred_by_tries"
    ENDED_BY_STAFF = "ended_by_staff"
    LOGGED_OUT = "logged_out"
    IN_BY_OTHER = "in_by_other"
    """Another visit let the device in; whoever did not, may only look (rulings 8.3)."""
    OTHER_CODE = "other_code"
    """The end of an admission in whose place another code was used."""
    NO_NETWORK = "no_network"
    NO_RULE = "no_rule"
    CONTRADICTORY = "contradictory"
    EAP = "eap"
    NO_WAY_IN = "no_way_in"
    """A request with neither a password nor anything else that could be proved."""
    MAC_PASSWORD = "mac_password"  # noqa: S105 - a reason, not a secret
    """It asks as a device, with another password than its MAC or the dialect's."""
    NOT_A_CODE = "not_a_code"
    CHAP_NAME = "chap_name"
    CHAP_PASSWORD = "chap_password"  # noqa: S105
    FOREIGN_STATE = "foreign_state"
    SECRET_FOREIGN = "secret_foreign"  # noqa: S105 - a reason, not a secret
    SECRET_OLD = "secret_old"  # noqa: S105
    SECRET_USED = "secret_used"  # noqa: S105


LIMIT_REASONS = (Reason.TIME_USED_UP, Reason.DATA_USED_UP)
"""Those that make a device *held*: a limit ended its stay."""


@dataclass(slots=True)
class Offered:
    """The name and password of a person, as an access device passed them on."""

    name: str
    password: str | None
    """None when it came by CHAP, which shows it to nobody."""
    proves: Callable[[bytes], bool]
    """Whether these octets are the password."""


@dataclass(slots=True)
class Arrival:
    """What was heard, in our words."""

    medium: Medium
    mac: Mac
    access_device: AccessDeviceId
    ssid: bytes | None = None
    network: NetworkId | None = None
    """Set instead of `ssid` when the page already knows it from the token."""
    spelled: str = ""
    """Calling-Station-Id as this access device writes it."""
    session_id: str | None = None
    framed_ip: str | None = None
    nas_identifier: str | None = None
    port_id: str | None = None
    port_type: int | None = None
    source: str = ""
    """The address that the request came from."""
    offered: Offered | None = None
    """Who asks as a person, by name and password."""
    refusal: Reason | None = None
    """What made the request unanswerable before any device was looked at."""


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
class Standing:
    """Where one device stands on one guest network."""

    mac: Mac
    network: NetworkId
    state: State
    since: float
    going: State | None
    """Where it is on its way to, until the access device confirmed the change."""
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
    ends: float | None
    """When the limit by the clock of whoever is in is over."""
    decision: int | None
    """The last decision's row, and what tells it from another one."""
    decision_at: float
    decision_mark: str
    repeats: int
    """How often that decision was given again."""


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
    memo: "Decision | None" = None
    """What was decided last from these very facts, while they are kept in memory."""
    memo_medium: Medium | None = None
    """What that decision answered: a device's own request and its person's are told apart in the log."""
