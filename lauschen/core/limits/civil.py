"""Civil time of the site: from what people write to the instant that they mean (rulings 5.1)."""

from datetime import UTC, datetime
from zoneinfo import ZoneInfo

from lauschen.core.errors import Invalid


def instant_of(wall: datetime, zone: ZoneInfo) -> float:
    """UTC epoch seconds of a time on the wall: of a doubled one the first; of one that is jumped over the jump."""
    first = wall.replace(tzinfo=zone, fold=0).timestamp()
    if datetime.fromtimestamp(first, zone).replace(tzinfo=None) == wall:
        return first
    # Both readings of a missing time lie off by the same jump, one before and one after it.
    low, high = wall.replace(tzinfo=zone, fold=1).timestamp(), first
    offset = datetime.fromtimestamp(low, zone).utcoffset()
    while high - low > 1:
        middle = (low + high) // 2
        if datetime.fromtimestamp(middle, zone).utcoffset() == offset:
            low = middle
        else:
            high = middle
    return high


def read_civil(text: str, zone: ZoneInfo, field: str) -> float:
    """The instant of `2026-12-04T18:00`; Invalid for anything else."""
    try:
        wall = datetime.strptime(text, "%Y-%m-%dT%H:%M")
        return instant_of(wall, zone)
    except (ValueError, OverflowError) as exc:
        mend = "A day and a time, such as 2026-12-04T18:00."
        raise Invalid("moment", field=field, mend=mend) from exc


def civil_words(at: float, zone: ZoneInfo) -> str:
    """The way back, for a field."""
    return f"{datetime.fromtimestamp(at, UTC).astimezone(zone):%Y-%m-%dT%H:%M}"
