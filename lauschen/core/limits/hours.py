"""Hours of service: when something is open by the clock on the wall (rulings 5.1). Plans and ways in use the same."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from lauschen.core.limits.civil import instant_of

DAY_MINUTES, DAY_S = 1440, 86_400
LOOKED_AHEAD = 9
"""Days in which a weekly rhythm shows each of its changes."""
MOST_EXCEPTIONS = 100


@dataclass(frozen=True, slots=True)
class Window:
    """Minutes of a day: open from `begin` on, `end` not included. One that ends no later than it begins ends on the
    next day, and belongs to the day on which it begins."""

    begin: int
    end: int

    @property
    def is_overnight(self) -> bool:
        return self.end <= self.begin


@dataclass(frozen=True, slots=True)
class Hours:
    """By weekday from Monday on; a date of its own takes the place of its weekday, and without a window is closed."""

    zone: ZoneInfo
    weekly: tuple[tuple[Window, ...], ...]
    exceptions: tuple[tuple[date, tuple[Window, ...]], ...] = ()
    _known: list[tuple[float, float, bool, float | None]] = field(
        default_factory=list, init=False, repr=False, compare=False
    )
    """The span that was asked for last: from when to when it holds, and what it is."""

    def is_open(self, at: float) -> bool:
        """Whether the clock on the wall at that instant (UTC epoch seconds) lies in a window.

        So a beginning that is jumped over opens at the jump, and an hour that comes twice is open both times.
        """
        wall = datetime.fromtimestamp(at, self.zone)
        minute, today = wall.hour * 60 + wall.minute, wall.date()
        return any(
            window.begin <= minute and (window.is_overnight or minute < window.end)
            for window in self.windows(today)
        ) or any(
            window.is_overnight and minute < window.end for window in self.windows(today - timedelta(days=1))
        )

    def windows(self, day: date) -> tuple[Window, ...]:
        """Those that begin on that day."""
        for exception, windows in self.exceptions:
            if exception == day:
                return windows
        return self.weekly[day.weekday()]

    def span(self, at: float) -> tuple[bool, float | None]:
        """Whether it is open, and the next instant at which that changes; None: never, as far as it says.

        Asked for each request of whoever is in by a plan with hours: worked out once for each such time.
        """
        known = self._known
        if not known or not known[0][0] <= at < known[0][1]:
            is_open = self.is_open(at)
            until = next((one for one in self.changes_after(at) if self.is_open(one) != is_open), None)
            known[:] = [(at, at + DAY_S if until is None else until, is_open, until)]
        return known[0][2:]

    def changes_after(self, at: float) -> Iterator[float]:
        """Instants at which it may open or close, in order, after `at`."""
        first = datetime.fromtimestamp(at, self.zone).date() - timedelta(days=1)
        days = {first + timedelta(days=number) for number in range(LOOKED_AHEAD)}
        for exception, _ in self.exceptions:
            # What follows an exception is the weekday's again.
            days |= {exception + timedelta(days=number) for number in (-1, 0, 1) if exception > first}
        pending: set[float] = set()
        for day in sorted(days):
            # Nothing of this day or a later one comes before: a border of a day lies within a day of its beginning.
            reached = instant_of(datetime.combine(day, time()), self.zone) - DAY_S
            yield from sorted(one for one in pending if at < one < reached)
            pending = {one for one in pending if one >= reached} | self._borders(day)
        yield from sorted(one for one in pending if one > at)

    def _borders(self, day: date) -> set[float]:
        found = set()
        for window in self.windows(day):
            found |= _instants(day, window.begin, self.zone)
            found |= _instants(day, window.end + DAY_MINUTES * window.is_overnight, self.zone)
        jump = _jump(day, self.zone)
        return found | ({jump} if jump is not None else set())


def _instants(day: date, minute: int, zone: ZoneInfo) -> set[float]:
    """When the clock on the wall shows that minute of that day (1440: the next day's first): twice, where it does."""
    wall = datetime.combine(day, time()) + timedelta(minutes=minute)
    again = wall.replace(tzinfo=zone, fold=1).timestamp()
    first = instant_of(wall, zone)
    is_shown = datetime.fromtimestamp(again, zone).replace(tzinfo=None) == wall
    return {first, again} if is_shown else {first}


def _jump(day: date, zone: ZoneInfo) -> float | None:
    """The instant of that day at which the clock is put forward or back, if it is."""
    low = int(datetime.combine(day, time(), UTC).timestamp())
    high = low + 86_400
    before = datetime.fromtimestamp(low, zone).utcoffset()
    if datetime.fromtimestamp(high, zone).utcoffset() == before:
        return None
    while high - low > 1:
        middle = (low + high) // 2
        if datetime.fromtimestamp(middle, zone).utcoffset() == before:
            low = middle
        else:
            high = middle
    return float(high)


def read_hours(stored: Mapping[str, Any] | None, zone: ZoneInfo) -> Hours | None:
    """From what `write_hours` made."""
    if stored is None:
        return None
    return Hours(
        zone,
        tuple(_read_windows(windows) for windows in stored["weekly"]),
        tuple(
            (date.fromisoformat(day), _read_windows(windows)) for day, windows in stored["exceptions"].items()
        ),
    )


def write_hours(hours: Hours | None) -> dict[str, Any] | None:
    """As JSON keeps it; the zone is the site's."""
    if hours is None:
        return None
    return {
        "weekly": [_write_windows(windows) for windows in hours.weekly],
        "exceptions": {day.isoformat(): _write_windows(windows) for day, windows in hours.exceptions},
    }


def _read_windows(stored: Sequence[Sequence[int]]) -> tuple[Window, ...]:
    return tuple(Window(begin, end) for begin, end in stored)


def _write_windows(windows: tuple[Window, ...]) -> list[list[int]]:
    return [[window.begin, window.end] for window in windows]
