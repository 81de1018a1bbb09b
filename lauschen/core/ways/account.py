"""Account: a name and a password of one person, held here. The password is proved before the road (`proofs`)."""

import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import ClassVar

from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import AtDoor, Finder, Lead
from lauschen.core.ways.offering import Offering
from lauschen.core.words.mac import read_mac
from lauschen.core.words.plain import plain_words

SHORTEST_NAME, LONGEST_NAME = 2, 60
SHORTEST_PASSWORD, LONGEST_PASSWORD = 8, 128
OURS = "visit-"
"""Names of one-time logins begin so."""
NAME, LOGIN = "account", "login"
"""Finders: by the name alone, for those who hold the password to it; and by the name with the password in force."""


@dataclass(frozen=True, slots=True)
class Account(Offering):
    """Its settings on a network: none of its own."""

    way: ClassVar[WayIn] = WayIn.ACCOUNT
    plan: ClassVar[None] = None

    def leads(self, offer: object, at: AtDoor) -> Iterable[Lead | Reason]:
        """By the name, once its password was proved; one that was changed meanwhile leads nowhere."""
        if isinstance(offer, Login) and offer.stamp is not None:
            yield Lead(login_finder(offer.name, offer.stamp))


@dataclass(slots=True)
class Login:
    """What a guest offers: a name and its password."""

    name: str
    """As it is compared."""
    password: str = field(repr=False)
    stamp: str | None = None
    """Which password it was that was proved; None: none was."""
    kind: ClassVar[str] = "login"
    missing: ClassVar[Reason] = Reason.LOGIN_WRONG
    says_who: ClassVar[bool] = True
    is_typed: ClassVar[bool] = True

    def record(self) -> dict[str, str | int]:
        """What an admission by it keeps: nothing more than its credential."""
        return {}


def login_finder(name: str, stamp: str) -> Finder:
    return Finder(LOGIN, f"{name} {stamp}")


def login_name(text: str) -> str:
    """As names are compared: without case, compatible signs as one, and what stands around it."""
    if text.isascii():
        return text.lower().strip()
    return unicodedata.normalize("NFKC", text).casefold().strip()


def check_login_name(text: str) -> str:
    """The name as it is compared; Invalid for one that could be taken for something else."""
    name = login_name(text)
    if not SHORTEST_NAME <= len(name) <= LONGEST_NAME:
        mend = f"{SHORTEST_NAME} to {LONGEST_NAME} signs."
        raise Invalid("login_length", field="name", mend=mend)
    if not all(sign.isprintable() for sign in name) or any(sign.isspace() for sign in name):
        raise Invalid(
            "login_signs", field="name", mend="Letters, digits and signs between them, without blanks."
        )
    if read_mac(name) is not None or name.startswith(OURS):
        raise Invalid(
            "login_reserved", field="name", mend="That looks like the name of a device: take another one."
        )
    return name


def check_password(password: str, name: str) -> None:
    """Invalid for one that is short, long, the name, or one sign again and again."""
    if not SHORTEST_PASSWORD <= len(password) <= LONGEST_PASSWORD:
        mend = f"{SHORTEST_PASSWORD} to {LONGEST_PASSWORD} signs."
        raise Invalid("password_length", field="password", mend=mend)
    words = plain_words(password)
    if words == plain_words(name) or len(set(password)) < 4:
        raise Invalid("password_easy", field="password", mend="It is too easy to guess: take another one.")
