"""A large batch: the long work leaves the serving process, and the batch counts as a whole or not at all."""

import os
from pathlib import Path

import pytest

from lauschen.acts.desk import issuing
from lauschen.acts.desk.issuing import draw_codes, issue_vouchers, seal_codes
from lauschen.core.actor import person
from lauschen.core.ids import PlanId, StaffId
from lauschen.core.words.codes import TypedCode, read_code
from lauschen.road.road import Road
from lauschen.road.worker import Worker
from lauschen.store import credentials
from lauschen.store.keys import KEY_NAME
from tests.place import CountedChance, Place
from tests.still_clock import StillClock


@pytest.fixture
async def road(place: Place) -> Road:
    return Road(place.conn, place.keys, place.house, StillClock(place.now), CountedChance(), fsync_s=0.0)


async def issue(road: Road, data: Path, size: int, worker: Worker) -> list[str]:
    batch = await issue_vouchers(
        road, worker, data / KEY_NAME, plan=PlanId(1), size=size, label="", by=person(StaffId(1))
    )
    return [v.code for v in credentials.vouchers_of(road._conn, road.keys, batch, after=0, at_most=size)]


async def test_a_large_batch_is_drawn_and_sealed_by_the_worker(
    road: Road, data: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Here, nothing may be drawn: what is issued can only have come from the other process."""
    monkeypatch.setattr(issuing, "draw_vouchers", None)
    worker = Worker()
    codes = await issue(road, data, 250, worker)
    assert len(set(codes)) == 250
    assert all(isinstance(read_code(code), TypedCode) for code in codes)
    _, process = await worker.run(draw_codes, data / KEY_NAME, 1)
    worker.close()
    assert process != os.getpid()


async def test_a_code_that_was_issued_before_is_drawn_again(
    road: Road, data: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    class Here:
        """Plays the worker in this process, and draws the same slice twice."""

        def __init__(self) -> None:
            self.calls = 0

        async def run(self, task: object, key_file: Path, argument: object) -> object:
            if task is draw_codes:
                self.calls += 1
                if self.calls == 1:
                    self.first = draw_codes(key_file, 60)
                if self.calls <= 2:
                    return self.first
            return task(key_file, argument)  # type: ignore[operator]

    monkeypatch.setattr(issuing, "SLICE", 60)
    codes = await issue(road, data, 120, Here())  # type: ignore[arg-type]
    assert len(set(codes)) == 120


async def test_an_unfinished_batch_lets_nobody_in(road: Road, data: Path, place: Place) -> None:
    class Dead:
        async def run(self, task: object, *_: object) -> object:
            if task is seal_codes:
                raise RuntimeError("the worker died")
            drawn, process = draw_codes(data / KEY_NAME, 50)
            known.append(drawn[0][0])
            return drawn, process

    known: list[str] = []
    with pytest.raises(RuntimeError):
        await issue(road, data, 50, Dead())  # type: ignore[arg-type]
    assert place.conn.execute("SELECT is_valid FROM batch").fetchall() == [(0,)]
    assert place.grant(known[0]) is None
