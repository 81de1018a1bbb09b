"""The shapes of ways in as a network offers them, and of who is let in always."""

from typing import Annotated, Literal

from pydantic import Field

from lauschen.api.hours import HoursModel
from lauschen.api.model import AnyId, Model
from lauschen.core.ways.passcode import Schedule, Signs
from lauschen.core.ways.self_registration import Delivery
from lauschen.core.ways.sponsor import Naming

Name = Field(min_length=1, max_length=60)


class OfferingModel(Model):
    is_off: bool = False
    """It stays as it is set, and lets nobody in."""
    labels: dict[Literal["en", "de"], Annotated[str, Field(max_length=60)]] = Field(default_factory=dict)
    """What the page calls it; its own word where nothing is said."""
    remember_minutes: int | None = Field(default=None, ge=0, le=366 * 1440)
    """Since its login a device that comes back is let in without the page; None: as long as what it has goes on."""
    hours: HoursModel | None = None
    """When it lets somebody in; None: always."""


class VoucherWay(OfferingModel):
    way: Literal["voucher"] = "voucher"


class GuestPassWay(OfferingModel):
    way: Literal["guest_pass"]


class AccountWay(OfferingModel):
    way: Literal["account"]


class KeyFileModel(Model):
    """For an access point on this host, which has a file of all passphrases."""

    access_device: AnyId
    file: str = Field(max_length=60)
    interface: str = Field(max_length=60)


class PassphraseWay(OfferingModel):
    way: Literal["passphrase"]
    first_vlan: int | None = Field(default=None, ge=1, le=4094)
    """Private groups have a VLAN each, from this one on; None: there are none."""
    last_vlan: int | None = Field(default=None, ge=1, le=4094)
    files: list[KeyFileModel] = Field(default=[], max_length=20)


class AlwaysWay(OfferingModel):
    way: Literal["always"]
    plan: AnyId


class TrustedIn(Model):
    """Let in always: a device, else a port of an access device, else all of one."""

    name: str = Name
    role: AnyId | None = None
    """None: as the rules say."""
    mac: str | None = Field(default=None, max_length=40)
    access_device: AnyId | None = None
    port: str | None = Field(default=None, max_length=253)


class TrustedOut(TrustedIn):
    id: int
    what: str
    role_name: str | None


class PasscodeWay(OfferingModel):
    way: Literal["passcode"]
    plan: AnyId
    schedule: Schedule = Schedule.DAILY
    at_minute: int = Field(default=300, ge=0, lt=1440)
    weekday: int = Field(default=0, ge=0, le=6)
    every_hours: int = Field(default=6, ge=1, le=12)
    overlap_minutes: int = Field(default=60, ge=0, le=7 * 1440)
    signs: Signs = Signs.DIGITS
    length: int = Field(default=6, ge=4, le=12)
    tells: list[Annotated[str, Field(max_length=254)]] = Field(default=[], max_length=20)
    """Mail addresses and phone numbers of those who hand it out."""


class NewPasscode(Model):
    text: str | None = Field(default=None, max_length=40)
    """None: another one by the same rule."""


class PasscodeWords(Model):
    """What a guesser's chance is within one change."""

    changes: str
    chance: str


class ClickThroughWay(OfferingModel):
    way: Literal["click_through"]
    plan: AnyId
    again_after_hours: int | None = Field(default=None, ge=1, le=24 * 366)
    asks_when_changed: bool = True
    asks_name: bool = False
    asks_mail: bool = False
    shows_whole: bool = False
    """The button stands below the whole text."""


class FieldModel(Model):
    """One question of a form."""

    key: str = Field(max_length=12)
    is_required: bool = False
    labels: dict[Literal["en", "de"], Annotated[str, Field(max_length=60)]] = Field(default_factory=dict)
    """What it is called; the page's own word where nothing is said."""
    helps: dict[Literal["en", "de"], Annotated[str, Field(max_length=160)]] = Field(default_factory=dict)


class SelfRegistrationWay(OfferingModel):
    way: Literal["self_registration"]
    plan: AnyId
    fields: list[FieldModel] = Field(max_length=12)
    """In the order of the form."""
    deliveries: list[Delivery] = Field(max_length=6)
    """How guests may get their code; the first one is chosen at first."""
    first_minutes: int = Field(default=15, ge=3, le=240)
    """The first stay of who must confirm an address."""
    asks_consent: bool = False
    """Whether there is a box for being written to; its words are in Settings."""


class SponsorWay(OfferingModel):
    way: Literal["sponsor"]
    plan: AnyId
    fields: list[FieldModel] = Field(max_length=12)
    """What the host reads about the guest, in the order of the form."""
    naming: Naming = Naming.LIST
    """How a guest says who their host is."""
    domains: list[Annotated[str, Field(max_length=253)]] = Field(default=[], max_length=20)
    """Of mail addresses that may be asked, where those are typed."""
    wait_minutes: int = Field(default=30, ge=2, le=1440)
    remind_minutes: int = Field(default=10, ge=0, le=1440)
    """0: nobody is reminded."""
    stand_in: AnyId | None = None
    """Who is asked when nobody answered in time."""
    asks_consent: bool = False
    """Whether there is a box for being written to; its words are in Settings."""


WayModel = Annotated[
    VoucherWay
    | GuestPassWay
    | PasscodeWay
    | AccountWay
    | AlwaysWay
    | ClickThroughWay
    | SelfRegistrationWay
    | SponsorWay
    | PassphraseWay,
    Field(discriminator="way"),
]


class WaysIn(Model):
    ways: list[WayModel] = Field(max_length=14)
    """In the order of the page."""
