"""The configuration of one site, as the decision reads it."""

from dataclasses import dataclass, field
from enum import StrEnum
from zoneinfo import ZoneInfo

from lauschen.core.ids import AccessDeviceId, DialectId, NetworkId, PlanId, RoleId, RuleId


class WayIn(StrEnum):
    """A method to be admitted (the kinds that are built)."""

    VOUCHER = "voucher"


class Move(StrEnum):
    """How an access device is told that a device's placement changed (RFC 5176)."""

    REAUTHORISE = "reauthorise"
    DISCONNECT = "disconnect"


@dataclass(frozen=True, slots=True)
class Role:
    """A placement: VLAN, filter name, and whether it is the one before login."""

    id: RoleId
    name: str
    vlan: int | None
    filter_name: str | None
    is_door: bool


@dataclass(frozen=True, slots=True)
class Plan:
    """The limits of what is issued. None means: no such limit."""

    id: PlanId
    name: str
    seconds: int | None
    """From first use, by the clock on the wall; logging out does not stop it."""
    idle_seconds: int | None
    octets: int | None
    """Down and up together."""
    devices: int
    """At once."""
    use_within_days: int | None
    """How long an unused credential can still be used for the first time."""


@dataclass(frozen=True, slots=True)
class GuestNetwork:
    """What a device joins; recognised by its SSID, matched whole as octets."""

    id: NetworkId
    name: str
    ssid: bytes
    door_role: RoleId


@dataclass(frozen=True, slots=True)
class Rule:
    """Conditions (None = any) -> role. Ordered by position, first match wins."""

    id: RuleId
    position: int
    network: NetworkId | None
    way_in: WayIn | None
    role: RoleId


@dataclass(frozen=True, slots=True)
class Dialect:
    """How one make of access device talks."""

    id: DialectId
    name: str
    redirect_vendor: int | None
    """IANA enterprise number of the attribute that carries the page's address."""
    redirect_attribute: int | None
    redirect_template: str
    """Text with the word {portal_url}."""
    login_move: Move
    end_move: Move
    pause_ms: int
    """Between the page's answer and the request, so that the answer reaches the phone."""


@dataclass(frozen=True, slots=True)
class AccessDevice:
    """A switch, access point or controller that sends us RADIUS."""

    id: AccessDeviceId
    name: str
    address: str
    secret: bytes
    dialect: DialectId
    coa_port: int


@dataclass(frozen=True, slots=True)
class House:
    """Everything configured, indexed for the hot path; made anew at each change."""

    site_name: str
    zone: ZoneInfo
    page_url: str
    slip_host: str
    roles: dict[RoleId, Role]
    plans: dict[PlanId, Plan]
    networks: dict[NetworkId, GuestNetwork]
    rules: tuple[Rule, ...]
    dialects: dict[DialectId, Dialect]
    access_devices: dict[AccessDeviceId, AccessDevice]
    network_by_ssid: dict[bytes, GuestNetwork] = field(init=False)
    device_by_address: dict[str, AccessDevice] = field(init=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "network_by_ssid", {n.ssid: n for n in self.networks.values()})
        object.__setattr__(self, "device_by_address", {d.address: d for d in self.access_devices.values()})

    def place(self, network: NetworkId, way_in: WayIn) -> tuple[Rule | None, int]:
        """The first rule that matches and how many were passed over."""
        for passed, rule in enumerate(self.rules):
            if rule.network in (None, network) and rule.way_in in (None, way_in):
                return rule, passed
        return None, len(self.rules)
