"""What every way in may be set to on a network."""

from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.limits.use import Use


@dataclass(frozen=True, slots=True, kw_only=True)
class Offering:
    """Common to all ways in."""

    is_off: bool = False
    """For a while: it stays as it is set, and lets nobody in. Whoever is in by it stays in."""
    counts_per_device: ClassVar[bool] = False
    """Each device has an allowance of its own; else all of one credential share what it gives."""
    takes_words: ClassVar[bool] = False
    """Its codes need not be ten signs."""

    def begins_anew(self, use: Use, now: float) -> bool:
        """Whether what a device has is not continued; as a rule what is used up stays so."""
        return False
