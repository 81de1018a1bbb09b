"""Who is let in always, over HTTP: one by one and as a list, where no line is lost and none is a formula."""

import csv
import io
from typing import Any

import httpx
import pytest

from lauschen.api import taking
from tests.garden import Garden

TILL = {"name": "Till at the gate", "mac": "02:00:00:aa:bb:01"}


async def listed(staff: httpx.AsyncClient) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = (await staff.get("/api/networks")).json()["trusted"]
    return found


async def take(staff: httpx.AsyncClient, text: str) -> dict[str, Any]:
    answer = await staff.post("/api/trusted/lines", json={"text": text})
    assert answer.status_code == 200, answer.text
    taken: dict[str, Any] = answer.json()
    return taken


async def test_one_is_added_changed_and_let_go(garden: Garden, staff: httpx.AsyncClient) -> None:
    made = (await staff.post("/api/trusted", json=TILL)).json()
    assert (made["what"], made["role_name"]) == ("02-00-00-AA-BB-01", None)
    changed = await staff.put(f"/api/trusted/{made['id']}", json={**TILL, "name": "Till", "role": 4})
    assert (changed.json()["name"], changed.json()["role_name"]) == ("Till", "Student")
    assert [one["name"] for one in await listed(staff)] == ["Till"]
    assert (await staff.delete(f"/api/trusted/{made['id']}")).status_code == 204
    assert await listed(staff) == []
    assert (await staff.delete(f"/api/trusted/{made['id']}")).status_code == 404


async def test_ports_and_access_devices_say_what_they_are(garden: Garden, staff: httpx.AsyncClient) -> None:
    for more in ({"port": "ge-0/0/7"}, {}):
        await staff.post("/api/trusted", json={"name": "Stage", "access_device": 1, **more})
    assert [one["what"] for one in await listed(staff)] == [
        "port ge-0/0/7 of Garden west",
        "everything at Garden west",
    ]
    refused = await staff.delete("/api/access-devices/1")
    assert refused.json()["code"] == "access_device_in_use"


async def test_a_guest_page_never_shows_it_and_the_network_says_what_is_missing(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    plan = (await staff.post("/api/plans", json={"name": "House"})).json()["id"]
    answer = await staff.put(
        "/api/networks/1/ways", json={"ways": [{"way": "always", "plan": plan}, {"way": "voucher"}]}
    )
    asked = next(stage["lines"] for stage in answer.json()["stages"] if stage["name"] == "Is asked")
    assert asked[0] == "nobody is let in always yet: the list is empty"
    guest = garden.guests[0]
    await garden.point.join(guest.phone)
    await guest.open()
    assert guest.heading == "Welcome. Enter your code to get online."
    await staff.post("/api/trusted", json={"name": "Harp tuner", "mac": f"{guest.phone.mac:012x}", "role": 2})
    garden.clock.advance(15)
    await garden.until_filter(guest, "visitor")
    shown = [one for one in (await staff.get("/api/guests")).json()["rows"] if one["state"] == "inside"]
    assert [one["name"] for one in shown] == ["Harp tuner"]


async def test_good_lines_are_taken_and_bad_ones_come_back_with_their_reason(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    text = "\n".join(
        [
            "name,mac,role",
            "Till, 02-00-00-AA-BB-01, Student",
            "",
            '"Stand, first violin"; 0200.00aa.bb02;',
            "Printer\t020000AABB03",
            "No address, none, Student",
            "No role, 02-00-00-AA-BB-04, Emperor",
            "Door, 02-00-00-AA-BB-05, Before login",
            ", 02-00-00-AA-BB-06",
            "Too, many, cells, here",
            "Alone",
            "Group, 01-00-5E-00-00-01",
        ]
    )
    taken = await take(staff, text)
    assert (taken["added"], taken["changed"]) == (3, 0)
    assert [(bad["number"], bad["why"]) for bad in taken["bad"]] == [
        (6, "none is no MAC address."),
        (7, "There is no role Emperor."),
        (8, "A role for guests who are let in."),
        (9, "A name of up to 60 letters."),
        (10, "Name, MAC address and, if you like, a role."),
        (11, "Name, MAC address and, if you like, a role."),
        (12, "The address of one device: this one is a group's."),
    ]
    assert [one["name"] for one in await listed(staff)] == ["Till", "Stand, first violin", "Printer"]
    said = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert sum("to the devices that are always let in" in text for text in said) == 3
    again = await take(staff, "Till two, 02-00-00-AA-BB-01, Visitor")
    assert (again["added"], again["changed"], again["bad"]) == (0, 1, [])
    assert (await listed(staff))[0]["role_name"] == "Visitor"


async def test_a_device_that_stands_twice_in_a_list_is_taken_once_and_said(
    garden: Garden, staff: httpx.AsyncClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(taking, "AT_ONCE", 2)
    lines = [
        "Kiosk, 02-00-00-AA-BB-01, Visitor",
        "Kiosk, 0200.00aa.bb01, Student",
        "Kiosk, 02:00:00:aa:bb:01",
    ]
    taken = await take(staff, "\n".join(lines))
    assert (taken["added"], taken["changed"]) == (1, 0)
    assert [(bad["number"], bad["why"]) for bad in taken["bad"]] == [
        (2, "02-00-00-AA-BB-01 stands in line 1 already."),
        (3, "02-00-00-AA-BB-01 stands in line 1 already."),
    ]
    assert [one["role_name"] for one in await listed(staff)] == ["Visitor"]


@pytest.mark.parametrize("name", ["=1+1", "+Till", "-Till", "@Till", "Till\u202e<b>", 'A "quoted", name'])
async def test_what_goes_out_is_no_formula_and_comes_back_the_same(
    garden: Garden, staff: httpx.AsyncClient, name: str
) -> None:
    made = (await staff.post("/api/trusted", json={"name": name, "mac": TILL["mac"]})).json()
    text = (await staff.get("/api/trusted.csv")).text
    cell = list(csv.reader(io.StringIO(text)))[1][0]
    assert cell[0] not in "=+-@"
    await staff.delete(f"/api/trusted/{made['id']}")
    assert (await take(staff, text))["bad"] == []
    assert [one.name for one in garden.road.config.trusted] == [name]


async def test_long_lists_go_in_parts_and_too_long_ones_not_at_all(
    garden: Garden, staff: httpx.AsyncClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    lines = [f"Stand {n}, 0200000000{n:02X}" for n in range(250)]
    assert (await take(staff, "\n".join(lines)))["added"] == 250
    monkeypatch.setattr(taking, "MOST_LINES", 249)
    refused = await staff.post("/api/trusted/lines", json={"text": "\n".join(lines)})
    assert (refused.status_code, refused.json()["code"]) == (422, "lines_many")
