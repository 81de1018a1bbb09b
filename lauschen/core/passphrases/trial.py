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
    """Keys that a device may have, the likeliest first."""

    keys: tuple[KeyId, ...]
    offered: int
    """So many of them, from the first, its access point was given last."""
    has_joined: bool = False
    """It joined with one of those."""

    @property
    def given(self) -> tuple[KeyId, ...]:
        return self.keys[: self.offered]

    @property
    def found(self) -> KeyId | None:
        """Which it has, when that is sure."""
        return self.keys[0] if self.has_joined and self.offered == 1 else None


def next_trial(before: Trial | None, likely: tuple[KeyId, ...], holds: Callable[[KeyId], bool]) -> Trial:
    """What its access point is given now. `likely`: keys that it may have, as many as it is given at once.

    Keys that do not hold any more are not tried on; when the trial comes to nothing, it begins anew.
    """
    if before is None:
        return Trial(likely, len(likely))
    if before.has_joined:
        left = before.given
    elif before.offered < len(before.keys):
        left = before.keys[before.offered :]  # it joined by one of all of them, and by none of the first
    else:
        left = ()
    left = tuple(key for key in left if holds(key))
    if not left:
        return Trial(likely, len(likely))
    return Trial(left, (len(left) + 1) // 2)
