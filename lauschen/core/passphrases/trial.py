"""Finding out which key a device has by an access point that only says whether it joined.

It is given several, and tries each of them; which one it was, it does not say. So a device that joined is asked about
again after a moment, and then the access point is given half of those that are left: it joins again, or it does not.
"""

from collections.abc import Callable
from dataclasses import dataclass

from lauschen.core.ids import KeyId

AGAIN_S = 60
"""So long a device that joined by one of several keys stays until it is asked about again."""


@dataclass(frozen=True, slots=True)
class Trial:
    """Keys that a device may have, the likeliest first; as many of all as fit into one answer."""

    keys: tuple[KeyId, ...]
    offered: int
    """So many of them, from the first, its access point was given last."""
    has_joined: bool = False
    """It joined with one of those."""
    passed: int = 0
    """So many likelier ones it was given before, and joined with none of them."""

    @property
    def given(self) -> tuple[KeyId, ...]:
        return self.keys[: self.offered]

    @property
    def found(self) -> KeyId | None:
        """Which it has, when that is sure."""
        return self.keys[0] if self.has_joined and self.offered == 1 else None

    @property
    def is_whole(self) -> bool:
        """Nothing is known yet of which of them it may be."""
        return not self.has_joined and self.offered == len(self.keys)


Window = Callable[[int], tuple[KeyId, ...]]
"""Keys that it may have, behind so many likelier ones: as many as fit."""


def next_trial(before: Trial | None, window: Window, holds: Callable[[KeyId], bool]) -> Trial:
    """What its access point is given now; when nothing is left to be tried, it begins anew.

    Keys that do not hold any more are not tried on.
    """
    if before is None:
        return _whole(window, 0)
    if before.is_whole:
        return _whole(window, before.passed + len(before.keys))
    left = before.given if before.has_joined else before.keys[before.offered :]
    left = tuple(key for key in left if holds(key))
    if not left:
        return _whole(window, 0)
    return Trial(left, (len(left) + 1) // 2)


def _whole(window: Window, passed: int) -> Trial:
    keys = window(passed)
    if not keys and passed:
        return _whole(window, 0)
    return Trial(keys, len(keys), passed=passed)
