"""Long lists, shaped a little at a time: packets go first."""

import asyncio
from collections.abc import Callable, Sequence
from typing import TypeVar

T = TypeVar("T")
S = TypeVar("S")
SLICE = 25


async def in_slices(items: Sequence[T], shape: Callable[[T], S], size: int = SLICE) -> list[S]:
    """All of them, shaped; the loop goes on after every `size`."""
    shaped: list[S] = []
    for start in range(0, len(items), size):
        await asyncio.sleep(0)
        shaped += [shape(item) for item in items[start : start + size]]
    return shaped
