"""People of the console: added, given another duty, signed out, removed, each at once."""

from collections.abc import AsyncIterator
from pathlib import Path

import httpx
import pytest

from lauschen.core.people.duties import Duty
from lauschen.demo import site
from lauschen.road.clock import MovableClock
from lauschen.serve.service import Options, Service
from tests.place import T0

OWN = "score-and-stand-22"


class Console:
    """A running service, and browsers that open its console."""

    def __init__(self, service: Service) -> None:
        self.service = service
        self.opened: list[httpx.AsyncClient] = []

    def browser(self) -> httpx.AsyncClient:
        base = f"http://127.0.0.1:{self.service.ports['staff']}"
        self.opened.append(httpx.AsyncClient(base_url=base, timeout=20))
        return self.opened[-1]

    async def signed_in(self, name: str, password: str) -> httpx.AsyncClient:
        browser = self.browser()
        answer = await browser.post("/api/session", json={"name": name, "password": password})
        assert answer.status_code == 200, answer.text
        browser.headers["X-Lauschen-Form"] = answer.json()["csrf"]
        return browser

    async def chief(self) -> httpx.AsyncClient:
        return await self.signed_in(site.STAFF_NAME, site.STAFF_PASSWORD)


@pytest.fixture
async def console(data: Path) -> AsyncIterator[Console]:
    options = Options(data, ("127.0.0.1", 0), ("127.0.0.1", 0), "127.0.0.1", 0, 0)
    made = Console(Service(options, MovableClock(T0)))
    await made.service.start()
    yield made
    for browser in made.opened:
        await browser.aclose()
    await made.service.close()


async def signed_in_as(console: Console, duty: Duty, name: str = "mirela") -> httpx.AsyncClient:
    """Somebody new, past the change of the first password."""
    chief = await console.chief()
    made = await chief.post("/api/people", json={"name": name, "duty": duty})
    assert made.status_code == 201, made.text
    browser = await console.signed_in(name, made.json()["password"])
    change = {"old": made.json()["password"], "new": OWN}
    assert (await browser.get("/api/desk")).status_code == 401  # the first password is changed first
    changed = await browser.post("/api/password", json=change)
    assert changed.status_code == 200, changed.text
    browser.headers["X-Lauschen-Form"] = changed.json()["csrf"]
    return browser


async def people(chief: httpx.AsyncClient) -> dict[str, dict[str, object]]:
    return {one["name"]: one for one in (await chief.get("/api/people")).json()}


async def test_somebody_is_added_with_a_first_password_and_knows_what_they_may(console: Console) -> None:
    browser = await signed_in_as(console, Duty.DESK)
    said = (await browser.get("/api/session")).json()
    assert (said["duty"], said["may"]) == ("desk", ["nothing", "session", "look", "issue", "help"])
    chief = await console.chief()
    found = await people(chief)
    assert (found["mirela"]["duty"], found["mirela"]["waits"], found["mirela"]["sessions"]) == (
        "desk",
        False,
        1,
    )
    assert found[site.STAFF_NAME]["is_you"]
    assert "gatehouse added mirela as one of the desk" in [
        line["text"] for line in (await chief.get("/api/log")).json()
    ]


@pytest.mark.parametrize("name", ["Gatehouse", "gatehouse ", " GATEHOUSE"])
async def test_a_name_is_somebodys_alone(console: Console, name: str) -> None:
    answer = await (await console.chief()).post("/api/people", json={"name": name, "duty": "desk"})
    assert (answer.status_code, answer.json()["code"], answer.json()["field"]) == (
        422,
        "person_taken",
        "name",
    )


async def test_another_duty_counts_from_the_next_request_on(console: Console) -> None:
    browser, chief = await signed_in_as(console, Duty.DESK), await console.chief()
    one = (await people(chief))["mirela"]["id"]
    assert (await browser.get("/api/paths")).status_code == 403
    assert (await chief.put(f"/api/people/{one}", json={"duty": "auditor"})).json()["duty"] == "auditor"
    assert (await browser.get("/api/paths")).status_code == 200
    refused = await browser.post("/api/passes", json={})
    assert (refused.status_code, refused.json()["detail"]) == (
        403,
        "Auditors see everything and change nothing.",
    )
    said = [line["text"] for line in (await chief.get("/api/log")).json()]
    assert "gatehouse made mirela an auditor, who was one of the desk before" in said


@pytest.mark.parametrize("how", ["remove", "sign out", "first password"])
async def test_whoever_is_sent_off_is_out_at_once_and_their_live_view_too(console: Console, how: str) -> None:
    browser, chief = await signed_in_as(console, Duty.DESK), await console.chief()
    one = f"/api/people/{(await people(chief))['mirela']['id']}"
    async with browser.stream("GET", "/api/feed") as live:
        lines = live.aiter_lines()
        assert await anext(lines) == "event: now"
        match how:
            case "remove":
                assert (await chief.delete(one)).status_code == 204
            case "sign out":
                assert (await chief.post(f"{one}/sign-out")).status_code == 204
            case _:
                assert (await chief.post(f"{one}/password")).status_code == 200
        assert [line async for line in lines if line.startswith("event")] == []
    assert (await browser.get("/api/desk")).status_code == 401
    may_again = await console.browser().post("/api/session", json={"name": "mirela", "password": OWN})
    assert may_again.status_code == (200 if how == "sign out" else 422)


async def test_what_somebody_did_keeps_their_name_and_they_may_come_back(console: Console) -> None:
    browser, chief = await signed_in_as(console, Duty.DESK), await console.chief()
    made = await browser.post("/api/passes", json={"plan": 1, "label": "Ines"})
    assert made.status_code == 201, made.text
    one = (await people(chief))["mirela"]["id"]
    await chief.delete(f"/api/people/{one}")
    assert "mirela" not in await people(chief)
    assert (await chief.get("/api/desk")).json()["batches"][0]["issued_by"] == "mirela"
    back = await chief.post("/api/people", json={"name": "mirela", "duty": "auditor"})
    assert (back.json()["person"]["id"], back.json()["person"]["duty"]) == (one, "auditor")


async def test_somebody_who_can_set_up_the_house_must_stay(console: Console) -> None:
    chief = await console.chief()
    me = f"/api/people/{(await people(chief))[site.STAFF_NAME]['id']}"
    for answer in (await chief.put(me, json={"duty": "desk"}), await chief.delete(me)):
        assert (answer.status_code, answer.json()["code"]) == (422, "last_administrator")
    await signed_in_as(console, Duty.ADMINISTRATOR)
    assert (await chief.put(me, json={"duty": "desk"})).status_code == 200
    assert (await chief.post("/api/people", json={"name": "x", "duty": "desk"})).status_code == 403
