"""Passcodes: which is good at which instant, by schedule and by hand, and how likely somebody guesses it."""

from dataclasses import replace
from datetime import datetime
from zoneinfo import ZoneInfo

import pytest

from lauschen.core.ids import NetworkId, PlanId
from lauschen.core.ways.lead import GoodPasscode
from lauschen.core.ways.passcode import (
    DAY_S,
    ByHand,
    Passcode,
    Renewed,
    Schedule,
    Signs,
    chance_within_change,
    good_passcodes,
    next_change,
)

VIENNA = ZoneInfo("Europe/Vienna")
DAILY = Passcode(PlanId(1))
KEY = b"k" * 32


def at(text: str, fold: int = 0) -> float:
    return datetime.fromisoformat(text).replace(tzinfo=VIENNA, fold=fold).timestamp()


def good(way: Passcode, now: float, by_hand: ByHand | None = None) -> list[GoodPasscode]:
    hand = by_hand or ByHand()
    return good_passcodes(way, hand, network=NetworkId(1), key=KEY, zone=VIENNA, now=now)


def test_a_daily_one_changes_at_its_instant_and_the_one_before_works_until_the_overlap_ends() -> None:
    change = at("2026-12-04T05:00")
    (before,) = good(DAILY, change - 1)
    assert (before.since, before.until) == (at("2026-12-03T05:00"), change)
    newest, former = good(DAILY, change)
    assert (former.text, former.since, former.until) == (before.text, before.since, change + 3600)
    assert (newest.since, newest.until) == (change, at("2026-12-05T05:00"))
    assert newest.text != before.text
    assert good(DAILY, change + 3599.9)[1].text == before.text
    assert [one.text for one in good(DAILY, change + 3600)] == [newest.text]


@pytest.mark.parametrize("schedule", list(Schedule)[1:])
def test_what_is_good_follows_only_from_the_key_the_network_and_the_moment(schedule: Schedule) -> None:
    way, now = replace(DAILY, schedule=schedule), at("2026-12-04T12:34")
    assert good(way, now) == good(way, now + 1)
    other = good_passcodes(way, ByHand(), network=NetworkId(2), key=KEY, zone=VIENNA, now=now)
    foreign = good_passcodes(way, ByHand(), network=NetworkId(1), key=b"x" * 32, zone=VIENNA, now=now)
    assert len({other[0].text, foreign[0].text, good(way, now)[0].text}) == 3


@pytest.mark.parametrize(
    ("changes", "now", "since", "until"),
    [
        ({"schedule": Schedule.WEEKLY}, "2026-12-06T23:59", "2026-11-30T05:00", "2026-12-07T05:00"),
        ({"schedule": Schedule.WEEKLY, "weekday": 6}, "2026-12-06T05:00", "2026-12-06T05:00", "2026-12-13T05:00"),
        ({"schedule": Schedule.HOURLY}, "2026-12-06T05:59", "2026-12-06T00:00", "2026-12-06T06:00"),
        ({"schedule": Schedule.HOURLY, "every_hours": 1}, "2026-12-06T23:30", "2026-12-06T23:00", "2026-12-07T00:00"),
        ({"at_minute": 0}, "2026-12-06T00:00", "2026-12-06T00:00", "2026-12-07T00:00"),
        ({"at_minute": 150}, "2026-03-29T12:00", "2026-03-29T03:00", "2026-03-30T02:30"),  # missing: the jump
        ({"at_minute": 150}, "2026-10-25T12:00", "2026-10-25T02:30", "2026-10-26T02:30"),  # comes twice: the first
    ],
)  # fmt: skip
def test_schedules(changes: dict[str, object], now: str, since: str, until: str) -> None:
    way = replace(DAILY, **changes)  # type: ignore[arg-type]
    newest = good(way, at(now))[0]
    assert (newest.since, newest.until) == (at(since), at(until))
    assert next_change(way, VIENNA, at(now)) == at(until)


def test_a_new_one_by_hand_holds_until_the_schedule_changes_it() -> None:
    now = at("2026-12-04T12:00")
    (scheduled,) = good(DAILY, now)
    drawn = ByHand((Renewed(now, None),))
    newest, former = good(DAILY, now, drawn)
    assert (newest.since, former.text, former.until) == (now, scheduled.text, now + 3600)
    assert newest.text != scheduled.text
    written = ByHand((Renewed(now, "viola d'amore"),))
    assert [(one.text, one.words) for one in good(DAILY, now + 3600, written)] == [
        ("viola d'amore", "violadamore")
    ]
    assert good(DAILY, at("2026-12-05T05:00"), written)[1].text == "viola d'amore"
    assert good(DAILY, at("2026-12-05T05:00"), written)[0].text != "viola d'amore"


def test_the_overlap_ends_by_hand_and_only_the_one_that_was() -> None:
    change = at("2026-12-04T05:00")
    ended = ByHand(overlap_ended_at=change + 60)
    assert len(good(DAILY, change + 61, ended)) == 1
    assert len(good(DAILY, change + DAY_S + 61, ended)) == 2


def test_a_fixed_one_is_what_somebody_wrote_and_nothing_before_that() -> None:
    fixed = replace(DAILY, schedule=Schedule.NEVER)
    assert good(fixed, 1000.0) == []
    two = ByHand((Renewed(900.0, "second one"), Renewed(100.0, "first one")))
    assert [one.text for one in good(fixed, 1000.0, two)] == ["second one", "first one"]
    assert [one.text for one in good(fixed, 900.0 + 3600, two)] == ["second one"]
    assert good(fixed, 1000.0, two)[0].until is None


@pytest.mark.parametrize(
    ("signs", "length", "alphabet"),
    [(Signs.DIGITS, 4, "0123456789"), (Signs.LETTERS, 12, "23456789abcdefghjklmnpqrtvwxy")],
)
def test_they_are_drawn_evenly_from_their_signs(signs: Signs, length: int, alphabet: str) -> None:
    way = replace(DAILY, signs=signs, length=length)
    texts = [good(way, day * DAY_S + 43_200.0)[0].text for day in range(20_000, 22_000)]
    assert {len(text) for text in texts} == {length}
    counts = {sign: sum(text.count(sign) for text in texts) for sign in alphabet}
    assert set("".join(texts)) == set(alphabet)
    even = 2000 * length / len(alphabet)
    assert all(0.8 * even < count < 1.2 * even for count in counts.values())


def test_the_chance_of_a_guesser_within_one_change() -> None:
    # 20 guesses at once and 20 more each ten minutes: 2,900 in a day, 140 in the hour while two are good.
    assert chance_within_change(DAILY, 1) == (2900 + 140) / 10**6
    assert chance_within_change(replace(DAILY, overlap_minutes=0), 10) == 29_000 / 10**6
    assert chance_within_change(replace(DAILY, length=4), 50) == 1.0
    hourly = replace(DAILY, schedule=Schedule.HOURLY, every_hours=6)
    assert chance_within_change(hourly, 1) == (740 + 140) / 10**6
    assert chance_within_change(replace(DAILY, schedule=Schedule.WEEKLY), 1) == (20_180 + 140) / 10**6
    assert chance_within_change(replace(DAILY, schedule=Schedule.NEVER), 1) is None
