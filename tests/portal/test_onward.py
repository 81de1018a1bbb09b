"""After login: to where the guest was going, nowhere, or to an address of the house, and by itself only there."""

from typing import Any

import httpx
import pytest

from tests.garden import Garden, Guest

WELCOME = "https://house.example/welcome?from=wifi"


async def set_onward(staff: httpx.AsyncClient, onward: str | None) -> httpx.Response:
    network = (await staff.get("/api/networks")).json()["networks"][0]
    kept: dict[str, Any] = {key: network[key] for key in ("name", "door_role", "ssid")}
    return await staff.put("/api/networks/1", json={**kept, "onward": onward})


async def log_in(garden: Garden, staff: httpx.AsyncClient) -> tuple[Guest, httpx.Response]:
    batch = (await staff.post("/api/batches", json={"plan": 1, "count": 1})).json()
    guest = garden.guests[0]
    await garden.let_in(guest, batch["issued"][0]["code"])
    return guest, await guest.open(guest.url)


async def test_as_a_rule_a_button_leads_on_and_nothing_by_itself(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    guest, answer = await log_in(garden, staff)
    assert "Continue to score-of-the-day.example" in guest.html
    assert "Refresh" not in answer.headers


async def test_to_a_fixed_address_it_leads_by_itself_just_after_login(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    saved = await set_onward(staff, WELCOME)
    stays = next(stage["lines"] for stage in saved.json()["stages"] if stage["name"] == "Stays")
    assert stays[0] == "after login: on to house.example"
    guest, answer = await log_in(garden, staff)
    assert answer.headers["Refresh"] == f"3;url={WELCOME}"
    assert "Continue to house.example" in guest.html
    garden.clock.advance(60)
    again = await guest.open(guest.url)
    assert "Refresh" not in again.headers  # whoever comes back to look is left in peace


async def test_or_the_status_page_stays(garden: Garden, staff: httpx.AsyncClient) -> None:
    await set_onward(staff, "status")
    await set_onward(staff, None)  # something else was changed
    guest, answer = await log_in(garden, staff)
    assert "Continue to" not in guest.html
    assert "Refresh" not in answer.headers


@pytest.mark.parametrize(
    "onward",
    ["house.example", "javascript:alert(1)", "https://a\\@b.example/", "https://a@b.example/", "ftp://house.example/",
     "https://house.example/\r\nX: y", "https://", "https://house.example/ x"],
)  # fmt: skip
async def test_what_browsers_might_read_otherwise_is_refused(
    garden: Garden, staff: httpx.AsyncClient, onward: str
) -> None:
    refused = await set_onward(staff, onward)
    assert (refused.status_code, refused.json()["field"]) == (422, "onward")
