"""A change of the configuration: in force before it is answered, whoever made it."""

from collections.abc import Callable
from typing import TypeVar

from lauschen.road.tx import Tx

T = TypeVar("T")


def configured(act: Callable[[Tx], T]) -> Callable[[Tx], T]:
    """The act, and what it changed is in force for the next job of its own group (rulings 8.10)."""

    def changed(tx: Tx) -> T:
        result = act(tx)
        tx.reconfigure()
        return result

    return changed
