"""Who acts: one type for everybody and everything that may change something (rulings 8.8)."""

from dataclasses import dataclass
from enum import StrEnum

from lauschen.core.ids import StaffId


class ActorKind(StrEnum):
    """What kind of somebody."""

    PERSON = "person"
    """Signed in at the console."""
    TOKEN = "token"  # noqa: S105 - a kind of actor
    """A program with an API token."""
    HOST = "host"
    """Somebody in the house who answers by a signed link."""
    GUEST = "guest"
    """At the page, about the own device."""
    HOLDER = "holder"
    """Somebody who has a private passphrase, on their own page."""
    COMMAND_LINE = "command_line"


@dataclass(frozen=True, slots=True)
class Actor:
    """In the record of each act."""

    kind: ActorKind
    staff: StaffId | None = None
    """Which person, or which program."""
    source: str = ""
    """The address that they act from, where there is one."""


GUEST = Actor(ActorKind.GUEST)
HOST = Actor(ActorKind.HOST)
HOLDER = Actor(ActorKind.HOLDER)
COMMAND_LINE = Actor(ActorKind.COMMAND_LINE)


def person(staff: StaffId, source: str = "") -> Actor:
    """Somebody who is signed in."""
    return Actor(ActorKind.PERSON, staff, source)


def program(staff: StaffId, source: str = "") -> Actor:
    """One that showed its token."""
    return Actor(ActorKind.TOKEN, staff, source)
