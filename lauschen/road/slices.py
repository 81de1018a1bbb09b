"""How long one slice of mass work may hold the loop; packets are served between slices (rulings 1.1)."""

import time
from collections.abc import Callable, Hashable

from lauschen.road.tx import Tx

SLICE_S = 0.003
"""What was written is flushed and committed besides, which takes about as long again."""
AGAIN_S = 60.0
"""Until an item that raised is tried again."""


class Slice:
    """Begins when it is made. It always has time for one item, so that work goes on however slow the machine is."""

    def __init__(self) -> None:
        self._until = time.perf_counter() + SLICE_S
        self.done = 0
        """Items so far."""
        self.has_walked = False
        """Something was looked through, whatever came of it."""

    @property
    def is_over(self) -> bool:
        return (self.done > 0 or self.has_walked) and time.perf_counter() >= self._until


class PutOff:
    """Items that raised: each waits a while, and is in nobody's way until then. A restart tries them at once."""

    def __init__(self) -> None:
        self._until: dict[Hashable, float] = {}

    def __len__(self) -> int:
        return len(self._until)

    def waits(self, key: Hashable, now: float) -> bool:
        # A clock that was set back makes nothing wait longer.
        return now < self._until.get(key, now) <= now + AGAIN_S

    def note(self, tx: Tx, key: Hashable) -> None:
        """It raised just now."""

        def keep() -> None:
            self._until = {one: until for one, until in self._until.items() if until > tx.now}
            self._until[key] = tx.now + AGAIN_S

        tx.after_commit(keep)

    def attempt(self, tx: Tx, kind: str, key: Hashable, about: str, work: Callable[[], object]) -> None:
        """Do one item, unless it waits; see `Tx.attempt`."""
        if not self.waits(key, tx.now) and not tx.attempt(kind, about, work):
            self.note(tx, key)
