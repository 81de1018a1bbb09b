"""The shapes of people, programs and the activity record."""

from pydantic import Field

from lauschen.api.model import AnyId, Model
from lauschen.core.ids import NetworkId, PlanId
from lauschen.core.people.duties import Duty
from lauschen.core.people.limits import Limits


class LimitsIn(Model):
    """What one of the desk may give; as it is made, it bounds nothing."""

    networks: list[AnyId] = Field(default=[], max_length=200)
    """Where what they give is good, and where they help; none: everywhere."""
    plans: list[AnyId] = Field(default=[], max_length=200)
    """None: all."""
    longest_minutes: int | None = Field(default=None, ge=5, le=3660 * 1440)
    most_at_once: int | None = Field(default=None, ge=1, le=100_000)
    """Codes with one gesture."""
    most_devices: int | None = Field(default=None, ge=1, le=999)
    """On one code."""
    own_only: bool = False
    """Codes of others stay theirs."""

    def read(self) -> Limits:
        return Limits(
            tuple(NetworkId(one) for one in self.networks),
            tuple(PlanId(one) for one in self.plans),
            self.longest_minutes,
            self.most_at_once,
            self.most_devices,
            self.own_only,
        )

    @staticmethod
    def of(limits: Limits) -> "LimitsIn":
        return LimitsIn(
            networks=list(limits.networks),
            plans=list(limits.plans),
            longest_minutes=limits.longest_minutes,
            most_at_once=limits.most_at_once,
            most_devices=limits.most_devices,
            own_only=limits.own_only,
        )


class DutyIn(Model):
    duty: Duty
    limits: LimitsIn = LimitsIn()
    """Of one of the desk; others have none."""


class PersonIn(DutyIn):
    name: str = Field(min_length=1, max_length=80)
    """As they sign in, and as the log calls them."""
    mail: str = Field(default="", max_length=254)
    """Where an invitation goes; without one a first password is shown."""
    lang: str = Field(default="en", pattern="^(en|de)$")
    """Of the invitation."""


class PersonOut(DutyIn):
    id: int
    name: str
    mail: str
    may: str
    """In a sentence."""
    bounds: str
    """Their limits in a sentence; empty without."""
    is_you: bool
    waits: bool
    """The first password was not changed yet."""
    has_second: bool
    """They have a second factor."""
    sessions: int
    """Signed in now, at so many browsers."""


class FirstPassword(Model):
    """What somebody signs in with the first time; shown this once, good for a day."""

    person: PersonOut
    password: str | None
    """None: they were invited by mail, and choose their own."""


class InviteAgain(Model):
    mail: str = Field(min_length=3, max_length=254)
    lang: str = Field(default="en", pattern="^(en|de)$")


class SessionOut(Model):
    """A browser that is signed in."""

    id: str
    begun: float
    expires: float
    source: str
    browser: str
    is_this: bool


class ProgramIn(DutyIn):
    name: str = Field(min_length=1, max_length=80)
    days: int | None = Field(default=365, ge=1, le=3660)
    """How long its token is good; None: until it is taken away."""


class ProgramChange(DutyIn):
    pass


class NewToken(Model):
    days: int | None = Field(default=365, ge=1, le=3660)


class ProgramOut(DutyIn):
    id: int
    name: str
    bounds: str
    until: float | None
    used: float | None
    """When it asked last, to the hour."""


class TokenOut(Model):
    """Shown this once."""

    program: ProgramOut
    token: str


class SecondBegun(Model):
    """To be scanned, and proved by a code before it counts."""

    secret: str
    address: str
    """`otpauth://`, as authenticator apps take it."""
    qr: str
    """The same as an SVG picture in a data: address."""


class PasswordProof(Model):
    password: str = Field(min_length=1, max_length=200)


class SecondProof(PasswordProof):
    secret: str = Field(min_length=32, max_length=64, pattern="^([A-Z2-7]{8})+$")
    """Base32 (RFC 4648), of 160 bits at least, as RFC 4226 wants."""
    code: str = Field(min_length=6, max_length=12)


class RecoveryCodes(Model):
    """Each is good once, instead of six digits; shown this once."""

    codes: list[str]


class ActOut(Model):
    """A line of the activity record."""

    id: int
    at: float
    actor: str
    kind: str
    """`person`, `token`, `host`, `guest` or `command_line`."""
    text: str
    source: str
    """The address it came from; empty where there is none."""
    changes: list[tuple[str, str, str]]
    """What was changed: its name, before, after."""
    mac: str | None
    network: int | None
