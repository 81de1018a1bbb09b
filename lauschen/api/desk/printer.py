"""Makes slips and pictures of them in a separate process, so that a large print job delays nobody else."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import ParamSpec, TypeVar

from lauschen.beside.turns import Turns
from lauschen.beside.worker import Worker
from lauschen.core.actor import Actor

P = ParamSpec("P")
R = TypeVar("R")
MOST_WAITING = 8
"""Of one person or program."""


@dataclass(slots=True)
class Printer:
    """One task at a time; people and programs take turns."""

    worker: Worker = field(default_factory=Worker)
    _turns: Turns = field(default_factory=lambda: Turns(1, MOST_WAITING))

    async def run(self, by: Actor, task: Callable[P, R], *args: P.args, **kwargs: P.kwargs) -> R:
        """As `Worker.run`; Unavailable when too many of `by` wait already."""
        async with self._turns.turn(by.staff, is_first=False):
            return await self.worker.run(task, *args, **kwargs)

    def close(self) -> None:
        self.worker.close()
