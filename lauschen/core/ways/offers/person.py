"""A person's name and password, as an access device passed them on. What they offer is found out by the acts."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.decide.reason import Reason
from lauschen.core.ways.account import Login


@dataclass(slots=True)
class NameAndPassword:
    """A code in one of them, or the one-time login of a visit."""

    kind: ClassVar[str] = "person"
    says_who: ClassVar[bool] = True
    is_typed: ClassVar[bool] = True
    name: str
    password: str | None
    """None when it came by CHAP, which shows it to nobody."""
    proves: Callable[[bytes], bool]
    """Whether these octets are the password."""
    login: Login | None = None
    """Where the name is an account's: what is offered by it."""
    login_fault: Reason | None = None
    """Why that was not proved."""
