"""The shapes of signing in."""

from pydantic import Field

from lauschen.api.model import Model
from lauschen.core.people.duties import Duty, Need


class SignIn(Model):
    name: str = Field(min_length=1, max_length=80)
    password: str = Field(min_length=1, max_length=200)
    code: str = Field(default="", max_length=40)
    """Of the second factor, where there is one; or a recovery code."""


class NewPassword(Model):
    old: str = Field(min_length=1, max_length=200)
    new: str = Field(min_length=10, max_length=200)


class Invited(Model):
    token: str = Field(min_length=1, max_length=100)
    """From the link."""
    new: str = Field(min_length=10, max_length=200)


class Accepted(Model):
    name: str
    """As whom they sign in."""


class Session(Model):
    """Who is signed in, and what the console needs to know first."""

    name: str
    must_change: bool
    csrf: str
    site: str
    zone: str
    duty: Duty
    may: list[Need]
    """So the console shows nobody a room or a button that is not theirs."""
    has_second: bool
    """A second factor is asked for when they sign in."""
    bounds: str
    """What they may give at most, in a sentence; empty without limits."""
