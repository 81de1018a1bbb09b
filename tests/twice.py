"""Whether a group of jobs is run, rolled back and run again: each job may run twice, so its input stays what it was
(rulings 9.1).

`LAUSCHEN_TWICE` says `always`, `never`, or the seed of a coin; without it a seed is drawn, and printed by pytest.
"""

import os
import random
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from copy import deepcopy
from typing import Any, TypeVar
from zlib import crc32

T = TypeVar("T")
VARIABLE = "LAUSCHEN_TWICE"


class Coin:
    """Thrown once per group. Each test begins with its own sequence, so that it can be run alone again."""

    def __init__(self) -> None:
        self._random = random.Random(0)

    def begin(self, test: str) -> None:
        """`test`: its name."""
        self._random.seed(crc32(f"{mode()}:{test}".encode()))

    def __call__(self) -> bool:
        says = mode()
        return says == "always" or (says != "never" and self._random.random() < 0.5)


COIN = Coin()


def mode() -> str:
    return os.environ.get(VARIABLE, "never")


def draw_seed() -> None:
    """Once per run; processes that are begun later have it too."""
    os.environ.setdefault(VARIABLE, str(random.SystemRandom().randrange(1_000_000)))


@contextmanager
def unchanged(heard: object) -> Iterator[None]:
    """Fails where a job changes what it was given."""
    before = deepcopy(heard)
    yield
    assert heard == before, f"a job changed its input: {before} became {heard}"


def watching(run: Callable[..., T], what: str) -> Callable[..., T]:
    """The job's `run`, with a look at the input that it has under this name."""

    def watched(job: Any, *args: Any) -> T:
        with unchanged(getattr(job, what)):
            return run(job, *args)

    return watched
