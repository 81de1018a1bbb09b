"""The shapes of the room Desk."""

from typing import Literal

from pydantic import Field

from lauschen.api.model import LARGEST, AnyId, Model, Whole
from lauschen.core.config.slip_settings import Paper
from lauschen.core.limits.seats import Seats
from lauschen.core.messages.message import MessageState
from lauschen.core.words.codes import LENGTH, LONGEST, SHORTEST


class PlanOut(Model):
    id: int
    name: str
    sentence: str
    devices: int
    slip: str
    """The limits as they stand on the slip."""


class OwnTerms(Model):
    """What is said besides the plan; what is left out is as the plan says."""

    plan: AnyId
    since: str | None = Field(default=None, max_length=16)
    """`2026-12-04T18:00`, by the clock of the site."""
    until: str | None = Field(default=None, max_length=16)
    devices: int | None = Field(default=None, ge=1, le=999)
    seats: Seats = Seats.AT_ONCE
    """How devices are counted."""
    seconds: int | None = Field(default=None, ge=60, le=10 * 366 * 86_400)
    """From first use, in place of the plan's; so are the next three."""
    octets: int | None = Field(default=None, ge=1_000_000, le=10**15)
    down_bps: int | None = Field(default=None, ge=8_000, le=10**12)
    up_bps: int | None = Field(default=None, ge=8_000, le=10**12)
    network: AnyId | None = None
    """Where alone it is good."""
    label: str = Field(default="", max_length=80)
    """For whom."""
    words: str = Field(default="", max_length=200)
    """*Words to the guest*: they read them on the slip, in the message and on the page."""
    note: str = Field(default="", max_length=500)
    """*Note for us*: no guest ever sees it."""
    price: int | None = Field(default=None, ge=0, le=10**9)
    """Of each, in hundredths."""


class Issue(OwnTerms):
    count: int = Field(ge=1, le=100_000)
    length: int = Field(default=LENGTH, ge=SHORTEST, le=LONGEST)
    """Signs of each code."""


class SlipWish(OwnTerms):
    """A slip before anything is issued."""

    way: Literal["voucher", "guest_pass", "passphrase"] = "voucher"
    paper: Paper | None = None
    """None: as the house prints; so is the language."""
    lang: Literal["en", "de"] | None = None


class WishWords(OwnTerms):
    """What somebody is about to issue."""

    count: int = Field(default=1, ge=1, le=100_000)


class WishOut(Model):
    """What it comes to, and what stands against it."""

    sentence: str
    field: str | None
    """Where something cannot be; None when it can be issued."""
    mend: str | None


class JobOut(Model):
    """Something long, and how far it is."""

    id: int
    done: int
    of: int
    state: Literal["running", "done", "cancelled", "failed"]
    error: str | None
    batch: int | None
    """What it made."""


class GiveTime(Model):
    seconds: int = Field(ge=60, le=31 * 86_400)


class ActOn(Model):
    """One act on one or many of what was issued."""

    what: Literal[
        "give-time",
        "shorten",
        "give-back",
        "pause",
        "resume",
        "withdraw",
        "restore",
        "new-code",
        "forget",
        "send-again",
    ]
    issued: list[AnyId] = Field(min_length=1, max_length=500)
    seconds: int | None = Field(default=None, ge=60, le=31 * 86_400)
    """How much is given, or taken away."""
    taken: list["TakenModel"] = Field(default=[], max_length=500)
    """What *shorten* took: *give-back* gives exactly that back."""


class NotDone(Model):
    issued: int
    text: str
    """Why not, and what to do."""


class ActedOn(Model):
    """Each stands in one of the first two; what was so before is refused, too."""

    done: list["IssuedOut"]
    refused: list[NotDone]
    taken: list["TakenModel"]
    """By *shorten*."""


class TakenModel(Model):
    """What *shorten* took from one."""

    issued: AnyId
    seconds: dict[int, Whole] = Field(max_length=1000)
    """By what counts its time: several where each device has its own."""
    until: float | None = Field(ge=0, le=LARGEST)
    """The moment until which it was good; null where that was not changed."""


class SendTo(Model):
    """By mail or as a text message."""

    channel: Literal["mail", "text"]
    to: str = Field(min_length=1, max_length=254)
    lang: Literal["en", "de"] = "en"


class IssuePass(OwnTerms):
    code: str | None = Field(default=None, max_length=40)
    """As it was chosen; None has one proposed."""
    send: SendTo | None = None


class IssueAccount(OwnTerms):
    name: str = Field(min_length=1, max_length=80)
    """As the guest types it."""
    password: str | None = Field(default=None, max_length=128)
    """None has one proposed."""
    for_chap: bool = False
    """Kept readable, for access devices that ask by CHAP."""
    send: SendTo | None = None


class NewAccountPassword(Model):
    password: str | None = Field(default=None, max_length=128)
    """None has one proposed."""


class AccountOut(Model):
    """An account with its password, which is shown this once."""

    batch: "BatchOut"
    password: str | None
    """None when the very same request came before: it was shown then."""


class SentOut(Model):
    """What was sent about it last."""

    message: int
    channel: Literal["mail", "text"]
    to: str
    lang: Literal["en", "de"]
    state: MessageState
    at: float
    """When it was written."""
    answer: str | None


class IssuedOut(Model):
    """A voucher or a guest pass."""

    id: int
    way: str
    code: str
    is_hidden: bool
    """The code is not for whoever looks: dots stand in its place."""
    devices: int | None
    """So many it is for; None: any number."""
    seats: Seats
    """How they are counted."""
    valid_from: float | None
    valid_until: float | None
    slip: str
    """Its limits as they stand on the slip."""
    plan: str
    state: str
    first_used: float | None
    until: float | None
    must_start_by: float | None
    seconds_left: int | None
    octets_used: int
    octets_left: int | None
    devices_in: int
    devices_away: int | None
    """Of them, those that have left: they would be let back in without the page. None in a list of guests."""
    sent: SentOut | None = None
    """None in a list of guests."""


class BatchOut(Model):
    """`issued` holds the only one of a batch of one; others come by the hundred when they are asked for."""

    id: int
    label: str
    plan: str
    size: int
    used: int
    withdrawn: int
    words: str
    """To the guest."""
    note: str
    """For us."""
    price: int | None
    """Of each, in hundredths."""
    takings: str
    """What the used ones come to; empty without a price."""
    issued_at: float
    issued_by: str | None
    issued: list[IssuedOut]
    is_hidden: bool
    """Its codes are not for the eyes of whoever looks."""
    way: str


class KnownOut(Model):
    """A guest who had something before."""

    label: str
    way: str
    plan: int | None
    """None: that plan is given no more."""
    plan_name: str
    at: float
    sent: SentOut | None


class CodesWish(Model):
    count: int = Field(ge=1, le=100_000)
    length: int = Field(default=LENGTH, ge=SHORTEST, le=LONGEST)


class CodesOut(Model):
    """What a guesser's chance is."""

    text: str
    is_safe: bool
    shortest: int
    """The fewest signs that are safe."""


class CannotOut(Model):
    """Something at the desk that cannot work now."""

    about: Literal["mail", "text", "plan", "network"]
    id: int | None
    """Which plan, or which network."""
    text: str


class PasscodeOut(Model):
    """One that is good now."""

    network: str
    code: str
    until: float | None
    is_former: bool
    """It goes on for an overlap only."""


class DeskNetwork(Model):
    """Where something that is issued can be good."""

    id: int
    name: str
    ssid: str
    ways: list[str]
    """Of what is issued at the desk, those that it takes."""


class BoundsOut(Model):
    """What whoever looks may give at most; None: anything."""

    longest_seconds: int | None
    most_at_once: int | None
    most_devices: int | None
    needs_network: bool
    """They must say which network it is good on."""


class DeskOut(Model):
    """What Desk needs before the first key is pressed."""

    plans: list[PlanOut]
    networks: list[DeskNetwork]
    bounds: BoundsOut
    cannot: list[CannotOut]
    """Said before anything is issued."""
    batches: list[BatchOut]
    site: str
    passcodes: list[PasscodeOut]
    ssids: dict[str, str]
    """Where what is issued is good, by way in."""
    page: str
    slip_host: str
    sends: list[Literal["mail", "text"]]
    """How something can be sent."""
