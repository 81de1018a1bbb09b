"""Duties: what somebody who signs in is there for, and so what they may do."""

from collections.abc import Mapping
from enum import StrEnum


class Duty(StrEnum):
    """What somebody at the console is there for."""

    ADMINISTRATOR = "administrator"
    DESK = "desk"
    """Gives guests a way in and helps them."""
    AUDITOR = "auditor"
    """Sees everything and changes nothing."""


class Need(StrEnum):
    """What somebody must be allowed to; each route states one (rulings 8.8)."""

    NOTHING = "nothing"
    """Open to all: that is how people sign in."""
    SESSION = "session"
    """To be signed in, also while the first password waits to be changed."""
    LOOK = "look"
    """See guests, what is issued, and what is heard."""
    INSPECT = "inspect"
    """See how the house is set up, and who works there."""
    ISSUE = "issue"
    HELP = "help"
    """Change what one guest has: give time, end, bar, withdraw."""
    CONFIGURE = "configure"


DUTY_WORDS: Mapping[str, Mapping[Duty, str]] = {
    "en": {
        Duty.ADMINISTRATOR: "an administrator",
        Duty.DESK: "front desk staff",
        Duty.AUDITOR: "an auditor",
    },
    "de": {
        Duty.ADMINISTRATOR: "Verwaltung",
        Duty.DESK: "Empfang",
        Duty.AUDITOR: "Revision",
    },
}
"""How a mail names what somebody is there for."""
SAYS: Mapping[Duty, str] = {
    Duty.ADMINISTRATOR: "Sets up the house, issues, and helps guests.",
    Duty.DESK: "Issues to guests and helps them; sees nothing of how the house is set up.",
    Duty.AUDITOR: "Sees everything but codes, and changes nothing.",
}
_ALWAYS = frozenset({Need.NOTHING, Need.SESSION, Need.LOOK})
MAY: Mapping[Duty, frozenset[Need]] = {
    Duty.ADMINISTRATOR: frozenset(Need),
    Duty.DESK: _ALWAYS | {Need.ISSUE, Need.HELP},
    Duty.AUDITOR: _ALWAYS | {Need.INSPECT},
}
