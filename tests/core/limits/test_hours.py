"""Open and closed by the clock on the wall, also in the nights when it is put forward and back."""

from datetime import date, datetime
from zoneinfo import ZoneInfo

import pytest

from lauschen.core.limits.hours import Hours, Window, read_hours, write_hours

VIENNA = ZoneInfo("Europe/Vienna")
DAY = Window(8 * 60, 18 * 60)


def each_day(*windows: Window, exceptions: tuple[tuple[date, tuple[Window, ...]], ...] = ()) -> Hours:
    return Hours(VIENNA, (windows,) * 7, exceptions)


def at(text: str) -> float:
    """An instant, with its offset from UTC."""
    return datetime.fromisoformat(text).timestamp()


def shown(instant: float | None) -> str | None:
    return None if instant is None else datetime.fromtimestamp(instant, VIENNA).isoformat()


def test_the_first_minute_is_in_and_the_last_is_not() -> None:
    hours = each_day(DAY)
    assert not hours.is_open(at("2026-11-30T07:59:59+01:00"))
    assert hours.is_open(at("2026-11-30T08:00:00+01:00"))
    assert hours.is_open(at("2026-11-30T17:59:59+01:00"))
    assert not hours.is_open(at("2026-11-30T18:00:00+01:00"))
    assert hours.span(at("2026-11-30T12:00+01:00")) == (True, at("2026-11-30T18:00+01:00"))
    assert hours.span(at("2026-11-30T18:00+01:00")) == (False, at("2026-12-01T08:00+01:00"))


def test_a_window_past_midnight_belongs_to_the_day_on_which_it_begins() -> None:
    friday = Hours(VIENNA, ((), (), (), (), (Window(20 * 60, 2 * 60),), (), ()))
    assert friday.span(at("2026-12-04T23:00+01:00")) == (True, at("2026-12-05T02:00+01:00"))
    assert friday.is_open(at("2026-12-05T01:59+01:00"))
    assert not friday.is_open(at("2026-12-04T01:00+01:00"))
    assert not friday.is_open(at("2026-12-05T20:30+01:00"))
    assert friday.span(at("2026-12-05T02:00+01:00")) == (False, at("2026-12-11T20:00+01:00"))


def test_one_that_ends_when_it_begins_is_a_day_long() -> None:
    friday = Hours(VIENNA, ((), (), (), (), (Window(8 * 60, 8 * 60),), (), ()))
    assert friday.span(at("2026-12-04T08:00+01:00")) == (True, at("2026-12-05T08:00+01:00"))
    assert not friday.is_open(at("2026-12-04T07:59+01:00"))


def test_windows_that_meet_are_one() -> None:
    hours = each_day(Window(8 * 60, 12 * 60), Window(12 * 60, 1440))
    assert hours.span(at("2026-11-30T09:00+01:00")) == (True, at("2026-12-01T00:00+01:00"))


def test_a_whole_day_and_a_whole_week() -> None:
    sunday = Hours(VIENNA, ((),) * 6 + ((Window(0, 1440),),))
    assert sunday.span(at("2026-12-06T12:00+01:00")) == (True, at("2026-12-07T00:00+01:00"))
    always = each_day(Window(0, 1440))
    assert always.span(at("2026-12-06T12:00+01:00")) == (True, None)
    assert each_day().span(at("2026-12-06T12:00+01:00")) == (False, None)


def test_a_date_takes_the_place_of_its_weekday_and_the_next_day_is_as_ever() -> None:
    christmas = ((date(2026, 12, 24), (Window(8 * 60, 12 * 60),)), (date(2026, 12, 25), ()))
    hours = each_day(DAY, exceptions=christmas)
    assert hours.span(at("2026-12-24T09:00+01:00")) == (True, at("2026-12-24T12:00+01:00"))
    assert hours.span(at("2026-12-24T12:00+01:00")) == (False, at("2026-12-26T08:00+01:00"))


def test_a_date_months_away_is_a_change_too() -> None:
    open_once = each_day(exceptions=((date(2027, 5, 1), (DAY,)),))
    assert open_once.span(at("2026-12-01T00:00+01:00")) == (False, at("2027-05-01T08:00+02:00"))
    assert open_once.span(at("2027-05-01T18:00+02:00")) == (False, None)
    closed_once = each_day(Window(0, 1440), exceptions=((date(2027, 5, 1), ()),))
    assert closed_once.span(at("2026-12-01T00:00+01:00")) == (True, at("2027-05-01T00:00+02:00"))
    assert closed_once.span(at("2027-05-01T00:00+02:00")) == (False, at("2027-05-02T00:00+02:00"))


def test_the_hour_that_is_missing() -> None:
    """On 28 March 2027 the clock goes from 02:00 to 03:00 (rulings 5.1)."""
    begins_in_it = each_day(Window(150, 300))  # 02:30 to 05:00
    assert begins_in_it.span(at("2027-03-28T01:00+01:00")) == (False, at("2027-03-28T03:00+02:00"))
    ends_in_it = each_day(Window(60, 150))  # 01:00 to 02:30
    assert ends_in_it.span(at("2027-03-28T01:30+01:00")) == (True, at("2027-03-28T03:00+02:00"))
    within_it = each_day(Window(130, 170))  # 02:10 to 02:50: never that day
    assert within_it.span(at("2027-03-28T01:00+01:00")) == (False, at("2027-03-29T02:10+02:00"))


def test_the_hour_that_comes_twice() -> None:
    """On 25 October 2026 the clock goes from 03:00 back to 02:00: open both times (rulings 5.1)."""
    within_it = each_day(Window(130, 170))
    assert within_it.span(at("2026-10-25T02:20+02:00")) == (True, at("2026-10-25T02:50+02:00"))
    assert within_it.span(at("2026-10-25T02:50+02:00")) == (False, at("2026-10-25T02:10+01:00"))
    assert within_it.is_open(at("2026-10-25T02:20+01:00"))
    ends_in_it = each_day(Window(60, 150))  # 01:00 to 02:30
    assert ends_in_it.span(at("2026-10-25T02:10+02:00")) == (True, at("2026-10-25T02:30+02:00"))
    assert ends_in_it.span(at("2026-10-25T02:40+02:00")) == (False, at("2026-10-25T02:00+01:00"))
    assert ends_in_it.span(at("2026-10-25T02:00+01:00")) == (True, at("2026-10-25T02:30+01:00"))
    begins_in_it = each_day(Window(150, 240))  # 02:30 to 04:00: closed again from the second 02:00 to 02:30
    assert begins_in_it.span(at("2026-10-25T02:45+02:00")) == (True, at("2026-10-25T02:00+01:00"))


@pytest.mark.parametrize("zone", ["Europe/Vienna", "Australia/Lord_Howe", "America/St_Johns", "UTC"])
def test_every_minute_of_two_odd_weeks_agrees_with_the_span_before_it(zone: str) -> None:
    """The span is worked out from borders; each minute is looked at by the clock: both say the same."""
    hours = Hours(
        ZoneInfo(zone),
        ((Window(90, 165), Window(22 * 60, 130)),) * 3 + ((Window(0, 125),), (), (DAY,), (Window(120, 121),)),
        ((date(2027, 3, 28), (Window(0, 155), Window(160, 1440))), (date(2026, 10, 25), (Window(125, 175),))),
    )
    for first in ("2027-03-26T00:00+00:00", "2026-10-23T00:00+00:00", "2027-04-03T00:00+00:00"):
        instant, (is_open, until) = at(first), hours.span(at(first))
        for minute in range(5 * 1440):
            now = instant + minute * 60
            if until is not None and now >= until:
                assert hours.is_open(until) != is_open, shown(until)
                is_open, until = hours.span(now)
            assert hours.is_open(now) == is_open, (shown(now), is_open, shown(until))


def test_what_is_stored_is_read_back() -> None:
    hours = each_day(DAY, Window(1200, 60), exceptions=((date(2026, 12, 24), ()),))
    assert read_hours(write_hours(hours), VIENNA) == hours
    assert read_hours(write_hours(None), VIENNA) is None


def test_a_clock_that_steps_back_is_answered_for_where_it_is_then() -> None:
    hours = each_day(DAY)
    later = hours.span(at("2026-12-01T12:00+01:00"))
    assert hours.span(at("2026-11-30T07:00+01:00")) == (False, at("2026-11-30T08:00+01:00"))
    assert hours.span(at("2026-12-01T12:00+01:00")) == later
