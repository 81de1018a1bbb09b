"""The shapes of the room Guests."""

from typing import Literal

from pydantic import Field

from lauschen.api.desk.models import IssuedOut
from lauschen.api.guests.kept import HERE
from lauschen.api.guests.listing import Filter
from lauschen.api.model import AnyId, Model
from lauschen.api.now.models import LogLine
from lauschen.core.decide.standing import State
from lauschen.core.ids import NetworkId, PlanId


class ListedGuest(Model):
    """A line of the list."""

    mac: str
    short: str
    private: bool
    network: int
    network_name: str
    state: str
    going: str | None
    reason: str | None
    since: float
    role: str | None
    way_in: str | None
    """By which it is in, or was last."""
    plan: str | None
    name: str
    """For whom that was issued, if it was for somebody."""
    label: str
    """What was written on it, also when many were issued with one gesture."""
    where: str
    address: str | None
    until: float | None
    octets_used: int
    octets_left: int | None
    bits_per_s: int
    """Both ways, between the last two reports of its access device."""
    octets_today: int
    """Both ways, of the day in the site's zone."""
    not_confirmed: str | None
    """What the access device last answered to a change that it has not carried out."""
    typing_barred_until: float | None


class GuestOut(ListedGuest):
    """One of them, as far as its dossier tells."""

    is_remembered: bool
    """It has left, and would be let back in without the page."""
    issued: IssuedOut | None
    """If it was handed out."""
    last_heard: float


class Asked(Model):
    """Which guests, in which order, which page."""

    state: State | None = None
    """None: everybody who is here."""
    network: AnyId | None = None
    plan: AnyId | None = None
    """By which they are in, or were last."""
    find: str = Field(default="", max_length=80)
    sort: Literal["state", "who", "how", "since", "until", "left", "rate", "today", "used", "where"] = "since"
    down: bool = True
    page: int = Field(default=0, ge=0, le=100_000)

    def filter(self) -> Filter:
        states = HERE if self.state is None else (self.state,)
        network = None if self.network is None else NetworkId(self.network)
        return Filter(states, network, None if self.plan is None else PlanId(self.plan), self.find)


class GuestsOut(Model):
    rows: list[ListedGuest]
    total: int
    """That fit, on all pages."""
    page: int
    pages: int
    counts: dict[State, int]
    """On the network that is asked for, or on all."""


class GuestKey(Model):
    mac: str = Field(max_length=20)
    network: AnyId


class AllOf(Model):
    """Everybody in one state, on one network or on all."""

    state: State
    network: AnyId | None = None


class ActOnGuests(Model):
    what: Literal["end-stay", "bar", "let-try-again"]
    guests: list[GuestKey] = Field(default=[], max_length=1000)
    all_of: AllOf | None = None
    """In place of naming each."""


class RefusedGuests(Model):
    count: int
    text: str
    """Why not."""


class GuestsActedOn(Model):
    done: list[GuestKey]
    refused: list[RefusedGuests]


class StayOut(Model):
    where: str
    started: float
    ended: float | None
    end: str | None
    seconds: int
    octets_in: int
    octets_out: int


class Sight(Model):
    by: str
    """What showed the address."""
    at: float


class AddressOut(Model):
    text: str
    seen: list[Sight]
    """Newest first."""


class Answer(Model):
    """What a guest wrote at the page; nobody confirmed it."""

    field: str
    text: str


class OtherDevice(Model):
    """Another device by the same code or account."""

    mac: str
    short: str
    network: int
    state: str
    since: float


class WhyOut(Model):
    """Why they cannot get on."""

    cause: str
    mend: str
    link: str | None
    """The room where it is mended, if it is another one."""


class PlaceOut(Model):
    """One access device and session, with what should hold there and what was seen."""

    where: str
    session: str
    """Empty when the access device names none."""
    is_here: bool
    should: str
    seen: str
    agrees: bool
    doing: str
    """What is done about a difference; empty when nothing is."""


class Dossier(Model):
    guest: GuestOut
    why: WhyOut | None
    """None of whoever is in."""
    others: list[OtherDevice]
    wrote: list[Answer]
    """Of themselves, if they wrote themselves in or asked for a host."""
    hosts: list[str]
    """Who was asked to vouch for them, and what came of it."""
    consents: list[str]
    """What they agreed to: the house rules, and that they may be written to; when, and to which version."""
    addresses: list[AddressOut]
    """Newest first."""
    places: list[PlaceOut]
    """The current place comes first. Empty once the guest has left."""
    log: list[LogLine]
    """One time line: issued, sent, heard, decided, done; newest first."""
    stays: list[StayOut]
