"""People of the console: added, given another duty, signed out, removed, each at once."""

import httpx
import pytest

from lauschen.core.people.duties import Duty
from lauschen.demo import site
from tests.api.door.test_sign_in import House, house

__all__ = ["house"]
OWN = "score-and-stand-22"


async def signed_in_as(house: House, duty: Duty, name: str = "mirela") -> httpx.AsyncClient:
    """Somebody new, past the change of the first password."""
    chief = await house.signed_in()
    made = await chief.post("/api/people", json={"name": name, "duty": duty})
    assert made.status_code == 201, made.text
    browser = await house.signed_in({"name": name, "password": made.json()["password"]})
    change = {"old": made.json()["password"], "new": OWN}
    assert (await browser.get("/api/desk")).status_code == 401  # the first password is changed first
    changed = await browser.post("/api/password", json=change)
    assert changed.status_code == 200, changed.text
    browser.headers["X-Lauschen-Form"] = changed.json()["csrf"]
    return browser


async def people(chief: httpx.AsyncClient) -> dict[str, dict[str, object]]:
    return {one["name"]: one for one in (await chief.get("/api/people")).json()}


async def test_somebody_is_added_with_a_first_password_and_knows_what_they_may(house: House) -> None:
    browser = await signed_in_as(house, Duty.DESK)
    said = (await browser.get("/api/session")).json()
    assert (said["duty"], said["may"]) == ("desk", ["nothing", "session", "look", "issue", "help"])
    chief = await house.signed_in()
    found = await people(chief)
    assert (found["mirela"]["duty"], found["mirela"]["waits"], found["mirela"]["sessions"]) == (
        "desk",
        False,
        1,
    )
    assert found[site.STAFF_NAME]["is_you"]
    assert "gatehouse added mirela as front desk staff" in [
        line["text"] for line in (await chief.get("/api/log")).json()
    ]


@pytest.mark.parametrize("name", ["Gatehouse", "gatehouse ", " GATEHOUSE"])
async def test_a_name_is_somebodys_alone(house: House, name: str) -> None:
    answer = await (await house.signed_in()).post("/api/people", json={"name": name, "duty": "desk"})
    assert (answer.status_code, answer.json()["code"], answer.json()["field"]) == (
        422,
        "person_taken",
        "name",
    )


async def test_another_duty_counts_from_the_next_request_on(house: House) -> None:
    browser, chief = await signed_in_as(house, Duty.DESK), await house.signed_in()
    one = (await people(chief))["mirela"]["id"]
    assert (await browser.get("/api/networks")).status_code == 403
    assert (await chief.put(f"/api/people/{one}", json={"duty": "auditor"})).json()["duty"] == "auditor"
    assert (await browser.get("/api/networks")).status_code == 200
    refused = await browser.post("/api/passes", json={})
    assert (refused.status_code, refused.json()["detail"]) == (
        403,
        "Auditors see everything and change nothing.",
    )
    said = [line["text"] for line in (await chief.get("/api/log")).json()]
    assert "gatehouse made mirela an auditor, before front desk staff" in said


@pytest.mark.parametrize("how", ["remove", "sign out", "first password"])
async def test_whoever_is_sent_off_is_out_at_once_and_their_live_view_too(house: House, how: str) -> None:
    browser, chief = await signed_in_as(house, Duty.DESK), await house.signed_in()
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
    may_again = await house.browser().post("/api/session", json={"name": "mirela", "password": OWN})
    assert may_again.status_code == (200 if how == "sign out" else 422)


async def test_what_somebody_did_keeps_their_name_and_they_may_come_back(house: House) -> None:
    browser, chief = await signed_in_as(house, Duty.DESK), await house.signed_in()
    made = await browser.post("/api/passes", json={"plan": 1, "label": "Ines"})
    assert made.status_code == 201, made.text
    one = (await people(chief))["mirela"]["id"]
    await chief.delete(f"/api/people/{one}")
    assert "mirela" not in await people(chief)
    assert (await chief.get("/api/desk")).json()["batches"][0]["issued_by"] == "mirela"
    back = await chief.post("/api/people", json={"name": "mirela", "duty": "auditor"})
    assert (back.json()["person"]["id"], back.json()["person"]["duty"]) == (one, "auditor")


async def test_somebody_who_can_set_up_the_house_must_stay(house: House) -> None:
    chief = await house.signed_in()
    me = f"/api/people/{(await people(chief))[site.STAFF_NAME]['id']}"
    for answer in (await chief.put(me, json={"duty": "desk"}), await chief.delete(me)):
        assert (answer.status_code, answer.json()["code"]) == (422, "last_administrator")
    await signed_in_as(house, Duty.ADMINISTRATOR)
    assert (await chief.put(me, json={"duty": "desk"})).status_code == 200
    assert (await chief.post("/api/people", json={"name": "x", "duty": "desk"})).status_code == 403
