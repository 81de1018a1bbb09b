"""A wall clock that was set: nobody gains or loses time by it, and hours of the day follow it."""

from dataclasses import replace
from pathlib import Path

import pytest

from lauschen.acts.keeping import Keeper
from lauschen.acts.staying.reports import Event, Report, take_report
from lauschen.acts.staying.sweep import Sweeper
from lauschen.api.now.attention import attention
from lauschen.api.words.speaker import Speaker
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.limits.hours import Hours, Window
from lauschen.core.limits.left import left
from lauschen.demo.site import SSID
from lauschen.radius.listen.registry import Registry
from lauschen.road.road import Road
from lauschen.serve.wall import STEP_HELD_S, WallWatch
from lauschen.store.config.plans import save_plan
from lauschen.store.log import newest_record
from lauschen.store.upkeep import clock as stored
from lauschen.store.upkeep.keeping import LOG_S
from tests.place import DAY_VISIT, PHONE, T0, WEST, CountedChance, Place
from tests.still_clock import StillClock

HOUR = 3600.0
TO_1970 = 1000.0 - T0


class Wall(StillClock):
    """Ours stands still until it is moved; the system's is what the test says."""

    boot = "a boot"

    def __init__(self, wall: float, since_boot: float = 1000.0) -> None:
        super().__init__(wall)
        self.wall, self._booted = wall, self._ahead - since_boot

    def since_boot(self) -> float:
        return self._ahead - self._booted

    def wall_step(self) -> float:
        return self.wall - self.now()

    def pass_by(self, seconds: float) -> None:
        self._ahead += seconds
        self.wall += seconds


class House:
    """A house with a guest who came in at T0, for 8 h."""

    def __init__(self, place: Place, wall: float = T0) -> None:
        self.place, self.clock = place, Wall(wall)
        (self.code,) = place.issue()
        place.let_in(self.code)
        self._time = 0
        self._begin()

    def _begin(self) -> None:
        place = self.place
        self.road = Road(place.conn, place.keys, place.config, self.clock, CountedChance(), fsync_s=0.0)
        self.watch = WallWatch(self.clock, self.road)
        self.watch.begin(place.conn)

    async def restart(self, away_s: float = 0.0, step: float = 0.0, *, boots: bool = False) -> None:
        """`step`: the wall clock is set while the house is down."""
        await self.watch.mark()
        since = self.clock.since_boot() + away_s
        self.clock = Wall(self.clock.wall + away_s + step, since)
        if boots:
            self.clock.boot = "another boot"
        self._begin()

    async def stay(self, seconds: float) -> None:
        """The guest stays, and is reported."""
        self.clock.pass_by(seconds)
        self._time += int(seconds)
        heard = Report(Event.INTERIM, WEST, "west", 0, PHONE, SSID.encode(), "S1", session_time=self._time)
        await self.road.act(lambda tx: take_report(tx, heard))

    async def set_clock(self, step: float) -> None:
        """And it stays there until it is followed."""
        self.clock.wall += step
        await self.watch.look()
        self.clock.pass_by(STEP_HELD_S)
        await self.watch.look()
        assert self.clock.now() == pytest.approx(self.clock.wall)

    async def said(self) -> list[str]:
        await self.watch.look()
        speaker = Speaker(self.place.config, {}, self.clock.now())
        registry = Registry(self.place.config, self.place.keys.token_key)
        return [a.text for a in attention(self.place.conn, self.road, registry, speaker)]

    def left_s(self) -> float:
        grant = self.place.grant(self.code)
        assert grant is not None
        remains = left(self.place.config.plan_of(grant), grant.use, self.clock.now())
        assert remains.until is not None
        return remains.until - self.clock.now()

    async def state(self) -> State:
        """Once everything that is due was done."""
        sweeper = Sweeper()
        while (await self.road.act(sweeper.sweep)).has_more:
            pass
        return self.place.standing().wanted


STEPS = {"17 h back": -17 * HOUR, "17 h ahead": 17 * HOUR, "to 1970": TO_1970}


@pytest.mark.parametrize("restarts", [False, True], ids=["running", "over a restart"])
@pytest.mark.parametrize("step", STEPS.values(), ids=STEPS)
async def test_a_step_gives_and_takes_no_time(place: Place, step: float, restarts: bool) -> None:
    house = House(place)
    await house.stay(HOUR)
    if restarts:
        await house.restart(60, step)
        step = 0.0  # it was set while the house was down
    await house.set_clock(step)
    passed = HOUR + STEP_HELD_S + 60 * restarts
    assert house.left_s() == pytest.approx(8 * HOUR - passed)
    assert await house.state() is State.INSIDE
    if restarts:
        await house.restart()
        assert house.clock.now() == pytest.approx(house.clock.wall)
    await house.stay(7 * HOUR)
    assert house.left_s() < 0
    assert await house.state() is State.HELD


async def test_the_clock_goes_to_1970_and_back_an_hour_later(place: Place) -> None:
    house = House(place)
    await house.set_clock(TO_1970)
    await house.stay(HOUR)
    await house.restart()
    await house.set_clock(-TO_1970)
    assert house.left_s() == pytest.approx(7 * HOUR - 2 * STEP_HELD_S)
    assert house.clock.now() == pytest.approx(T0 + HOUR + 2 * STEP_HELD_S)
    assert await house.state() is State.INSIDE
    assert [by for (by,) in place.conn.execute("SELECT by FROM clock_step")] == pytest.approx(
        [TO_1970, -TO_1970]
    )


async def test_what_was_written_in_1970_is_kept_as_long_as_anything_else(place: Place) -> None:
    house = House(place)
    await house.set_clock(TO_1970)
    house.clock.pass_by(HOUR)
    place.now = house.clock.now()
    await house.road.act(lambda tx: tx.log("logged_out", mac=PHONE))
    await house.set_clock(-TO_1970)

    async def kept() -> int:
        keeper = Keeper()
        for _ in range(60):
            await house.road.act(keeper.step)
        return int(place.conn.execute("SELECT count(*) FROM event WHERE at < 1e6").fetchone()[0])

    assert await kept() >= 1
    house.clock.pass_by(LOG_S + HOUR)
    assert await kept() == 0


async def test_hours_of_the_day_follow_the_new_clock(place: Place) -> None:
    """T0 is 22:26 in the site's zone: open until 23:00, and closed at 05:26, before six."""
    house = House(place)
    daily = ((Window(6 * 60, 23 * 60),),) * 7
    plan = replace(place.config.plans[DAY_VISIT], hours=Hours(place.config.zone, daily))
    await house.road.act(lambda tx: save_plan(tx.conn, plan))
    await house.road.act(lambda tx: tx.reconfigure())
    house.place.config = house.road.config
    await house.set_clock(7 * HOUR)
    assert await house.state() is State.AT_DOOR
    assert place.standing().reason is Reason.PLAN_CLOSED
    assert house.left_s() == pytest.approx(8 * HOUR - STEP_HELD_S)  # it waits, and its 8 h run on as before


async def test_a_clock_that_was_set_is_followed_after_a_minute(place: Place) -> None:
    house = House(place)
    assert await house.said() == []
    house.clock.wall += 300
    assert await house.said() == ["This machine's clock was set 5 min ahead."]
    house.clock.pass_by(59)
    await house.watch.look()
    assert house.clock.now() == pytest.approx(T0 + 59)
    house.clock.pass_by(1)
    assert await house.said() == []
    assert house.clock.now() == pytest.approx(T0 + 360)
    assert "clock_set" in place.kinds()


async def test_a_step_that_is_taken_back_is_not_followed(place: Place) -> None:
    house = House(place)
    house.clock.wall -= 300
    assert await house.said() == ["This machine's clock was set 5 min back."]
    house.clock.wall += 300
    assert await house.said() == []
    house.clock.pass_by(100)
    assert house.clock.now() == pytest.approx(T0 + 100)


async def test_after_a_boot_the_wall_clock_is_believed_unless_it_is_behind_the_newest_record(
    place: Place,
) -> None:
    house = House(place)
    await house.restart(HOUR, boots=True)
    assert house.clock.now() == pytest.approx(T0 + HOUR)
    await house.road.act(lambda tx: tx.log("logged_out", mac=PHONE))
    await house.restart(0, -17 * HOUR, boots=True)
    assert house.clock.now() == pytest.approx(T0 + HOUR)
    assert await house.said() == ["This machine's clock was set 17 h back."]


async def test_a_step_that_cannot_be_written_is_tried_again(
    place: Place, monkeypatch: pytest.MonkeyPatch
) -> None:
    house = House(place)
    house.clock.wall -= 300
    await house.watch.look()
    house.clock.pass_by(STEP_HELD_S)

    def broken(*_: object) -> None:
        raise RuntimeError("disk")

    with monkeypatch.context() as patched:
        patched.setattr(stored, "adopt_step", broken)
        with pytest.raises(RuntimeError):
            await house.watch.look()
    assert house.clock.now() == pytest.approx(T0 + STEP_HELD_S)
    await house.watch.look()
    assert house.clock.now() == pytest.approx(T0 + STEP_HELD_S - 300)


def test_an_empty_house_has_no_newest_record(place: Place, tmp_path: Path) -> None:
    assert newest_record(place.conn) is None
    clock = Wall(0.0)
    road = Road(place.conn, place.keys, place.config, clock, CountedChance(), fsync_s=0.0)
    WallWatch(clock, road).begin(place.conn)
    assert (clock.now(), road.wall_trouble) == (0.0, None)
