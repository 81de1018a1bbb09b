"""What goes wrong in a shift: two desks at once, a batch that is cancelled half way, clocks that are changed."""

import asyncio
from collections.abc import AsyncIterator
from datetime import datetime
from pathlib import Path
from zoneinfo import ZoneInfo

import httpx
import pytest

from lauschen.beside.jobs import MOST_OF_ONE
from lauschen.core.people.duties import Duty
from lauschen.demo.site import ZONE
from lauschen.road.clock import MovableClock
from lauschen.serve.service import Options, Service
from tests.api.door.test_sign_in import House, house
from tests.api.people.test_people import signed_in_as

__all__ = ["house"]
HOUR = 3600.0
DAY_VISIT = 1
PASS = {"plan": DAY_VISIT, "label": "Ines Harwood"}


async def test_two_desks_that_choose_one_code_at_once_issue_one_pass(house: House) -> None:
    desks = [await house.signed_in() for _ in range(4)]
    spelled = ("silver otter 42", "Silver-Otter-42", "SILVEROTTER42", "silver  otter 42")
    answers = await asyncio.gather(
        *(
            desk.post("/api/passes", json={**PASS, "code": code})
            for desk, code in zip(desks, spelled, strict=True)
        )
    )
    assert sorted(answer.status_code for answer in answers) == [201, 422, 422, 422]
    refused = [answer.json() for answer in answers if answer.status_code == 422]
    assert {(one["code"], one["field"]) for one in refused} == {("code_taken", "code")}
    assert len((await desks[0].get("/api/desk")).json()["batches"]) == 1


async def test_a_batch_that_is_cancelled_half_way_leaves_nothing(house: House) -> None:
    desk, other = await house.signed_in(), await house.signed_in()
    job = (await desk.post("/api/batches/job", json={"plan": DAY_VISIT, "count": 30_000})).json()["id"]
    async with asyncio.timeout(30):
        while not (shown := (await desk.get(f"/api/jobs/{job}")).json())["done"]:
            assert shown["state"] == "running"
            await asyncio.sleep(0.03)
    assert shown["done"] < 30_000
    assert (await other.post("/api/passes", json=PASS)).status_code == 201  # others issue meanwhile
    over = (await desk.post(f"/api/jobs/{job}/cancel")).json()
    assert (over["state"], over["batch"]) == ("cancelled", None)
    batches = (await desk.get("/api/desk")).json()["batches"]
    assert [one["label"] for one in batches] == ["Ines Harwood"]
    conn = house.service.reader
    assert conn.execute("SELECT count(*) FROM credential").fetchone() == (1,)
    assert conn.execute("SELECT count(*) FROM finder WHERE sealed IS NOT NULL").fetchone() == (1,)
    again = await desk.post(f"/api/jobs/{job}/cancel")  # pressed twice
    assert again.json()["state"] == "cancelled"


async def test_nobody_else_reads_or_cancels_a_job_and_few_are_under_way_at_once(house: House) -> None:
    chief, desk = await house.signed_in(), await signed_in_as(house, Duty.DESK)
    many = {"plan": DAY_VISIT, "count": 30_000}
    jobs = [(await chief.post("/api/batches/job", json=many)).json()["id"] for _ in range(MOST_OF_ONE)]
    more = await chief.post("/api/batches/job", json=many)
    assert (more.status_code, more.json()["code"]) == (503, "jobs_unavailable")
    for answer in (await desk.get(f"/api/jobs/{jobs[0]}"), await desk.post(f"/api/jobs/{jobs[0]}/cancel")):
        assert answer.status_code == 404
    theirs = (await desk.post("/api/batches/job", json=many)).json()["id"]
    for job in (*jobs, theirs):  # an administrator may
        assert (await chief.post(f"/api/jobs/{job}/cancel")).json()["state"] == "cancelled"


@pytest.fixture
async def evening(data: Path) -> AsyncIterator[tuple[House, httpx.AsyncClient]]:
    """The night in which clocks go back an hour begins; somebody is at the desk."""
    at = datetime(2026, 10, 24, 21, 0, tzinfo=ZoneInfo(ZONE)).timestamp()
    options = Options(data, ("127.0.0.1", 0), ("127.0.0.1", 0), "127.0.0.1", 0, 0)
    made = House(Service(options, MovableClock(at)))
    await made.service.start()
    yield made, await made.signed_in()
    for browser in made.opened:
        await browser.aclose()
    await made.service.close()


async def test_a_night_in_which_the_clocks_go_back_is_an_hour_longer(
    evening: tuple[House, httpx.AsyncClient],
) -> None:
    house, desk = evening
    now = house.service.clock.now()
    made = await desk.post("/api/passes", json={**PASS, "until": "2026-10-25T09:00"})
    (issued,) = made.json()["issued"]
    assert issued["valid_until"] == pytest.approx(now + 13 * HOUR, abs=60)
    # The hour that comes twice: its first half past two is meant, as by all of the clocks here.
    twice = await desk.post("/api/passes", json={**PASS, "until": "2026-10-25T02:30"})
    assert twice.json()["issued"][0]["valid_until"] == pytest.approx(now + 5.5 * HOUR, abs=60)
    house.service.clock.advance(7 * HOUR)  # type: ignore[attr-defined]
    shown = (await desk.get(f"/api/batches/{made.json()['id']}")).json()["issued"][0]
    assert shown["state"] == "fresh", "whoever was at the desk is still signed in, and the pass is good"
    house.service.clock.advance(6 * HOUR + 60)  # type: ignore[attr-defined]
    desk = await house.signed_in()  # a session lasts no longer than a shift
    shown = (await desk.get(f"/api/batches/{made.json()['id']}")).json()["issued"][0]
    assert shown["state"] == "expired"
