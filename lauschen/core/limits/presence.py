"""Several reported stays as the one presence that the guest had: roamed, or seen by two devices at once."""

from collections.abc import Iterable
from dataclasses import dataclass
from math import inf
from typing import Generic, Protocol, TypeVar

from lauschen.core.ids import AccessDeviceId, StayId


class Reported(Protocol):
    """One stay as an access device reported it."""

    id: StayId
    root: StayId | None
    started: float
    ended: float | None
    end_cause: str | None
    access_device: AccessDeviceId
    counts: bool


R = TypeVar("R", bound=Reported)


@dataclass(slots=True)
class Presence(Generic[R]):
    """From the first beginning to the last end; `parts` in order of their beginning."""

    parts: list[R]

    @property
    def started(self) -> float:
        return self.parts[0].started

    @property
    def ended(self) -> float | None:
        """None while any part that counts goes on."""
        ends = [part.ended for part in self._telling]
        return None if any(end is None for end in ends) else max(end for end in ends if end is not None)

    @property
    def end_cause(self) -> str | None:
        """How its last part ended; None while one goes on."""
        last = max(self._telling, key=lambda part: inf if part.ended is None else part.ended)
        return last.end_cause

    @property
    def counted(self) -> list[R]:
        """The parts whose octets are the guest's: each was seen once."""
        return [part for part in self.parts if part.counts]

    @property
    def where(self) -> list[AccessDeviceId]:
        """Access devices in the order in which the guest was there."""
        return list(dict.fromkeys(part.access_device for part in self._telling))

    @property
    def _telling(self) -> list[R]:
        return self.counted or self.parts


def presences(reported: Iterable[R]) -> list[Presence[R]]:
    """Newest first; a part whose first one is not among these stands for itself."""
    by_root: dict[StayId, list[R]] = {}
    for one in reported:
        by_root.setdefault(one.root or one.id, []).append(one)
    found = [Presence(sorted(parts, key=lambda part: (part.started, part.id))) for parts in by_root.values()]
    return sorted(found, key=lambda presence: -presence.started)
