"""The configuration of one site, as the decision reads it."""

from dataclasses import dataclass, field, replace
from enum import StrEnum
from zoneinfo import ZoneInfo

from lauschen.core.house.dialect import Dialect
from lauschen.core.ids import AccessDeviceId, DialectId, NetworkId, PlanId, RoleId, RuleId


class WayIn(StrEnum):
    """A method to be admitted (the kinds that are built)."""

    VOUCHER = "voucher"


@dataclass(frozen=True, slots=True)
class Role:
    """A placement: VLAN, filter name, and whether it is the one before login."""

    id: RoleId
    name: str
    vlan: int | None
    filter_name: str | None
    is_door: bool
    filter_rules: tuple[str, ...] = ()
    """NAS-Filter-Rule lines (RFC 4849), for dialects that honour them instead of a name."""

    def with_placement(self, vlan: int | None, filter_name: str | None) -> "Role":
        """The same role with another VLAN and filter name."""
        return replace(self, vlan=vlan, filter_name=filter_name)


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


class Match(StrEnum):
    """How a hint of a request is compared."""

    EXACT = "exact"
    BEGINS = "begins"
    ENDS = "ends"
    ANY = "any"


@dataclass(frozen=True, slots=True)
class Hint:
    """One thing that a request says of where it comes from, and what it must be."""

    match: Match = Match.ANY
    value: bytes = b""

    def fits(self, said: bytes | None) -> bool:
        if self.match is Match.ANY or said is None:
            return self.match is Match.ANY
        if self.match is Match.EXACT:
            return said == self.value
        if self.match is Match.BEGINS:
            return said.startswith(self.value)
        return said.endswith(self.value)


@dataclass(frozen=True, slots=True)
class GuestNetwork:
    """What a device joins, and by what its requests are recognised: every hint must fit."""

    id: NetworkId
    name: str
    door_role: RoleId
    ssid: Hint = Hint()
    """The SSID in Called-Station-Id, as octets (rulings 3.9)."""
    nas_identifier: Hint = Hint()
    port_id: Hint = Hint()
    port_type: int | None = None
    access_device: AccessDeviceId | None = None
    counted_at: AccessDeviceId | None = None
    """When two devices report the same guest: the one whose report counts; None leaves it to the dialects."""

    @property
    def is_plain(self) -> bool:
        """Recognised by its whole SSID and nothing else."""
        others = (self.nas_identifier.match, self.port_id.match)
        return (
            self.ssid.match is Match.EXACT
            and others == (Match.ANY, Match.ANY)
            and self.port_type is None
            and self.access_device is None
        )

    @property
    def shown_as(self) -> str:
        """What a guest knows it by."""
        return self.ssid.value.decode("utf-8", "replace") if self.ssid.match is Match.EXACT else self.name

    @property
    def strictness(self) -> int:
        """Among several that fit, the one that asks most is meant."""
        hints = (self.ssid, self.nas_identifier, self.port_id)
        score = sum({Match.EXACT: 3, Match.ANY: 0}.get(hint.match, 2) for hint in hints)
        return score + 3 * (self.access_device is not None) + 2 * (self.port_type is not None)


@dataclass(frozen=True, slots=True)
class Rule:
    """Conditions (None = any) -> role. Ordered by position, first match wins."""

    id: RuleId
    position: int
    network: NetworkId | None
    way_in: WayIn | None
    role: RoleId


@dataclass(frozen=True, slots=True)
class AccessDevice:
    """A switch, access point or controller that sends us RADIUS."""

    id: AccessDeviceId
    name: str
    address: str
    """One address, or several as a CIDR."""
    secret: bytes
    dialect: DialectId
    coa_port: int = 3799
    coa_address: str | None = None
    """Where changes go; None: to where its requests come from."""
    old_secret: bytes | None = None
    """Also heard, during a change-over."""
    hears_unsigned: bool = False
    """Old firmware: Access-Requests without Message-Authenticator are heard (rulings 3.2)."""
    tls_identity: str | None = None
    """SHA-256 fingerprint or subject alternative name of its certificate, for RADIUS over TLS."""

    @property
    def is_range(self) -> bool:
        return "/" in self.address


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
    _by_ssid: dict[bytes, GuestNetwork] = field(init=False)
    _strictest_first: tuple[GuestNetwork, ...] = field(init=False)
    """Those that are recognised by more than their whole SSID."""

    def __post_init__(self) -> None:
        plain = {n.ssid.value: n for n in self.networks.values() if n.is_plain}
        others = sorted((n for n in self.networks.values() if not n.is_plain), key=lambda n: -n.strictness)
        object.__setattr__(self, "_by_ssid", plain)
        object.__setattr__(self, "_strictest_first", tuple(others))

    def dialect_of(self, access_device: AccessDeviceId) -> Dialect | None:
        """How an access device talks; None when it was removed."""
        device = self.access_devices.get(access_device)
        return None if device is None else self.dialects[device.dialect]

    def recognise(
        self,
        access_device: AccessDeviceId,
        ssid: bytes | None,
        nas_identifier: str | None = None,
        port_id: str | None = None,
        port_type: int | None = None,
    ) -> GuestNetwork | None:
        """The guest network that a request belongs to; texts are octets as characters (`Packet.opaque`)."""
        plain = self._by_ssid.get(ssid) if ssid is not None else None
        if not self._strictest_first:
            return plain
        named = None if nas_identifier is None else nas_identifier.encode("latin-1")
        port = None if port_id is None else port_id.encode("latin-1")
        for network in self._strictest_first:
            if plain is not None and network.strictness <= plain.strictness:
                break
            if (
                network.access_device in (None, access_device)
                and network.port_type in (None, port_type)
                and network.ssid.fits(ssid)
                and network.nas_identifier.fits(named)
                and network.port_id.fits(port)
            ):
                return network
        return plain

    def place(self, network: NetworkId, way_in: WayIn) -> tuple[Rule | None, int]:
        """The first rule that matches and how many were passed over."""
        for passed, rule in enumerate(self.rules):
            if rule.network in (None, network) and rule.way_in in (None, way_in):
                return rule, passed
        return None, len(self.rules)
