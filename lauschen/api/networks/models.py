"""The shapes of the room Networks: networks, roles, access devices and unknown ones, dialects, recorded packets."""

from typing import Annotated, Literal

from pydantic import Field

from lauschen.api.model import AnyId, Model, Whole
from lauschen.api.networks.way_models import TrustedOut, WayModel
from lauschen.core.config.checks import MOST
from lauschen.core.config.dialect import Arrives, Honours, KeysBy, Move, UserName, ValueKind, When
from lauschen.core.config.network import Match

MOST_NETWORKS, MOST_ACCESS_DEVICES = MOST["network"], MOST["access_device"]
MOST_BPS = 400 * 10**9
Name = Field(min_length=1, max_length=60)


class HintModel(Model):
    match: Match = Match.ANY
    value: str = Field(default="", max_length=253)


class HouseRulesIn(Model):
    texts: dict[Literal["en", "de"], Annotated[str, Field(max_length=20_000)]]


class HouseRulesOut(Model):
    version: int
    """0: none were written yet."""
    texts: dict[str, str]


class NetworkIn(Model):
    name: str = Name
    door_role: AnyId
    ssid: HintModel = HintModel()
    nas_identifier: HintModel = HintModel()
    port_id: HintModel = HintModel()
    port_type: int | None = Field(default=None, ge=0, le=0xFFFFFFFF)
    access_device: AnyId | None = None
    counted_at: AnyId | None = None
    onward: str | None = Field(default=None, max_length=1500)
    """After login: on to this address, `status`: nowhere, empty: where guests were going; not said, it stays."""
    served_by: list[AnyId] | None = Field(default=None, max_length=MOST_ACCESS_DEVICES)
    """The access devices that may ask for it; not said, it stays: none at first."""
    ways: list[WayModel] | None = None
    """What it offers to let in, in the order of its page; not said, it stays: at first, vouchers."""


class Stage(Model):
    """One stage of a network's path: what is set there, in sentences."""

    name: str
    lines: list[str]
    opens: Literal["network", "ways", "placement"] | None = None
    """Where it is set, if it can be."""


class PauseIn(Model):
    until: str | None = Field(default=None, max_length=20)
    """By the clock of the site, such as `2026-12-04T18:00`; None: until somebody ends it."""
    why: str = Field(default="", max_length=200)
    """As guests read it."""
    ends_stays: bool = False


class PauseOut(Model):
    since: float
    until: float | None
    why: str
    ends_stays: bool
    sentence: str


class NetworkOut(NetworkIn):
    id: int
    pause: PauseOut | None
    inside: int
    """Devices that a pause would concern."""
    recognised: str
    """By what, in a sentence."""
    stages: list[Stage]
    heard_at: list[int]
    """The access devices that its devices were last heard at."""


class RoleIn(Model):
    name: str = Name
    vlan: Whole | None = None
    filter_name: str | None = Field(default=None, max_length=253)
    filter_rules: list[str] = Field(default=[], max_length=100)
    down_bps: int | None = Field(default=None, ge=8000, le=MOST_BPS)
    up_bps: int | None = Field(default=None, ge=8000, le=MOST_BPS)


class NewRole(RoleIn):
    is_door: bool = False
    """One before login."""


class RoleOut(NewRole):
    id: int
    sentence: str
    """What is sent for it, and who is placed in it."""
    ignored: list[str]
    """What of it access devices will not carry out, and which."""


class AccessDeviceIn(Model):
    name: str = Name
    address: str = Field(min_length=1, max_length=18)
    dialect: AnyId
    coa_port: Whole = 3799
    coa_address: str | None = None
    hears_unsigned: bool = False
    tls_identity: str | None = Field(default=None, max_length=200)
    serves: list[AnyId] = Field(max_length=MOST_NETWORKS)
    """The networks that it may ask for; none of them: nobody gets in there."""


class NewAccessDevice(AccessDeviceIn):
    secret: str = Field(max_length=128)


class Drop(Model):
    reason: str
    count: int
    text: str
    mend: str


class SourceOut(Model):
    address: str
    last_heard: float
    requests: int
    reports: int
    uses_old_secret: bool
    was_signed: bool


class AccessDeviceOut(AccessDeviceIn):
    id: int
    dialect_name: str
    last_heard: float | None
    sources: list[SourceOut]
    requests: int
    reports: int
    repeated: int
    drops: list[Drop]
    has_old_secret: bool
    secret_words: str
    signing_words: str
    risk: str | None
    """What remains dangerous about the exception for old firmware."""
    clock_words: str | None
    """How its clock agrees with ours; None when it never says the time."""
    change_trip_ms: int | None
    changes: dict[str, int]
    """Answers to changes since the start, in words."""
    ignores: list[str]
    """Settings of roles that it will not carry out."""


class NewSecret(Model):
    secret: str | None = Field(default=None, max_length=128)
    """None: a random one is made."""


class SecretOnce(Model):
    """Shown once; afterwards it can only be replaced."""

    secret: str


class TrySecret(Model):
    secret: str = Field(max_length=128)


class TakeIn(NewAccessDevice):
    anyway: bool = False
    """Also when the secret does not fit the packet that was kept."""


class UnknownAccessDeviceOut(Model):
    address: str
    first: float
    last: float
    packets: int
    kind: str
    ssid: str | None
    nas_identifier: str | None
    nas_address: str | None
    says_it_is: str | None
    """The access device whose name or address it claims."""


class SecretVerdict(Model):
    verdict: str
    """`fits`, `differs` or `unsigned`: then it cannot be told."""


class PacketLine(Model):
    number: int
    name: str
    words: str
    octets: str


class PacketOut(Model):
    at: float
    kind: str
    size: int
    outcome: str
    lines: list[PacketLine]
    reply_kind: str | None
    reply: list[PacketLine]


class VendorAttributeModel(Model):
    enterprise: Whole
    number: Whole
    kind: ValueKind = ValueKind.TEXT
    template: str = Field(max_length=400)
    when: When = When.DOOR


class AppendedModel(Model):
    mac: str = Field(default="mac", max_length=60)
    going: str = Field(default="url", max_length=60)


class PostedModel(Model):
    url: str = Field(default="", max_length=400)
    name_field: str = Field(default="username", max_length=60)
    secret_field: str = Field(default="password", max_length=60)
    others: list[tuple[str, str]] = Field(default=[], max_length=20)


class HandshakeModel(Model):
    """Vendor-Specific attributes that hold a handshake."""

    enterprise: Whole = 0
    nonce: Whole = 1
    frame: Whole = 2


class CallModel(Model):
    method: str = Field(default="POST", pattern="^(GET|POST|PUT|PATCH|DELETE)$")
    url: str = Field(default="", max_length=400)
    headers: list[tuple[str, str]] = Field(default=[], max_length=20)
    body: str = Field(default="", max_length=4000)
    good_status: list[Whole] = Field(default=[200, 201, 202, 204], max_length=20)
    good_text: str = Field(default="", max_length=200)


class DialectIn(Model):
    name: str = Name
    arrives: Arrives = Arrives.HANDED_OUT
    appended: AppendedModel = AppendedModel()
    attributes: list[VendorAttributeModel] = Field(default=[], max_length=20)
    login_move: Move = Move.DISCONNECT
    end_move: Move = Move.DISCONNECT
    pause_ms: int = Field(default=500, ge=0, le=10_000)
    posted: PostedModel = PostedModel()
    call_in: CallModel = CallModel()
    call_out: CallModel = CallModel()
    honours: list[Honours] = Field(default=[h for h in Honours if h is not Honours.FILTER_RULES])
    group_tag: Whole | None = 0
    identify: list[str] = Field(default=[])
    signs_changes: bool = True
    timeout_from_start: bool = False
    ack_confirms: bool = True
    user_name: UserName = UserName.NOTHING
    counts: bool = True
    remembers_s: int = Field(default=35, ge=0, le=600)
    keys_by: KeysBy = KeysBy.MAC
    """How its access points ask which private passphrase a device has."""
    handshake: HandshakeModel = HandshakeModel()
    shared_password: str | None = Field(default=None, max_length=128)
    """Written, never read: None leaves it as it is."""
    call_secret: str | None = Field(default=None, max_length=400)


class DialectOut(DialectIn):
    id: int
    sentence: str
    has_shared_password: bool
    has_call_secret: bool


class PlanName(Model):
    id: int
    name: str


class NetworksOut(Model):
    networks: list[NetworkOut]
    roles: list[RoleOut]
    devices: list[AccessDeviceOut]
    dialects: list[DialectOut]
    unknown_access_devices: list[UnknownAccessDeviceOut]
    words: dict[str, str]
    """What templates may say."""
    house_rules: HouseRulesOut
    plans: list[PlanName]
    trusted: list[TrustedOut]


class SheetRow(Model):
    label: str
    value: str
    note: str = ""
    is_typed: bool = True
    """False for what is chosen, not typed: *on*, *the same*."""


class SheetPart(Model):
    title: str
    rows: list[SheetRow]


class SheetOut(Model):
    """All that must be typed into one access device for one network."""

    device: str
    network: str
    parts: list[SheetPart]
