"""Long jobs: how many are under way at once, and what is remembered of those that are over."""

import asyncio

import pytest

from lauschen.beside.jobs import KEPT, KEPT_FILES, MOST_OF_ONE, MOST_RUNNING, Jobs, LongJob
from lauschen.core.actor import person
from lauschen.core.errors import Unavailable
from lauschen.core.ids import StaffId
from lauschen.road.faults import Faults


async def ever(_: LongJob) -> int:
    await asyncio.Event().wait()
    return 0


async def test_few_are_under_way_at_once_of_one_and_of_all() -> None:
    jobs = Jobs(Faults(lambda: 0.0))
    begun = [
        jobs.begin("issue", 1, ever, by=person(StaffId(number // MOST_OF_ONE), ""))[0]
        for number in range(MOST_RUNNING)
    ]
    for busy in (0, 99):  # somebody with three, and somebody with none
        with pytest.raises(Unavailable):
            jobs.begin("issue", 1, ever, by=person(StaffId(busy), ""))
    await jobs.cancel(begun[0].id)
    jobs.begin("issue", 1, ever, by=person(StaffId(0), ""))
    await jobs.close()


async def test_the_last_ones_are_remembered_and_fewer_files() -> None:
    async def makes(job: LongJob) -> int:
        job.file = b"slips"
        return job.id

    jobs = Jobs(Faults(lambda: 0.0))
    made = []
    for _ in range(KEPT + 10):
        job, task = jobs.begin("slips", 1, makes, by=person(StaffId(1), ""))
        await task
        made.append(job)
    known = [job for job in made if jobs.find(job.id) is not None]
    assert len(known) == KEPT + 1
    assert len([job for job in known if job.file is not None]) == KEPT_FILES + 1
