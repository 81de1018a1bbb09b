"""Nobody at the console takes what others need: requests, live views, large bodies, prints."""

import asyncio
import json
from collections.abc import AsyncIterator, Callable
from contextlib import AsyncExitStack
from typing import Any

import httpx
import pytest

from lauschen.api.desk.printer import MOST_WAITING
from lauschen.api.door import guards
from lauschen.api.door.guards import READS_AT_FIRST, STRANGERS_READS_AT_FIRST
from lauschen.api.now.routes import FEEDS_EACH
from lauschen.core.people.duties import Duty
from lauschen.http.limits import LARGEST_BODY
from tests.api.door.test_sign_in import House, house
from tests.api.people.test_people import signed_in_as

__all__ = ["house"]


@pytest.fixture(autouse=True)
def budgets_fill_slowly(monkeypatch: pytest.MonkeyPatch) -> None:
    """However slow the machine is, requests come faster than this."""
    monkeypatch.setattr(guards, "READS_PER_S", 1)
    monkeypatch.setattr(guards, "STRANGERS_READS_PER_S", 1)


async def answers(web: httpx.AsyncClient, path: str, times: int) -> list[int]:
    """So many requests, some at a time: one after the other would come no faster than they may."""
    many = asyncio.Semaphore(12)

    async def ask() -> int:
        async with many:
            return (await web.get(path)).status_code

    return await asyncio.gather(*(ask() for _ in range(times)))


async def test_strangers_at_an_address_have_a_budget_and_whoever_is_signed_in_there_another(
    house: House,
) -> None:
    chief, stranger = await house.signed_in(), house.browser()
    codes = await answers(stranger, "/api/now", STRANGERS_READS_AT_FIRST + 50)
    assert set(codes) == {401, 429}
    refused = await stranger.get("/api/openapi.json")
    assert refused.json()["detail"] == "Too many requests at once. Try again in a moment."
    assert (await chief.get("/api/session")).status_code == 200
    house.service.clock.advance(10.0)  # type: ignore[attr-defined]
    assert (await stranger.get("/api/now")).status_code == 401


async def test_a_program_that_asks_all_the_time_leaves_the_others_theirs(house: House) -> None:
    chief = await house.signed_in()
    made = await chief.post("/api/programs", json={"name": "Rooms", "duty": Duty.DESK})
    program = house.browser()
    program.headers["Authorization"] = f"Bearer {made.json()['token']}"
    codes = await answers(program, "/api/slips", READS_AT_FIRST + 50)
    assert set(codes) == {200, 429}
    assert (await chief.get("/api/slips")).status_code == 200


async def test_live_views_are_counted_for_each_person(house: House) -> None:
    chief, other = await house.signed_in(), await signed_in_as(house, Duty.DESK)
    async with AsyncExitStack() as views:
        lines = list[AsyncIterator[str]]()
        for _ in range(FEEDS_EACH):
            answer = await views.enter_async_context(chief.stream("GET", "/api/feed"))
            lines.append(answer.aiter_lines())
            await anext(lines[-1])
        async with asyncio.timeout(20):
            assert (await chief.get("/api/feed")).status_code == 503
            async with other.stream("GET", "/api/feed") as answer:
                assert answer.status_code == 200


@pytest.fixture
def parsed(monkeypatch: pytest.MonkeyPatch) -> list[int]:
    """How long the texts were that this process read as JSON."""
    lengths, real = list[int](), json.loads

    def loads(text: str | bytes, **more: Any) -> Any:
        lengths.append(len(text))
        return real(text, **more)

    monkeypatch.setattr(json, "loads", loads)
    return lengths


async def test_a_large_body_is_read_by_the_worker(house: House, parsed: list[int]) -> None:
    chief = await house.signed_in()
    lines = "".join(f"Guest {number}, guest{number}@students.hollerau.example\n" for number in range(4000))
    answer = await chief.post("/api/passes/lines/check", json={"text": lines, "lang": "en"})
    assert answer.status_code == 200, answer.text
    assert len(lines) > LARGEST_BODY > max(parsed)
    many = json.dumps({"text": "", "of": [[]] * LARGEST_BODY}).encode()
    for octets in (many, b"{" * LARGEST_BODY * 2, b"[]" + b" " * LARGEST_BODY):
        form = {"Content-Type": "application/json"}
        refused = await chief.post("/api/passes/lines/check", content=octets, headers=form)
        assert (refused.status_code, refused.json()["code"]) == (422, "json")


async def test_who_prints_much_waits_behind_themselves(house: House, monkeypatch: pytest.MonkeyPatch) -> None:
    chief, other = await house.signed_in(), await signed_in_as(house, Duty.DESK)
    order, goes_on = list[str](), asyncio.Event()

    async def run(task: Callable[..., Any], *asked: Any) -> bytes:
        order.append(str(asked[-1].said.label))
        await goes_on.wait()
        return b"a picture"

    monkeypatch.setattr(house.service.printer.worker, "run", run)
    wish = {"plan": 1, "way": "voucher"}
    mine = [
        asyncio.create_task(chief.post("/api/slips/preview", json={**wish, "label": "mine"}))
        for _ in range(MOST_WAITING + 2)
    ]
    over, _ = await asyncio.wait(mine, return_when=asyncio.FIRST_COMPLETED)
    (refused,) = [one.result() for one in over]
    assert (refused.status_code, refused.json()["code"]) == (503, "turn_unavailable")
    theirs = asyncio.create_task(other.post("/api/slips/preview", json={**wish, "label": "theirs"}))
    await asyncio.sleep(0.1)
    goes_on.set()
    assert (await theirs).status_code == 200
    await asyncio.gather(*mine)
    assert order.index("theirs") <= 2
