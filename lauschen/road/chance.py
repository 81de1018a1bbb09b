"""Where random values come from; tests give their own."""

import secrets
from typing import Protocol


class Chance(Protocol):
    """What the road draws."""

    def below(self, limit: int) -> int:
        """A number in [0, limit)."""

    def name(self, octets: int) -> str:
        """Lower-case hex that nobody can guess."""


class SystemChance:
    """Random values from the operating system."""

    def below(self, limit: int) -> int:
        return secrets.randbelow(limit)

    def name(self, octets: int) -> str:
        return secrets.token_hex(octets)
