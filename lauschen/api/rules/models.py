"""The shapes of the room Rules and plans: plans, and rules in their order."""

from pydantic import Field

from lauschen.api.hours import HoursModel
from lauschen.api.model import AnyId, Model
from lauschen.core.ways.kinds import WayIn

LONGEST_S = 10 * 366 * 86_400
MOST_OCTETS = 1 << 50
MOST_BPS = 400 * 10**9


class PlanIn(Model):
    """Nothing said means: no such limit."""

    name: str = Field(min_length=1, max_length=60)
    seconds: int | None = Field(default=None, ge=60, le=LONGEST_S)
    idle_seconds: int | None = Field(default=None, ge=60, le=86_400)
    octets: int | None = Field(default=None, ge=1_000_000, le=MOST_OCTETS)
    devices: int = Field(default=1, ge=1, le=1000)
    use_within_days: int | None = Field(default=None, ge=1, le=3660)
    down_bps: int | None = Field(default=None, ge=8000, le=MOST_BPS)
    up_bps: int | None = Field(default=None, ge=8000, le=MOST_BPS)
    hours: HoursModel | None = None


class PlanWords(Model):
    """A plan that is being typed, in words."""

    sentence: str
    slip: str
    touches: str | None
    """Whom a change of it would touch, and when."""
    ignored: list[str]
    """What access devices will not carry out."""


class PlanFull(PlanIn):
    id: int
    sentence: str
    slip: str
    inside: int
    """Devices that are let in by something with this plan."""
    unused: int
    """What was issued with it and not used yet."""
    needed_by: list[str]


class RuleIn(Model):
    id: AnyId = 0
    network: AnyId | None = None
    way_in: WayIn | None = None
    plan: AnyId | None = None
    role: AnyId


class RulesIn(Model):
    """All of them, in their order, and the last one, which always matches."""

    rules: list[RuleIn] = Field(max_length=200)
    last_role: AnyId | None = None
    """None: whoever no rule matches stays at the door."""


class RuleOut(RuleIn):
    sentence: str
    never: str | None
    """Why it can never match."""


class Choice(Model):
    id: int
    name: str


class RulesOut(Model):
    plans: list[PlanFull]
    rules: list[RuleOut]
    last_role: int | None
    roles: list[Choice]
    """Those for guests who are let in."""
    networks: list[Choice]
    ways: list[WayIn]
