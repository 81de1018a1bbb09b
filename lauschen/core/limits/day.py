"""Days of the site's calendar, for what was used today."""

from dataclasses import dataclass
from datetime import datetime, time, timedelta
from zoneinfo import ZoneInfo

from lauschen.core.limits.counters import share_after


@dataclass(frozen=True, slots=True)
class Day:
    """One day in a zone; from `begins` to before `ends`, which are 23 to 25 hours apart."""

    number: int
    """The proleptic Gregorian ordinal of its date."""
    begins: float
    ends: float

    def holds(self, at: float) -> bool:
        return self.begins <= at < self.ends

    def share(self, octets: int, from_s: float, to_s: float) -> int:
        """The part of `octets`, spread evenly over [from_s, to_s), that falls into this day; `to_s` does."""
        return share_after(octets, from_s, to_s, self.begins)


def day_of(at: float, zone: ZoneInfo) -> Day:
    """The day that holds an instant."""
    date = datetime.fromtimestamp(at, zone).date()
    first, last = (datetime.combine(one, time(), zone) for one in (date, date + timedelta(days=1)))
    return Day(date.toordinal(), first.timestamp(), last.timestamp())
