"""A house with more of everything than anybody looks at: it says how many, and where it ends."""

import asyncio
from typing import Any

import httpx
import pytest

from lauschen.api.slices import in_slices
from lauschen.core.config import checks
from tests.garden import Garden

CALL: dict[str, Any] = {"name": "One more"}


async def test_a_stage_names_a_few_plans_and_rules_and_says_how_many_more(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    for number in range(12):
        await staff.post("/api/plans", json={"name": f"Plan {number}", "devices": 1})
    placement = (await staff.get("/api/rules")).json()
    role = placement["roles"][0]["id"]
    rules = [{"role": role, "plan": plan["id"]} for plan in placement["plans"][:9]]
    answer = await staff.put("/api/rules", json={"rules": rules, "last_role": None})
    assert answer.status_code == 200, answer.text
    network = (await staff.get("/api/networks")).json()["networks"][0]
    said = {stage["name"]: stage["lines"] for stage in network["stages"]}
    count = len(placement["plans"])
    assert len(said["Stays"]) == 8
    assert said["Stays"][-1] == f"and {count - 7} more plans"
    assert said["Is placed"][-1] == "and 2 more rules"
    assert said["Is placed"][-2].startswith("rule 7,")


@pytest.mark.parametrize(
    ("kind", "where", "more"),
    [
        ("plan", "/api/plans", {"devices": 1}),
        ("role", "/api/roles", {"vlan": 7}),
        ("network", "/api/networks", {"ssid": {"match": "exact", "value": "One more"}}),
        (
            "access_device",
            "/api/access-devices",
            {"address": "10.77.9.9", "secret": "correct horse", "serves": []},
        ),
    ],
)
async def test_a_house_that_is_full_says_so_and_takes_nothing(
    garden: Garden,
    staff: httpx.AsyncClient,
    monkeypatch: pytest.MonkeyPatch,
    kind: str,
    where: str,
    more: dict[str, Any],
) -> None:
    house = garden.road.config
    there = {
        "plan": len(house.offered_plans),
        "role": len(house.roles),
        "network": len(house.networks),
        "access_device": len(house.access_devices),
    }[kind]
    filled = {"door_role": next(r.id for r in house.roles.values() if r.is_door)} if kind == "network" else {}
    if kind == "access_device":
        filled = {"dialect": next(iter(house.dialects))}
    monkeypatch.setitem(checks.MOST, kind, there)
    refused = await staff.post(where, json={**CALL, **more, **filled})
    assert (refused.status_code, refused.json()["code"]) == (422, f"{kind}_many"), refused.text
    monkeypatch.setitem(checks.MOST, kind, there + 1)
    taken = await staff.post(where, json={**CALL, **more, **filled})
    assert taken.status_code == 201, taken.text


async def test_the_loop_goes_on_between_the_slices() -> None:
    seen: list[int] = []
    shaped: list[int] = []

    async def other() -> None:
        while len(shaped) < 60:
            seen.append(len(shaped))
            await asyncio.sleep(0)

    def shape(item: int) -> int:
        shaped.append(item)
        return item

    task = asyncio.ensure_future(other())
    assert await in_slices(range(60), shape) == list(range(60))
    await task
    assert {25, 50} <= set(seen)
