"""What leads to a credential (rulings 8.7)."""

from typing import NamedTuple


class Finder(NamedTuple):
    """Stored by keyed hash; a credential may have several."""

    kind: str
    """`code`, `agreed`: texts of different kinds never meet."""
    text: str
