"""A wall clock that was set, and one that is earlier than what is on record."""

import pytest

from lauschen.api.now.attention import attention
from lauschen.api.words.speaker import Speaker
from lauschen.radius.listen.registry import Registry
from lauschen.road.road import Road
from lauschen.serve.wall import WallWatch
from lauschen.store.log import newest_record
from tests.place import T0, CountedChance, Place
from tests.still_clock import StillClock


class Wall(StillClock):
    """Ours stands still until it is moved; the system's is what the test says."""

    def __init__(self, wall: float) -> None:
        super().__init__(wall)
        self.wall = wall

    def wall_step(self) -> float:
        return self.wall - self.now()

    def pass_by(self, seconds: float) -> None:
        self._ahead += seconds
        self.wall += seconds


class House:
    """A house with one stay, last heard of at T0."""

    def __init__(self, place: Place, wall: float) -> None:
        place.let_in(place.issue()[0])
        self.place, self.clock = place, Wall(wall)
        self.road = Road(place.conn, place.keys, place.house, self.clock, CountedChance(), fsync_s=0.0)
        self.watch = WallWatch(self.clock, self.road)
        self.watch.begin(newest_record(place.conn))

    def said(self) -> list[str]:
        self.watch.look()
        speaker = Speaker(self.place.house, {}, self.clock.now())
        registry = Registry(self.place.house, self.place.keys.token_key)
        return [a.text for a in attention(self.place.conn, self.road, registry, speaker)]


def test_a_clock_earlier_than_the_newest_record_gives_nobody_more_time(place: Place) -> None:
    house = House(place, T0 - 86_400)
    assert house.clock.now() == pytest.approx(T0)
    house.clock.pass_by(600)
    assert house.said() == ["This machine's clock is 1 d earlier than the newest record."]
    assert house.clock.now() == pytest.approx(T0 + 600)  # time goes on, for hours if need be
    house.clock.wall = house.clock.now() + 1  # somebody sets it
    assert house.said() == []


def test_a_clock_that_was_set_is_followed_after_a_minute(place: Place) -> None:
    house = House(place, T0 + 5)
    assert house.said() == []
    house.clock.wall += 300
    assert house.said() == ["This machine's clock was set 5 min ahead."]
    house.clock.pass_by(59)
    house.watch.look()
    assert house.clock.now() == pytest.approx(T0 + 64)
    house.clock.pass_by(1)
    assert house.said() == []
    assert house.clock.now() == pytest.approx(T0 + 365)


def test_a_step_that_is_taken_back_is_not_followed(place: Place) -> None:
    house = House(place, T0 + 5)
    house.clock.wall -= 300
    assert house.said() == ["This machine's clock was set 5 min back."]
    house.clock.wall += 300
    assert house.said() == []
    house.clock.pass_by(100)
    assert house.clock.now() == pytest.approx(T0 + 105)


def test_an_empty_house_has_no_newest_record(place: Place) -> None:
    assert newest_record(place.conn) is None
    clock = Wall(0.0)
    road = Road(place.conn, place.keys, place.house, clock, CountedChance(), fsync_s=0.0)
    WallWatch(clock, road).begin(None)
    assert (clock.now(), road.wall_trouble) == (0.0, None)
