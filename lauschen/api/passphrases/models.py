"""The shapes of the room Passphrases."""

from typing import Annotated, Literal

from pydantic import Field

from lauschen.api.desk.models import BatchOut, OwnTerms, SendTo
from lauschen.api.model import AnyId, Model
from lauschen.core.passphrases.holder import HolderKind
from lauschen.core.passphrases.passphrase import FEWEST_BITS, LONGEST, MOST_BITS, USUAL_BITS, Style

Text = Annotated[str, Field(min_length=1, max_length=200)]
Which = Literal["all", "unused", "ending", "over"]


class KeyWish(OwnTerms):
    """What those that are issued together have in common."""

    kind: HolderKind = HolderKind.PERSON
    style: Style = Style.WORDS
    bits: int = Field(default=USUAL_BITS, ge=FEWEST_BITS, le=MOST_BITS)
    """How strong a drawn one is at least."""
    lang: Literal["en", "de"] = "en"
    """Of its words."""
    has_group: bool = False
    """Its devices see each other, and nobody else's."""
    role: AnyId | None = None
    """Where it places, whatever the rules say; None: where they say. An administrator says so."""


class IssuePassphrase(KeyWish):
    passphrase: Text | None = None
    """As it was chosen; None draws one."""
    send: SendTo | None = None


class IssueMany(KeyWish):
    text: str = Field(max_length=4_900_000)
    """One passphrase for each line: its name; and behind tabs or semicolons send to, until, devices, note."""


class Draw(Model):
    style: Style = Style.WORDS
    bits: int = Field(default=USUAL_BITS, ge=FEWEST_BITS, le=MOST_BITS)
    lang: Literal["en", "de"] = "en"


class DrawnOut(Model):
    """One that nobody has yet; nothing is issued by it."""

    passphrase: str = Field(max_length=LONGEST)
    bits: int
    sentence: str
    """How long somebody guesses who heard one handshake."""


class IssuedPassphrase(Model):
    """The passphrase is answered here, to whoever issued it; later by *reveal*."""

    batch: BatchOut
    id: int
    passphrase: str
    wifi: str
    """What a QR code says that joins."""
    qr: str
    """That code, as SVG."""
    page: str | None
    """Their own page, for a month; None where the guest page is plain HTTP."""
    """The address of their own page."""


class Renew(Model):
    overlap_minutes: int = Field(default=0, ge=0, le=31 * 1440)
    """So long the one before holds as well."""
    passphrase: Text | None = None
    style: Style = Style.WORDS
    lang: Literal["en", "de"] = "en"


class KeyEnd(Model):
    """When a passphrase was to end before it was replaced."""

    key: AnyId
    ends_at: float | None = Field(ge=0, le=2**53)


class RenewedOut(Model):
    holder: "HolderOut"
    passphrase: str
    wifi: str
    qr: str
    page: str | None
    """Their own page, for a month; None where the guest page is plain HTTP."""
    key: int
    before: list[KeyEnd]


class UndoRenew(Model):
    """What *renew* answered."""

    key: AnyId
    before: list[KeyEnd] = Field(max_length=100)


class RevealedOut(Model):
    passphrase: str
    wifi: str
    qr: str
    page: str | None
    """Their own page, for a month; None where the guest page is plain HTTP."""


class KeyDeviceOut(Model):
    """A device that joined with one of somebody's keys."""

    mac: str
    name: str
    is_private: bool
    """It made its address up, and may have another one tomorrow."""
    is_in: bool
    is_going: bool
    """It is on its way out: the access point has not confirmed it yet."""
    has_old_key: bool
    bound_at: float
    removed_at: float | None


class KeyOut(Model):
    """One passphrase of somebody's, without its text."""

    key: int
    made_at: float
    ends_at: float | None
    joined_at: float | None


class HolderOut(Model):
    """Somebody or something on the house plan."""

    id: int
    kind: HolderKind
    name: str
    network: int
    plan: str
    state: str
    sentence: str
    """What is to be known of it at a glance."""
    until: float | None
    devices: int
    devices_in: int
    seats: int | None
    """On so many devices; None: on any number."""
    is_shared: bool
    """As many devices as may have joined, or more were refused."""
    never_used: bool
    made_at: float
    old_until: float | None
    """So long the one before holds as well."""
    group: int | None
    """VLAN of its private group."""
    role: str | None
    """Where it places, whatever the rules say."""
    note: str
    may_reveal: bool


class HolderFull(Model):
    holder: HolderOut
    devices: list[KeyDeviceOut]
    keys: list[KeyOut]


class WrongOut(Model):
    """A device whose key does not hold."""

    mac: str
    device: str
    network: str
    place: str
    tries: int
    last_at: float
    sentence: str


class KeyNetwork(Model):
    id: int
    name: str
    ssid: str
    groups: int
    """Private groups in its pool; 0: it has none."""
    asks: list[str]
    """How its access points ask, in sentences."""


class KindCounts(Model):
    all: int
    unused: int
    ending: int
    over: int


class HouseplanOut(Model):
    """The first page of each kind."""

    networks: list[KeyNetwork]
    counts: dict[HolderKind, KindCounts]
    holders: dict[HolderKind, list[HolderOut]]
    wrong: list[WrongOut]
    plans: list["PlanChoice"]
    roles: list["RoleChoice"]
    """In which whoever has one may be placed; empty for whoever may not say so."""


class PlanChoice(Model):
    id: int
    name: str
    sentence: str


class RoleChoice(Model):
    id: int
    name: str


class HoldersOut(Model):
    holders: list[HolderOut]


class LinkOut(Model):
    """The address of somebody's own page, None without HTTPS; those before lead nowhere any more."""

    page: str | None
