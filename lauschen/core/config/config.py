"""The configuration of one site, as the decision reads it."""

from dataclasses import dataclass, field
from zoneinfo import ZoneInfo

from lauschen.core.config.access_device import AccessDevice
from lauschen.core.config.dialect import Arrives, Dialect
from lauschen.core.config.host import Host
from lauschen.core.config.network import GuestNetwork
from lauschen.core.config.role import Role
from lauschen.core.config.rule import Rule
from lauschen.core.config.site_text import SiteText
from lauschen.core.decide.grant import Grant
from lauschen.core.ids import AccessDeviceId, DialectId, HostId, Mac, NetworkId, PlanId, RoleId
from lauschen.core.limits.plan import Plan
from lauschen.core.limits.terms import plan_with
from lauschen.core.messages.channels import Channels
from lauschen.core.ways.always import Trusted
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import GoodPasscode
from lauschen.core.ways.offers.fields import MAIL, PHONE
from lauschen.core.ways.passcode import ByHand, Passcode, Schedule, good_passcodes
from lauschen.core.ways.self_registration import NEEDS, Delivery, SelfRegistration
from lauschen.core.ways.sponsor import Naming, Sponsor
from lauschen.core.ways.ways import Way
from lauschen.core.words.codes import USUAL


@dataclass(frozen=True, slots=True)
class Removed:
    """Names of what was removed: the log and old stays name it."""

    networks: dict[NetworkId, str] = field(default_factory=dict)
    roles: dict[RoleId, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, eq=False)
class Config:
    """Everything configured, indexed for the hot path; made anew at each change: each is equal to itself alone."""

    site_name: str
    zone: ZoneInfo
    page_url: str
    slip_host: str
    roles: dict[RoleId, Role]
    plans: dict[PlanId, Plan]
    """Also removed ones: what was issued with them goes on."""
    networks: dict[NetworkId, GuestNetwork]
    rules: tuple[Rule, ...]
    dialects: dict[DialectId, Dialect]
    access_devices: dict[AccessDeviceId, AccessDevice]
    last_role: RoleId | None = None
    """Where whoever may be in is placed when no rule matches; None: nobody is let in then."""
    version: int = 0
    """Of the configuration; rises with each change."""
    house_rules: SiteText = field(default_factory=SiteText)
    removed: Removed = field(default_factory=Removed)
    trusted: tuple[Trusted, ...] = ()
    """What is let in always."""
    passcodes_by_hand: dict[NetworkId, ByHand] = field(default_factory=dict)
    hosts: dict[HostId, Host] = field(default_factory=dict)
    """Who may vouch for guests."""
    channels: Channels = field(default_factory=Channels)
    """Where messages leave the house, and what they say."""
    privacy: SiteText = field(default_factory=SiteText)
    consent: SiteText = field(default_factory=SiteText)
    """What guests say by ticking that they may be written to."""
    code_lengths: tuple[int, ...] = USUAL
    """How many signs the codes have that were drawn here."""
    _by_ssid: dict[bytes, GuestNetwork] = field(init=False)
    _strictest_first: tuple[GuestNetwork, ...] = field(init=False)
    """Those that are recognised by other things than their whole SSID."""
    _stricter: tuple[GuestNetwork, ...] = field(init=False)
    """Of them, those that ask more than a whole SSID, and so come before it."""
    spoken: tuple[DialectId, ...] = field(init=False)
    """The dialects that its access devices speak."""
    _trusted_macs: dict[Mac, Trusted] = field(init=False)
    _trusted_ports: dict[tuple[AccessDeviceId, str | None], Trusted] = field(init=False)
    _served: frozenset[tuple[AccessDeviceId, NetworkId]] = field(init=False)
    takes_accounts: bool = field(init=False)
    """Whether any network lets somebody in by an account."""

    def __post_init__(self) -> None:
        plain = {n.ssid.value: n for n in self.networks.values() if n.is_plain}
        others = sorted((n for n in self.networks.values() if not n.is_plain), key=lambda n: -n.strictness)
        spoken = {device.dialect for device in self.access_devices.values()}
        object.__setattr__(self, "spoken", tuple(sorted(spoken)))
        takes = any(n.way(WayIn.ACCOUNT) is not None for n in self.networks.values())
        object.__setattr__(self, "takes_accounts", takes)
        served = {(device.id, of) for device in self.access_devices.values() for of in device.serves}
        object.__setattr__(self, "_served", frozenset(served))
        macs = {one.mac: one for one in self.trusted if one.mac is not None}
        ports = {(one.access_device, one.port): one for one in self.trusted if one.access_device is not None}
        object.__setattr__(self, "_trusted_macs", macs)
        object.__setattr__(self, "_trusted_ports", ports)
        object.__setattr__(self, "_by_ssid", plain)
        object.__setattr__(self, "_strictest_first", tuple(others))
        asked = max((n.strictness for n in plain.values()), default=0)
        object.__setattr__(self, "_stricter", tuple(n for n in others if n.strictness > asked))

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
        others = self._strictest_first if plain is None else self._stricter
        if not others:
            return plain
        named = None if nas_identifier is None else nas_identifier.encode("latin-1")
        port = None if port_id is None else port_id.encode("latin-1")
        for network in others:
            if (
                network.access_device in (None, access_device)
                and network.port_type in (None, port_type)
                and network.ssid.fits(ssid)
                and network.nas_identifier.fits(named)
                and network.port_id.fits(port)
            ):
                return network
        return plain

    def serves(self, access_device: AccessDeviceId, network: NetworkId) -> bool:
        """Return whether an access device may ask for a network: which one a request names is its sender's word."""
        return (access_device, network) in self._served

    def trusts(self, mac: Mac, access_device: AccessDeviceId, port_id: str | None) -> Trusted | None:
        """The device itself, else the port at which it asks, else the whole access device."""
        if not self.trusted:
            return None
        found = self._trusted_macs.get(mac)
        if found is None and port_id is not None:
            found = self._trusted_ports.get((access_device, port_id))
        return found or self._trusted_ports.get((access_device, None))

    def without_token(self, network: NetworkId | None = None) -> list[AccessDevice]:
        """Access devices whose guests arrive at the page without a signed address of ours: on one network, or any."""
        return [
            device
            for device in self.access_devices.values()
            if self.dialects[device.dialect].arrives is not Arrives.HANDED_OUT
            and (device.serves if network is None else network in device.serves)
        ]

    def name_of(self, mac: Mac) -> str:
        """What a trusted device is called; empty for others."""
        found = self._trusted_macs.get(mac)
        return "" if found is None else found.name

    def place(self, network: NetworkId, way_in: WayIn, plan: PlanId) -> tuple[Rule | None, int]:
        """The first rule that matches and how many were passed over."""
        for passed, rule in enumerate(self.rules):
            if rule.fits(network, way_in, plan):
                return rule, passed
        return None, len(self.rules)

    def passcodes(self, network: NetworkId, key: bytes, now: float) -> list[GoodPasscode]:
        """Those of a network that are good at `now`; `key` is ours."""
        way = self.networks[network].way(WayIn.PASSCODE)
        if not isinstance(way, Passcode):
            return []
        by_hand = self.passcodes_by_hand.get(network, ByHand())
        return good_passcodes(way, by_hand, network=network, key=key, zone=self.zone, now=now)

    def why_idle(self, network: NetworkId, way: Way) -> str | None:
        """What keeps a way in from working; None when nothing does.

        `off`, `no_rules`, `no_passcode`, `nobody_trusted`, `no_delivery`, `no_mail`, `no_host`, `no_rule`.
        """
        if way.is_off:
            return "off"
        return self._what_it_lacks(network, way) or (None if self.is_placed(network, way) else "no_rule")

    def _what_it_lacks(self, network: NetworkId, way: Way) -> str | None:
        if way.way is WayIn.ALWAYS and not self.trusted:
            return "nobody_trusted"
        if way.way is WayIn.CLICK_THROUGH and not self.house_rules.texts:
            return "no_rules"
        if isinstance(way, SelfRegistration) and not self.deliveries(way):
            return "no_delivery"
        if isinstance(way, Sponsor):
            return self._why_nobody_vouches(network, way)
        if isinstance(way, Passcode) and way.schedule is Schedule.NEVER:
            by_hand = self.passcodes_by_hand.get(network)
            return None if by_hand is not None and by_hand.renewed else "no_passcode"
        return None

    def _why_nobody_vouches(self, network: NetworkId, way: Sponsor) -> str | None:
        if self.channels.mail is None:
            return "no_mail"
        is_anybody = any(host.may_vouch(network) for host in self.hosts.values())
        return None if is_anybody or way.naming is Naming.DOMAIN else "no_host"

    def deliveries(self, way: SelfRegistration) -> list[Delivery]:
        """Those that can work: a code is sent only where something carries it."""
        carried = {MAIL: self.channels.mail, PHONE: self.channels.text}
        return [one for one in way.deliveries if one not in NEEDS or carried[NEEDS[one]] is not None]

    def is_placed(self, network: NetworkId, way: Way) -> bool:
        """Whether whoever gets in by a way is placed somewhere, under one plan at least.

        Also under one that is offered no more: what was issued by it may be good still.
        """
        if self.last_role is not None or (
            way.way is WayIn.ALWAYS and all(one.role is not None for one in self.trusted)
        ):
            return True
        plans = {way.plan} if way.plan is not None else self.plans.keys()
        return bool(plans) and any(
            rule.network in (None, network)
            and rule.way_in in (None, way.way)
            and (rule.plan is None or rule.plan in plans)
            for rule in self.rules
        )

    def plan_of(self, grant: Grant) -> Plan:
        """The limits of what was issued: its plan's, and its own in their place."""
        plan = self.plans[grant.plan]
        return plan if grant.own is None else plan_with(plan, grant.own)

    @property
    def offered_plans(self) -> list[Plan]:
        """Those that may be chosen."""
        return [plan for plan in self.plans.values() if not plan.is_removed]
