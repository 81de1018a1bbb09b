"""What keeps everything from being stored, or from being timed right; Now says so while it lasts."""

import sqlite3
from dataclasses import dataclass


@dataclass(slots=True)
class Trouble:
    """Since when nothing can be committed, and what the database says."""

    since: float
    what: str


@dataclass(frozen=True, slots=True)
class WallTrouble:
    """The system's clock is elsewhere than ours."""

    step_s: float
    """By how much it is ahead."""


def is_trouble(error: Exception) -> bool:
    """The disk or the file, not the record."""
    return isinstance(error, sqlite3.OperationalError) and error.sqlite_errorname.split("_")[1] in (
        "FULL",
        "IOERR",
        "BUSY",
        "LOCKED",
        "CANTOPEN",
        "READONLY",
    )
