"""Parts of the page that belong to no way in."""

from dataclasses import dataclass
from typing import ClassVar


@dataclass(frozen=True, slots=True)
class LastStep:
    """The guest's browser tells the access device itself, by a button: no script is needed (rulings 6.2)."""

    template: ClassVar[str] = "parts/last_step.html"
    url: str
    fields: list[tuple[str, str]]


@dataclass(frozen=True, slots=True)
class OnceMore:
    """Asks for another one-time login, because the first was not posted in time."""

    template: ClassVar[str] = "parts/once_more.html"


@dataclass(frozen=True, slots=True)
class NewPassword:
    """Changes the password of the account by which this device is in."""

    template: ClassVar[str] = "parts/password.html"
    name: str
    """Of the account, for the browser's own memory of passwords."""
    is_open: bool


@dataclass(frozen=True, slots=True)
class LogOut:
    """Ends the stay."""

    template: ClassVar[str] = "parts/log_out.html"


@dataclass(frozen=True, slots=True)
class Paragraphs:
    """A longer text to read."""

    template: ClassVar[str] = "parts/paragraphs.html"
    texts: list[str]
