"""The shapes of people."""

from pydantic import Field

from lauschen.api.model import Model
from lauschen.core.people.duties import Duty


class DutyIn(Model):
    duty: Duty


class PersonIn(DutyIn):
    name: str = Field(min_length=1, max_length=80)
    """As they sign in, and as the log calls them."""


class PersonOut(PersonIn):
    id: int
    may: str
    """In a sentence."""
    is_you: bool
    waits: bool
    """The first password was not changed yet."""
    sessions: int
    """Signed in now, at so many browsers."""


class FirstPassword(Model):
    """What somebody signs in with the first time; shown this once, good for a day."""

    person: PersonOut
    password: str
