"""Passcode: one code for everybody, fixed or changing by schedule. Each device that gets in has its own allowance.

A code that changes is not kept anywhere: it is computed from our key and the moment since which it is good, so it
changes at the very instant, and a restart forgets nothing.
"""

import hmac
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from enum import StrEnum
from functools import lru_cache
from typing import ClassVar
from zoneinfo import ZoneInfo

from lauschen.core.decide.reason import Reason
from lauschen.core.ids import NetworkId, PlanId
from lauschen.core.limits.civil import instant_of
from lauschen.core.limits.tries import most_guesses
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import AtDoor, Finder, GoodPasscode, Lead
from lauschen.core.ways.offering import Offering
from lauschen.core.ways.offers.code import Code
from lauschen.core.words.codes import ALPHABET

DAY_S, HOUR_S = 86_400, 3600
SHORTEST, LONGEST = 4, 12


class Schedule(StrEnum):
    """When a passcode changes, by the clock of the site."""

    NEVER = "never"
    HOURLY = "hourly"
    DAILY = "daily"
    WEEKLY = "weekly"


class Signs(StrEnum):
    """What a drawn one is made of."""

    DIGITS = "digits"
    LETTERS = "letters"


@dataclass(frozen=True, slots=True)
class Passcode(Offering):
    """Its settings on a network."""

    plan: PlanId
    schedule: Schedule = Schedule.DAILY
    at_minute: int = 5 * 60
    """Of the day on which it changes."""
    weekday: int = 0
    """Monday is 0."""
    every_hours: int = 6
    """A divisor of 24: at midnight and every so many hours on the clock."""
    overlap_minutes: int = 60
    """So long the one before still works."""
    signs: Signs = Signs.DIGITS
    length: int = 6
    tells: tuple[str, ...] = ()
    """Mail addresses and phone numbers (E.164) of those who hand it out: each hears of a new one."""
    way: ClassVar[WayIn] = WayIn.PASSCODE
    counts_per_device: ClassVar[bool] = True
    takes_words: ClassVar[bool] = True

    def leads(self, offer: object, at: AtDoor) -> Iterable[Lead | Reason]:
        """By one that is good now; a device begins anew with each that it did not know yet."""
        if not isinstance(offer, Code) or not offer.words:
            return
        typed = offer.words.encode()
        for good in at.passcodes:
            if hmac.compare_digest(good.words.encode(), typed):
                yield Lead(Finder("passcode", f"{at.network} {at.mac}"), self.plan, anew_before=good.since)
                return
        yield offer.missing


@dataclass(frozen=True, slots=True)
class Renewed:
    """Somebody set it by hand: to a text, or to a new one by the same rule."""

    at: float
    text: str | None


@dataclass(frozen=True, slots=True)
class ByHand:
    """What staff did to the passcode of one network, newest first."""

    renewed: tuple[Renewed, ...] = ()
    overlap_ended_at: float | None = None


def good_passcodes(
    way: Passcode, by_hand: ByHand, *, network: NetworkId, key: bytes, zone: ZoneInfo, now: float
) -> list[GoodPasscode]:
    """The newest one first; the one before while the two overlap. None of a fixed one that nobody has set."""
    begun = _begun(way, by_hand, zone, now)
    if not begun:
        return []

    def spelled(change: Renewed) -> str:
        return change.text if change.text is not None else _draw(way, key, network, change.at)

    newest = begun[0]
    good = [GoodPasscode(spelled(newest), newest.at, next_change(way, zone, now))]
    ends = newest.at + way.overlap_minutes * 60
    is_ended = by_hand.overlap_ended_at is not None and by_hand.overlap_ended_at >= newest.at
    if len(begun) > 1 and now < ends and not is_ended:
        good.append(GoodPasscode(spelled(begun[1]), begun[1].at, ends))
    return good


def next_change(way: Passcode, zone: ZoneInfo, now: float) -> float | None:
    """When the schedule changes it next."""
    return min((at for at in _changes(way, zone, now) if at > now), default=None)


def code_space(way: Passcode) -> int:
    """How many codes there are of these signs and this length."""
    return int((10 if way.signs is Signs.DIGITS else len(ALPHABET)) ** way.length)


def chance_within_change(way: Passcode, devices: int, *, is_signed: bool = True) -> float | None:
    """The chance that `devices` that try all the time hit it within one change; while two are good, each guess counts
    twice. None for a fixed one, which has no end.
    """
    seconds = {
        Schedule.HOURLY: way.every_hours * HOUR_S,
        Schedule.DAILY: DAY_S,
        Schedule.WEEKLY: 7 * DAY_S,
    }.get(way.schedule)
    if seconds is None:
        return None
    guesses, twice = most_guesses(seconds, devices, is_signed=is_signed), 0
    if way.overlap_minutes:
        twice = most_guesses(min(way.overlap_minutes * 60, seconds), devices, is_signed=is_signed)
    return min(1.0, (guesses + twice) / code_space(way))


def _begun(way: Passcode, by_hand: ByHand, zone: ZoneInfo, now: float) -> list[Renewed]:
    """The changes that were until now, the newest first; by the schedule and by hand."""
    scheduled = [Renewed(at, None) for at in _changes(way, zone, now) if at <= now]
    own = [one for one in by_hand.renewed if one.at <= now]
    if way.schedule is Schedule.NEVER:
        return sorted(own, key=lambda one: -one.at)
    # A text by hand holds until the schedule changes it.
    return sorted([*scheduled, *own], key=lambda one: -one.at)


def _changes(way: Passcode, zone: ZoneInfo, now: float) -> list[float]:
    """Those of the schedule around `now`: at least two before and one after."""
    return _changes_around(way, zone, datetime.fromtimestamp(now, zone).date())


# Kept for the day: it is asked for each code that is typed, and for each name and password.
@lru_cache(maxsize=64)
def _changes_around(way: Passcode, zone: ZoneInfo, today: date) -> list[float]:
    if way.schedule is Schedule.NEVER:
        return []
    minutes = [way.at_minute]
    if way.schedule is Schedule.HOURLY:
        minutes = [60 * hour for hour in range(0, 24, way.every_hours)]
    reach = 15 if way.schedule is Schedule.WEEKLY else 2
    found = set()
    for days in range(-reach, reach + 1):
        day = today + timedelta(days=days)
        if way.schedule is Schedule.WEEKLY and day.weekday() != way.weekday:
            continue
        for minute in minutes:
            found.add(instant_of(datetime.combine(day, time(minute // 60, minute % 60)), zone))
    return sorted(found)


def _draw(way: Passcode, key: bytes, network: NetworkId, at: float) -> str:
    said = f"passcode {network} {at!r} {way.signs} {way.length}"
    number = int.from_bytes(hmac.digest(key, said.encode(), "sha256"), "big")
    signs = "0123456789" if way.signs is Signs.DIGITS else ALPHABET.lower()
    drawn = ""
    for _ in range(way.length):
        number, value = divmod(number, len(signs))
        drawn += signs[value]
    return drawn
