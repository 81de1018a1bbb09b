"""From what people write to the instant that they mean, also in the hours that are missing and that come twice."""

from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest

from lauschen.core.errors import Invalid
from lauschen.core.limits.civil import civil_words, instant_of, read_civil

VIENNA = ZoneInfo("Europe/Vienna")


@pytest.mark.parametrize(
    ("wall", "utc"),
    [
        ("2026-12-04T18:00", "2026-12-04T17:00"),
        ("2026-07-01T00:00", "2026-06-30T22:00"),
        ("2026-03-29T01:59", "2026-03-29T00:59"),
        ("2026-03-29T02:00", "2026-03-29T01:00"),  # missing until 03:00: the jump
        ("2026-03-29T02:30", "2026-03-29T01:00"),
        ("2026-03-29T02:59", "2026-03-29T01:00"),
        ("2026-03-29T03:00", "2026-03-29T01:00"),
        ("2026-10-25T02:30", "2026-10-25T00:30"),  # comes twice: the first
        ("2026-10-25T03:00", "2026-10-25T02:00"),
    ],
)
def test_table(wall: str, utc: str) -> None:
    assert read_civil(wall, VIENNA, "until") == datetime.fromisoformat(utc).replace(tzinfo=UTC).timestamp()


@pytest.mark.parametrize(
    "zone", ["Europe/Vienna", "Australia/Lord_Howe", "America/St_Johns", "Asia/Kathmandu"]
)
def test_it_is_the_first_instant_whose_wall_clock_is_not_earlier(zone: str) -> None:
    """Against a walk through every minute of two days around each change of the clock."""
    place = ZoneInfo(zone)
    for day in (datetime(2026, 3, 28), datetime(2026, 4, 4), datetime(2026, 10, 3), datetime(2026, 10, 24)):
        begin = int(day.replace(tzinfo=UTC).timestamp()) - 86_400
        walls = [
            (at, datetime.fromtimestamp(at, place).replace(tzinfo=None))
            for at in range(begin, begin + 4 * 86_400, 60)
        ]
        for minutes in range(0, 2 * 1440, 7):
            wall = day + timedelta(minutes=minutes)
            first = next(at for at, shown in walls if shown >= wall)
            assert instant_of(wall, place) == first, wall


@pytest.mark.parametrize(
    "text", ["", "tomorrow", "2026-13-01T00:00", "2026-12-04 18:00", "9999-12-31T23:59Z", "0001-01-01T00:00"]
)
def test_anything_else_is_refused(text: str) -> None:
    with pytest.raises(Invalid):
        read_civil(text, VIENNA, "until")


def test_the_way_back() -> None:
    assert civil_words(read_civil("2026-12-04T18:00", VIENNA, "until"), VIENNA) == "2026-12-04T18:00"
