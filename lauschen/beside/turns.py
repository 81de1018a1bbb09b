"""Who is served next: some before others, and among equals one of each group in turn."""

import asyncio
from collections import OrderedDict, deque
from collections.abc import AsyncIterator, Hashable
from contextlib import asynccontextmanager

from lauschen.core.errors import Unavailable

_Lane = OrderedDict[Hashable, deque["asyncio.Future[None]"]]


class Turns:
    """So many at once. The others wait, but not more than `most_waiting` of one group, in either of two lanes.

    However many of one group come, somebody of another group waits for one of theirs at most.
    """

    def __init__(self, at_once: int, most_waiting: int) -> None:
        self._free, self._most_waiting = at_once, most_waiting
        self._first: _Lane = OrderedDict()
        self._others: _Lane = OrderedDict()

    @asynccontextmanager
    async def turn(self, group: Hashable, *, is_first: bool) -> AsyncIterator[None]:
        """Raises Unavailable at once when too many of the group wait already."""
        if self._free > 0:
            self._free -= 1
        else:
            await self._wait(self._first if is_first else self._others, group)
        try:
            yield
        finally:
            self._pass_on()

    async def _wait(self, lane: _Lane, group: Hashable) -> None:
        line = lane.setdefault(group, deque())
        if len(line) >= self._most_waiting:
            raise Unavailable("turn", meanwhile="Others of yours wait already. Please ask again in a moment.")
        mine = asyncio.get_running_loop().create_future()
        line.append(mine)
        try:
            await mine
        except asyncio.CancelledError:
            if mine.done() and not mine.cancelled():
                self._pass_on()  # the turn had come in the same moment
            else:
                if mine in line:
                    line.remove(mine)
                if not line and lane.get(group) is line:
                    lane.pop(group)
            raise

    def _pass_on(self) -> None:
        for lane in (self._first, self._others):
            while lane:
                group, line = lane.popitem(last=False)
                following = line.popleft()
                if line:
                    lane[group] = line
                if not following.done():  # else it went away in this moment
                    following.set_result(None)
                    return
        self._free += 1
