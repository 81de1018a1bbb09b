"""Argon2id beside the loop: it takes a tenth of a second, so it has a thread of its own and a short line."""

import asyncio
import secrets
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from argon2.profiles import RFC_9106_LOW_MEMORY

from lauschen.core.errors import Unavailable

T = TypeVar("T")
WAITING = 32
"""At most (rulings 1.1, 3.8): whoever comes then is told to come again, or asks again by itself."""
COST = RFC_9106_LOW_MEMORY
"""64 MiB, three passes, four lanes (RFC 9106 section 4, the second recommended option)."""


def hasher() -> PasswordHasher:
    return PasswordHasher.from_parameters(COST)


class Passwords:
    """Argon2id releases the interpreter lock, so one thread is enough."""

    def __init__(self, what: str) -> None:
        """`what` is said of those who are told to come again."""
        self._what = what
        self._hasher = hasher()
        self._thread = ThreadPoolExecutor(1, "argon2")
        self._waiting = 0
        # Verified instead of a real one when the name is unknown, so that both take the same time.
        self._nobody = self._hasher.hash(secrets.token_hex(16))

    async def hash(self, password: str) -> str:
        return await self._run(lambda: self._hasher.hash(password))

    async def matches(self, stored: str | None, password: str) -> bool:
        """None as `stored`: nobody's, which takes as long."""
        found = self._nobody if stored is None else stored
        return await self._run(lambda: self._verify(found, password)) and stored is not None

    def close(self) -> None:
        self._thread.shutdown()

    def _verify(self, stored: str, password: str) -> bool:
        try:
            return self._hasher.verify(stored, password)
        except (VerificationError, InvalidHashError):
            return False

    async def _run(self, work: Callable[[], T]) -> T:
        if self._waiting >= WAITING:
            raise Unavailable(self._what, meanwhile="Too many sign-ins at once. Try again in a moment.")
        self._waiting += 1
        try:
            return await asyncio.get_running_loop().run_in_executor(self._thread, work)
        finally:
            self._waiting -= 1
