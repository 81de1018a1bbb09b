"""How the devices of a credential are counted."""

from enum import StrEnum


class Seats(StrEnum):
    """Of what is issued; a plan alone counts at once."""

    AT_ONCE = "at_once"
    """One that leaves makes room for another."""
    EVER = "ever"
    """Each device that was ever let in by it, as long as its admissions are kept."""
    ANY = "any"
    """Not counted."""
