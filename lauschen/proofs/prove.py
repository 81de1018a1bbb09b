"""Whether what somebody offers is proved: asked before the road, since a hash or another server takes its time."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Protocol

from lauschen.core.decide.reason import Reason
from lauschen.core.ways.ways import Asked


class Prover(Protocol):
    """Whom to ask about one kind of offer."""

    def waits(self, asked: Asked) -> bool:
        """Whether this very one must be awaited."""

    async def __call__(self, asked: Asked) -> Reason | None:
        """None: it is proved; else why not. Raises Unavailable when what must be asked cannot be."""


@dataclass(frozen=True, slots=True)
class Proofs:
    """Which kinds of offers must be awaited, and by whom; all others are proved by being found."""

    provers: Mapping[type, Prover] = field(default_factory=dict)

    def waits(self, asked: Asked) -> bool:
        prover = self.provers.get(type(asked))
        return prover is not None and prover.waits(asked)

    async def prove(self, asked: Asked) -> Reason | None:
        """Why it is not proved; None when it is, or when that shows on the road."""
        prover = self.provers.get(type(asked))
        return None if prover is None else await prover(asked)
