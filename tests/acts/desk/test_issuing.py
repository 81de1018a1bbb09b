"""A large batch: the long work leaves the serving process, and the batch counts as a whole or not at all."""

import asyncio
import os
from pathlib import Path

import pytest

from lauschen.acts.desk import issuing
from lauschen.acts.desk.issuing import begin_batch, draw_vouchers, issue_vouchers, prepare_codes
from lauschen.acts.keeping import Keeper
from lauschen.beside.jobs import Jobs, JobState, LongJob
from lauschen.beside.worker import Worker
from lauschen.core.actor import person
from lauschen.core.errors import Invalid
from lauschen.core.ids import BatchId, CredentialId, PlanId, StaffId
from lauschen.core.words.codes import TypedCode, read_code
from lauschen.road.road import Road
from lauschen.store import credentials
from lauschen.store.batches import Said
from lauschen.store.credentials import Prepared
from lauschen.store.keys import KEY_NAME
from tests.place import CountedChance, Place
from tests.still_clock import StillClock

STAFF = person(StaffId(1))


@pytest.fixture
async def road(place: Place) -> Road:
    return Road(place.conn, place.keys, place.config, StillClock(place.now), CountedChance(), fsync_s=0.0)


async def issue(road: Road, data: Path, size: int, worker: Worker) -> list[str]:
    batch = await issue_vouchers(
        road, worker, data / KEY_NAME, plan=PlanId(1), size=size, said=Said(), by=person(StaffId(1))
    )
    return [v.code for v in credentials.issued_of(road._conn, road.keys, batch, after=0, at_most=size)]


async def test_a_large_batch_is_drawn_and_sealed_by_the_worker(
    road: Road, data: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Here, nothing may be drawn: what is issued can only have come from the other process."""
    monkeypatch.setattr(issuing, "draw_vouchers", None)
    worker = Worker()
    codes = await issue(road, data, 250, worker)
    assert len(set(codes)) == 250
    assert all(isinstance(read_code(code), TypedCode) for code in codes)
    assert await worker.run(os.getpid) != os.getpid()
    worker.close()


async def test_a_code_that_was_issued_before_is_drawn_again_under_another_id(
    road: Road, data: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    class Here:
        """Plays the worker in this process, and draws the same codes twice."""

        def __init__(self) -> None:
            self.calls = 0

        async def run(
            self, task: object, key_file: Path, first: CredentialId, count: int, length: int
        ) -> list[Prepared]:
            self.calls += 1
            drawn = prepare_codes(key_file, first, count, length)
            if self.calls == 1:
                self.first = drawn
            if self.calls == 2:
                return [one._replace(hash=old.hash) for one, old in zip(drawn, self.first, strict=True)]
            return drawn

    monkeypatch.setattr(issuing, "SLICE", 60)
    monkeypatch.setattr(issuing, "PREPARED", 60)
    here = Here()
    codes = await issue(road, data, 120, here)  # type: ignore[arg-type]
    assert (len(set(codes)), here.calls) == (120, 3)


async def test_ids_that_were_reserved_are_nobody_elses(road: Road, data: Path, place: Place) -> None:
    class Slow:
        """While it prepares, somebody at the desk issues one."""

        async def run(self, task: object, *said: object) -> list[Prepared]:
            others.extend(await issue(road, data, 1, Slow()))  # type: ignore[arg-type]
            return prepare_codes(*said)  # type: ignore[arg-type]

    others: list[str] = []
    codes = await issue(road, data, 50, Slow())  # type: ignore[arg-type]
    assert len({*codes, *others}) == 51
    assert place.grant(others[0]) is not None


async def test_an_unfinished_batch_lets_nobody_in(
    road: Road, data: Path, place: Place, monkeypatch: pytest.MonkeyPatch
) -> None:
    class Dead:
        """Its second answer never comes."""

        async def run(
            self, task: object, key_file: Path, first: CredentialId, count: int, length: int
        ) -> list[Prepared]:
            if known:
                raise RuntimeError("the worker died")
            known.extend(prepare_codes(key_file, first, count, length))
            return known

    monkeypatch.setattr(issuing, "PREPARED", 50)
    known: list[Prepared] = []
    with pytest.raises(RuntimeError):
        await issue(road, data, 100, Dead())  # type: ignore[arg-type]
    code = credentials.unseal_code(place.keys, known[0].sealed, known[0].id)
    assert place.grant(code) is None
    for table in ("batch", "credential", "finder"):
        assert place.conn.execute(f"SELECT count(*) FROM {table}").fetchone() == (0,)


async def test_a_job_says_how_far_it_is_and_leaves_nothing_when_it_is_cancelled(
    road: Road, data: Path, place: Place, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(issuing, "SLICE", 50)
    monkeypatch.setattr(issuing, "PREPARED", 50)
    monkeypatch.setattr(issuing, "TAKEN_BACK", 60)
    jobs, slow, told = Jobs(road.faults), asyncio.Event(), asyncio.Event()

    class Halting:
        """Prepares two slices, and then nothing more until it is told to."""

        asked = 0

        async def run(self, task: object, *said: object) -> object:
            Halting.asked += 1
            if Halting.asked == 3:
                await slow.wait()
            return task(*said)  # type: ignore[operator]

    async def work(job: LongJob) -> int:
        def made(count: int) -> None:
            job.done = count
            if count == 100:
                told.set()

        return await issue_vouchers(
            road,
            Halting(),
            data / KEY_NAME,
            plan=PlanId(1),
            size=150,
            said=Said(),
            by=STAFF,
            made=made,  # type: ignore[arg-type]
        )

    job, _ = jobs.begin("issue", 150, work, by=STAFF)
    await told.wait()
    assert (job.done, job.of, job.state) == (100, 150, JobState.RUNNING)
    await jobs.cancel(job.id)
    assert job.state is JobState.CANCELLED
    assert place.conn.execute(
        "SELECT (SELECT count(*) FROM credential), (SELECT count(*) FROM batch)"
    ).fetchone() == (0, 0)
    slow.set()
    again, task = jobs.begin("issue", 150, work, by=STAFF)
    job = again
    await task
    assert (again.state, again.done, again.result) == (JobState.DONE, 150, 1)
    await jobs.cancel(again.id)  # it is over, and stays so
    assert again.state is JobState.DONE


async def test_a_job_that_raises_says_so_and_is_told(road: Road) -> None:
    jobs = Jobs(road.faults)

    async def refused(_: LongJob) -> int:
        raise Invalid("plan_unknown", field="plan", mend="Choose one of the plans.")

    async def broken(_: LongJob) -> int:
        raise KeyError("bug")

    for work, told in ((refused, False), (broken, True)):
        job, task = jobs.begin("x", 1, work, by=STAFF)
        await task
        assert job.state is JobState.FAILED
        assert job.error
        assert ("job" in road.faults.kinds) == told


async def test_what_a_crash_left_of_a_batch_goes_after_a_day(road: Road, place: Place) -> None:
    with place.tx() as tx:
        begin_batch(tx, plan=PlanId(1), size=5, said=Said())
    with place.tx() as tx:
        draw_vouchers(tx, batch=BatchId(1), plan=PlanId(1), count=3)
    keeper, left = Keeper(), []
    for _ in range(2):
        for _ in range(25):
            place.run(keeper.step)
        left.append(place.conn.execute("SELECT count(*) FROM credential").fetchone()[0])
        place.now += 86_401
    for _ in range(25):
        place.run(keeper.step)
    assert left[0] == 3
    assert place.conn.execute("SELECT count(*) FROM credential").fetchone() == (0,)
