"""The shapes of signing in."""

from pydantic import Field

from lauschen.api.model import Model
from lauschen.core.people.duties import Duty, Need


class SignIn(Model):
    name: str = Field(min_length=1, max_length=80)
    password: str = Field(min_length=1, max_length=200)


class NewPassword(Model):
    old: str = Field(min_length=1, max_length=200)
    new: str = Field(min_length=10, max_length=200)


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
