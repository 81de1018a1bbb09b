"""Hours of service as the console sends and shows them, and in a sentence."""

from datetime import date
from zoneinfo import ZoneInfo

from pydantic import Field

from lauschen.api.model import Model
from lauschen.core.errors import Invalid
from lauschen.core.limits.hours import DAY_MINUTES, MOST_EXCEPTIONS, Hours, Window

_DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
MOST_WINDOWS = 12
SHOWN_DATES = 3


class WindowModel(Model):
    """Minutes of a day; an end that is no later than the beginning is on the next day."""

    begin: int = Field(ge=0, lt=DAY_MINUTES)
    end: int = Field(ge=0, le=DAY_MINUTES)


class DateModel(Model):
    """A date that has hours of its own; without a window it is closed."""

    day: date
    windows: list[WindowModel] = Field(max_length=MOST_WINDOWS)


class HoursModel(Model):
    weekly: list[list[WindowModel]] = Field(min_length=7, max_length=7)
    """From Monday on."""
    dates: list[DateModel] = Field(default_factory=list, max_length=MOST_EXCEPTIONS)


def read_hours_in(wanted: HoursModel | None, zone: ZoneInfo) -> Hours | None:
    """Invalid when a date stands there twice, or it never opens."""
    if wanted is None:
        return None
    days = [one.day for one in wanted.dates]
    if len(set(days)) < len(days):
        raise Invalid("hours_twice", field="hours", mend="Each date once.")
    weekly = tuple(_windows(windows) for windows in wanted.weekly)
    dates = tuple(sorted((one.day, _windows(one.windows)) for one in wanted.dates))
    if not any(weekly) and not any(windows for _, windows in dates):
        raise Invalid(
            "hours_never", field="hours", mend="It would never be open: say when, or leave hours away."
        )
    return Hours(zone, weekly, dates)


def hours_out(hours: Hours | None) -> HoursModel | None:
    if hours is None:
        return None
    return HoursModel(
        weekly=[_windows_out(windows) for windows in hours.weekly],
        dates=[DateModel(day=day, windows=_windows_out(windows)) for day, windows in hours.exceptions],
    )


def hours_words(hours: Hours, now: float | None = None) -> str:
    """`Mon to Fri 08:00 to 18:00; 24 Dec closed`. `now`: dates that are over are left away."""
    parts, first = [], 0
    while first < 7:
        last = first
        while last < 6 and hours.weekly[last + 1] == hours.weekly[first]:
            last += 1
        if hours.weekly[first]:
            parts.append(f"{_days(first, last)} {_windows_words(hours.weekly[first])}".strip())
        first = last + 1
    dates = [
        f"{day.day} {day:%b} {_windows_words(windows) or 'closed'}"
        for day, windows in hours.exceptions
        if now is None or day >= date.fromtimestamp(now)
    ]
    more = [f"{len(dates) - SHOWN_DATES} more dates"] if len(dates) > SHOWN_DATES else []
    return "; ".join([", ".join(parts) or "on no weekday", *dates[:SHOWN_DATES], *more])


def _days(first: int, last: int) -> str:
    if (first, last) == (0, 6):
        return "daily"
    return _DAYS[first] if first == last else f"{_DAYS[first]} to {_DAYS[last]}"


def _windows(wanted: list[WindowModel]) -> tuple[Window, ...]:
    return tuple(sorted((Window(one.begin, one.end) for one in wanted), key=lambda one: one.begin))


def _windows_out(windows: tuple[Window, ...]) -> list[WindowModel]:
    return [WindowModel(begin=one.begin, end=one.end) for one in windows]


def _windows_words(windows: tuple[Window, ...]) -> str:
    return " and ".join(
        "all day" if one.end - one.begin == DAY_MINUTES else f"{_clock(one.begin)} to {_clock(one.end)}"
        for one in windows
    )


def _clock(minute: int) -> str:
    return f"{minute // 60:02}:{minute % 60:02}"
