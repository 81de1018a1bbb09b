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


def read_counter(
    known: Count,
    octets: int,
    gigawords: int | None,
    grown_s: int,
    *,
    saw_gigawords: bool,
    packets_fell: bool = False,
    passed_s: float = 0.0,
) -> tuple[int, Reading]:
    """Takes one side of a report into `known`; the octets it adds, and how it was understood.

    `grown_s`: by how many seconds the session is longer than at the report before; negative when this one is older.
    `packets_fell`: the packet counters fell too, and they do not wrap with the octets: all began anew.
    `passed_s`: seconds between the two reports, where the access device does not say how long the session is.
    """
    raw = octets + ((gigawords or 0) << 32)
    if raw > CEILING:
        return 0, Reading.IMPOSSIBLE  # nothing has carried so much; it is no new reading to count from either
    added, reading = raw - known.raw, Reading.GREW
    if added < 0:
        if grown_s < 0:
            return 0, Reading.LATE
        if saw_gigawords or gigawords is not None or packets_fell:
            added, reading = raw, Reading.RESTARTED
        else:
            added, reading = added + WRAP, Reading.WRAPPED
            if grown_s == 0 or added > grown_s * FASTEST_OCTETS_PER_S:
                added, reading = raw, Reading.RESTARTED
    known.raw = raw
    if added > max(grown_s, passed_s, 1) * FASTEST_OCTETS_PER_S:
        return 0, Reading.IMPOSSIBLE
    known.total += added
    if known.total > CEILING:
        known.total = CEILING
    return added, reading


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
