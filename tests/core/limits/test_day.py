"""Days of the site's calendar: where they begin and end, also when the clocks are changed."""

from datetime import datetime
from zoneinfo import ZoneInfo

import pytest

from lauschen.core.limits.day import day_of

BERLIN = ZoneInfo("Europe/Berlin")


def at(text: str) -> float:
    return datetime.fromisoformat(text).replace(tzinfo=BERLIN).timestamp()


@pytest.mark.parametrize(
    ("date", "hours"),
    [("2026-11-29", 24), ("2026-03-29", 23), ("2026-10-25", 25)],
    ids=["plain", "spring", "autumn"],
)
def test_a_day_is_as_long_as_the_clocks_make_it(date: str, hours: int) -> None:
    day = day_of(at(f"{date}T12:00"), BERLIN)
    assert day.ends - day.begins == hours * 3600
    assert day.holds(at(f"{date}T00:00"))
    assert day.holds(at(f"{date}T23:59:59"))
    assert not day.holds(day.ends)
    assert not day.holds(day.begins - 1)
    assert day_of(day.ends, BERLIN).number == day.number + 1


def test_what_was_used_over_midnight_is_shared_by_time() -> None:
    day = day_of(at("2026-11-29T12:00"), BERLIN)
    assert day.share(900, day.begins - 60, day.begins + 120) == 600
    assert day.share(900, day.begins + 60, day.begins + 120) == 900
