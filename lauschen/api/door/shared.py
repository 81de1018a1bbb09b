"""One answer for everybody who asks for the same thing at the same time: tabs are many, and the loop is one."""

import asyncio
import time
from collections.abc import Awaitable, Callable

RESTS = 6.0
"""So many times as long as an answer took to make, nothing is made again: long ones leave the loop to others."""
LONGEST_REST_S = 1.0
FRESH_S = 0.4
"""Time alone changes what is shown, too; so an answer is made anew after this, even when nothing was heard."""


class Shared:
    """The last answer, as JSON, and the making of the next one; `revision` is the feed's, `monotonic` the clock's."""

    def __init__(self, revision: Callable[[], int], monotonic: Callable[[], float]) -> None:
        self._now_at, self._monotonic = revision, monotonic
        self._json = b""
        self._revision = -1
        self._made_at = 0.0
        self._making: asyncio.Task[None] | None = None
        self._rests_until = 0.0
        self.made = 0
        """How many were made."""

    async def get(self, make: Callable[[], Awaitable[bytes]]) -> bytes:
        """An answer of `make` that was begun no earlier than what was heard last.

        One that is being made for somebody who asked before is waited for; whoever comes meanwhile shares the next.
        """
        wanted = self._now_at()
        if self._revision >= wanted and self._monotonic() - self._made_at < FRESH_S:
            return self._json
        self._revision = min(self._revision, wanted - 1)
        while self._revision < wanted:
            if self._making is None or self._making.done():
                self._making = asyncio.ensure_future(self._make(make))
            await asyncio.shield(self._making)
        return self._json

    async def _make(self, make: Callable[[], Awaitable[bytes]]) -> None:
        await asyncio.sleep(self._rests_until - time.perf_counter())
        self.made += 1
        revision, at, began = self._now_at(), self._monotonic(), time.perf_counter()
        self._json = await make()
        self._revision, self._made_at = revision, at
        took = time.perf_counter() - began
        self._rests_until = began + took + min(LONGEST_REST_S, RESTS * took)
