"""Each item of the sweep stands alone: one that raises keeps nobody else inside, and leaves nothing half done."""

import itertools
import re
import shutil
from pathlib import Path
from typing import Any, NamedTuple

import pytest

from lauschen.acts.staying import sweep as sweep_acts
from lauschen.acts.staying.reconsidering import reconsider
from lauschen.acts.staying.reports import Event
from lauschen.acts.staying.sweep import OVER_GRACE_S, Sweeper
from lauschen.core.decide.decision import Decision
from lauschen.core.decide.standing import Standing, State
from lauschen.core.ids import Mac
from lauschen.road.slices import AGAIN_S
from lauschen.road.tx import Tx
from tests.place import PHONE, Place

HOURS_8 = 8 * 3600
ILL = Mac(PHONE + 2)
WRITES = ("INSERT", "UPDATE", "DELETE")


_SEALED = re.compile(r"X'[0-9A-F]{70,}'")
"""Under another nonce in each house."""


class CountingConnection:
    """The transaction's connection, which raises after so many writes of the item that is ill."""

    def __init__(self, conn: Any, raises_after: int) -> None:
        self._conn, self._left = conn, raises_after
        self.is_armed, self.writes = False, 0

    def __getattr__(self, name: str) -> Any:
        return getattr(self._conn, name)

    def execute(self, sql: str, *values: Any) -> Any:
        found = self._conn.execute(sql, *values)
        self._count(sql)
        return found

    def executemany(self, sql: str, *values: Any) -> Any:
        found = self._conn.executemany(sql, *values)
        self._count(sql)
        return found

    def _count(self, sql: str) -> None:
        if self.is_armed and sql.lstrip().startswith(WRITES):
            self.writes += 1
            if self.writes == self._left:
                raise KeyError("bug")


def five_whose_time_is_over(place: Place) -> None:
    for number, code in enumerate(place.issue(5)):
        place.let_in(code, Mac(PHONE + number), f"S{number}", f"v{number}")
    place.now += HOURS_8 - 60
    for number in range(5):  # facts in memory, and reports that are written by the group
        report = {"session_time": HOURS_8 - 60, "octets_out": 1000}
        place.report(Event.INTERIM, Mac(PHONE + number), f"S{number}", **report)
    place.now += 60 + OVER_GRACE_S + 1


def states(place: Place) -> list[State | None]:
    return [place.standing(Mac(PHONE + number)).going for number in range(5)]


def test_one_that_raises_keeps_nobody_else_inside_and_is_tried_again(
    place: Place, monkeypatch: pytest.MonkeyPatch
) -> None:
    five_whose_time_is_over(place)

    def ill(tx: Tx, standing: Standing) -> Decision:
        if standing.mac == ILL:
            raise KeyError("bug")
        return reconsider(tx, standing)

    sweeper = Sweeper()
    with monkeypatch.context() as patched:
        patched.setattr(sweep_acts, "reconsider", ill)
        place.run(sweeper.sweep)
    held = State.HELD
    assert states(place) == [held, held, None, held, held]
    fault = place.faults.kinds["sweep"]
    assert (fault.count, fault.reason) == (1, "02-00-00-AA-BB-03: KeyError: 'bug'")
    place.run(sweeper.sweep)  # it waits for a while, and is in nobody's way
    assert states(place)[2] is None
    place.now += AGAIN_S + 1
    place.run(sweeper.sweep)
    assert states(place) == [held] * 5


def in_memory(place: Place) -> dict[str, str]:
    """What is kept of everybody but the one that is ill, who may be forgotten."""
    found = {}
    for name, kept in vars(place.memory).items():
        if isinstance(kept, dict):
            others = {key: value for key, value in kept.items() if str(int(ILL)) not in repr(key)}
            found[name] = repr(
                [(key, value) for key, value in others.items() if str(int(ILL)) not in repr(value)]
            )
    return found


class House(NamedTuple):
    """What one sweep left, and how many writes the ill one did."""

    rows: list[str]
    memory: dict[str, str]
    wakes: int
    effects: int
    next_log_id: int
    writes: int


def swept(data: Path, raises_after: int | None) -> House:
    """In a house of its own; `raises_after` None: the ill one is not due."""
    place = Place(data)
    five_whose_time_is_over(place)
    counting = CountingConnection(place.conn, raises_after or 0)

    def watched(tx: Tx, standing: Standing) -> Decision | None:
        if standing.mac == ILL and raises_after is None:
            return None
        counting.is_armed = standing.mac == ILL
        try:
            return reconsider(tx, standing)
        finally:
            counting.is_armed = False

    with pytest.MonkeyPatch.context() as patched, place.tx() as tx:
        patched.setattr(sweep_acts, "reconsider", watched)
        tx.conn = counting  # type: ignore[assignment]
        tx.log("before")
        Sweeper().sweep(tx)
        tx.log("after")
        tx.conn = place.conn
        effects = len(tx.effects)
    found = House(
        [_SEALED.sub("sealed", row) for row in place.conn.iterdump()],
        in_memory(place),
        place.wakes,
        effects,
        tx.next_log_id,
        counting.writes,
    )
    place.close()
    return found


@pytest.mark.usefixtures("groups_run_once")
def test_it_leaves_nothing_half_done_wherever_it_raises(made_site: Path, tmp_path: Path) -> None:
    """After each of its writes: database, log, wishes and memory are as in a house where it was not due."""
    copies = (Path(shutil.copytree(made_site, tmp_path / str(number))) for number in itertools.count())
    without = swept(next(copies), None)
    writes = swept(next(copies), 0).writes
    assert writes >= 3
    for number in range(1, writes + 1):
        found = swept(next(copies), number)
        assert set(found.rows) ^ set(without.rows) == set(), f"write {number}"
        assert found._replace(writes=0, effects=0) == without._replace(writes=0, effects=0), f"write {number}"
        assert found.effects == without.effects + 2  # it is told, and put off


def test_a_stay_is_ended_ten_seconds_after_its_access_device_should_have(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.now += HOURS_8 - 5
    place.report(Event.INTERIM, session_time=HOURS_8 - 5)
    for seconds, going in ((5 + 9, None), (1, State.HELD)):
        place.now += seconds
        place.run(Sweeper().sweep, is_act=False)
        assert place.standing().going is going


def test_a_device_before_login_has_left_ten_minutes_after_its_time_out(place: Place) -> None:
    place.ask(session=None)
    for seconds, state in ((1800 + 600, State.AT_DOOR), (1, State.LEFT)):
        place.now += seconds
        place.run(Sweeper().sweep, is_act=False)
        assert place.standing().state is state


def test_a_seat_without_a_stay_is_free_after_two_minutes(place: Place) -> None:
    place.ask()
    place.open_page()
    place.try_code(place.issue()[0])
    place.ask()
    for seconds, is_free in ((120, False), (1, True)):
        place.now += seconds
        place.run(Sweeper().sweep, is_act=False)
        (seat,) = place.conn.execute("SELECT seat_since FROM admission").fetchone()
        assert (seat is None) is is_free
