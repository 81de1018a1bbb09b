"""What every way in may be set to on a network."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import ClassVar

from lauschen.core.limits.hours import Hours
from lauschen.core.limits.use import Use
from lauschen.core.ways.lead import AtDoor

MINUTE_S = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class Offering:
    """Common to all ways in."""

    is_off: bool = False
    """For a while: it stays as it is set, and lets nobody in. Whoever is in by it stays in."""
    labels: Mapping[str, str] = field(default_factory=dict, hash=False)
    """What the page calls it, by language; where nothing is said, its own word."""
    remember_minutes: int | None = None
    """From its login on a device that comes back is let in without the page. None: as long as what it has goes on."""
    hours: Hours | None = None
    """When it lets somebody in; whoever is in by it stays in."""
    counts_per_device: ClassVar[bool] = False
    """Each device has an allowance of its own; else all of one credential share what it gives."""
    takes_words: ClassVar[bool] = False
    """Its codes need not be ten signs."""

    def is_open(self, now: float) -> bool:
        return self.hours is None or self.hours.span(now)[0]

    def is_forgotten(self, begun: float, rules: int | None, at: AtDoor) -> bool:
        """Whether a device that was away is asked again. `begun`: its login; `rules`: the version it agreed to."""
        return self.remember_minutes is not None and at.now >= begun + self.remember_minutes * MINUTE_S

    def begins_anew(self, use: Use, now: float) -> bool:
        """Whether what a device has is not continued; as a rule what is used up stays so."""
        return False
