"""What every way in may be set to on a network."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True, kw_only=True)
class Offering:
    """Common to all ways in."""

    is_off: bool = False
    """For a while: it stays as it is set, and lets nobody in. Whoever is in by it stays in."""
