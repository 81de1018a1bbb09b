"""Octet counters of access devices: what a new report adds to what was known (rulings 4.3)."""

from dataclasses import dataclass
from enum import StrEnum

WRAP = 1 << 32
CEILING = (1 << 62) - 1
FASTEST_OCTETS_PER_S = 10_000_000_000 // 8
"""10 Gbit/s; a wrap that would need more is a restart."""


class Reading(StrEnum):
    """What a report meant."""

    GREW = "grew"
    WRAPPED = "wrapped"
    RESTARTED = "restarted"
    LATE = "late"
    IMPOSSIBLE = "impossible"


@dataclass(slots=True)
class Count:
    """One direction's counter as last reported, with the running total it amounts to."""

    raw: int = 0
    """RFC 2866 section 5.3 with RFC 2869 section 5.1's Gigawords above it."""
    total: int = 0


@dataclass(slots=True)
class Report:
    """One side of a stay in one accounting packet."""

    octets: int
    gigawords: int | None
    session_time: int


def read_counter(
    known: Count, report: Report, *, session_time_before: int, saw_gigawords: bool
) -> tuple[Count, int, Reading]:
    """The counter after `report`, the octets it adds, and how it was understood."""
    raw = report.octets + ((report.gigawords or 0) << 32)
    grown_s = report.session_time - session_time_before
    if raw >= known.raw:
        added, reading = raw - known.raw, Reading.GREW
    elif grown_s < 0:
        return known, 0, Reading.LATE
    elif saw_gigawords or report.gigawords is not None:
        added, reading = raw, Reading.RESTARTED
    else:
        added, reading = raw + WRAP - known.raw, Reading.WRAPPED
        if grown_s == 0 or added > grown_s * FASTEST_OCTETS_PER_S:
            added, reading = raw, Reading.RESTARTED
    if added > max(1, grown_s) * FASTEST_OCTETS_PER_S:
        return Count(raw, known.total), 0, Reading.IMPOSSIBLE
    return Count(raw, min(CEILING, known.total + added)), added, reading


def share_after(octets: int, from_s: float, to_s: float, instant: float) -> int:
    """The part of `octets`, spread evenly over [from_s, to_s), that falls after `instant` (rulings 4.5).

    The odd octet goes to the later part.
    """
    if instant <= from_s or to_s <= from_s:
        return octets
    if instant >= to_s:
        return 0
    before = int(octets * (instant - from_s) / (to_s - from_s))
    return octets - before
