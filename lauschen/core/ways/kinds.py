"""The kinds of ways in."""

from enum import StrEnum


class WayIn(StrEnum):
    """A method to be admitted (the kinds that are built)."""

    VOUCHER = "voucher"
