"""One answer for everybody who asks for the same thing at the same time: tabs are many, and the loop is one."""

import asyncio
from collections.abc import Awaitable, Callable

FRESH_S = 0.4
"""Time alone changes what is shown, too; so an answer is made anew after this, even when nothing was heard."""


class Shared:
    """The last answer, as JSON, and the making of the next one."""

    def __init__(self) -> None:
        self._json = b""
        self._revision = -1
        self._made_at = 0.0
        self._making: asyncio.Task[bytes] | None = None
        self.made = 0
        """How many were made."""

    async def get(self, revision: int, now: float, make: Callable[[], Awaitable[bytes]]) -> bytes:
        """What `make` returned for this revision of the feed lately, or what it returns now (`now` is monotonic)."""
        if self._revision == revision and now - self._made_at < FRESH_S:
            return self._json
        if self._making is None or self._making.done() or self._revision != revision:
            self._revision, self._made_at = revision, now
            self._making = asyncio.ensure_future(self._make(make))
        return await asyncio.shield(self._making)

    async def _make(self, make: Callable[[], Awaitable[bytes]]) -> bytes:
        self.made += 1
        try:
            self._json = await make()
        except BaseException:
            self._revision = -1
            raise
        return self._json
