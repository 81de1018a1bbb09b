"""The shapes of hosts, and of guests who wait for one."""

from typing import Annotated, Literal

from pydantic import Field

from lauschen.api.model import AnyId, Model
from lauschen.core.ways.vouching import LONGEST_WORD, Role, VouchingState


class HostIn(Model):
    name: str = Field(min_length=1, max_length=60)
    mail: str = Field(min_length=3, max_length=254)
    department: str = Field(default="", max_length=60)
    lang: Literal["en", "de"] = "en"
    """Of what is written to them."""
    networks: list[AnyId] = Field(default=[], max_length=200)
    """Where they may vouch; none: everywhere."""
    plans: list[AnyId] = Field(default=[], max_length=200)
    """What they may give; none: what the way in gives."""
    longest_minutes: int | None = Field(default=None, ge=5, le=366 * 1440)
    at_once: int | None = Field(default=None, ge=1, le=500)
    """So many of their guests may be good at the same time."""


class HostOut(HostIn):
    id: int
    sentence: str
    """What they may give, in words."""


class AskedOut(Model):
    """Somebody who was asked."""

    name: str
    role: Role
    at: float
    reminded_at: float | None
    fault: str | None
    """Why they could not be written to."""


class LengthOut(Model):
    """One of the lengths that may be given."""

    key: str
    words: str


class VouchingOut(Model):
    """A guest who waits for a host, or waited."""

    id: int
    network: int
    network_name: str
    mac: str
    name: str
    said: list[Annotated[list[str], Field(min_length=2, max_length=2)]]
    """What they wrote, each with its label."""
    named: str
    """Whom they named."""
    at: float
    until: float | None
    """When the time of who was asked is over."""
    state: VouchingState
    asked: list[AskedOut]
    lengths: list[LengthOut]


class AnswerIn(Model):
    """In the host's stead."""

    length: str | None = Field(default=None, max_length=40)
    """One of the lengths; None: no."""
    word: str = Field(default="", max_length=LONGEST_WORD)
    """To the guest."""


class AskIn(Model):
    host: AnyId
