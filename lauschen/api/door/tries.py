"""Wrong passwords of staff, in memory: counted before anything is hashed, by name and source together.

So many tries at once get no further than one after the other, and whoever guesses a name from elsewhere does not lock
out the person whose name it is: for a name alone, answers only become slower.
"""

from collections import OrderedDict, deque
from dataclasses import dataclass

from lauschen.core.errors import Unavailable
from lauschen.core.words.ip import group_of

WINDOW_S = 600.0
BY_PAIR = 8
BY_SOURCE = 24
BY_NAME = 20
"""Beyond this a try for the name waits, from wherever it comes."""
SLOWER_S = 0.1
SLOWEST_S = 3.0
MOST_KEYS = 10_000


@dataclass(frozen=True, slots=True)
class Guess:
    """A try that is under way; wrong until it proves to be right."""

    keys: tuple[str, ...]
    at: float
    wait_s: float


class SignInTries:
    """Times are seconds of a clock that nobody sets."""

    def __init__(self) -> None:
        self._tries: OrderedDict[str, deque[float]] = OrderedDict()

    def begin(self, name: str, source: str, now: float) -> Guess:
        """Counts a try; Unavailable when this source has had its share, for this name or for all."""
        source = group_of(source)
        pair, whole, named = f"pair {source} {name}", f"source {source}", f"name {name}"
        if self._count(pair, now) >= BY_PAIR or self._count(whole, now) >= BY_SOURCE:
            raise Unavailable("sign-in", meanwhile="Too many wrong passwords. Try again in ten minutes.")
        over = self._count(named, now) - BY_NAME
        for key in (pair, whole, named):
            self._tries.setdefault(key, deque()).append(now)
            self._tries.move_to_end(key)
        while len(self._tries) > MOST_KEYS:
            self._tries.popitem(last=False)
        return Guess((pair, whole, named), now, min(SLOWEST_S, SLOWER_S * max(0, over)))

    def was_right(self, guess: Guess) -> None:
        """It was no guess; the wrong ones before it still count."""
        for key in guess.keys:
            tries = self._tries.get(key)
            if tries and guess.at in tries:
                tries.remove(guess.at)

    def _count(self, key: str, now: float) -> int:
        tries = self._tries.get(key)
        while tries and tries[0] < now - WINDOW_S:
            tries.popleft()
        return len(tries) if tries else 0
