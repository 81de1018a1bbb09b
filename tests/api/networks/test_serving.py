"""Which access devices serve which networks, said at either of them; and what Now says where that is missing."""

from typing import Any

import httpx

from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.numbers import Code
from lauschen.radius.wire.signing import Secret
from tests.api.networks.test_networks import body, networks
from tests.garden import Garden
from tests.radius.packets import Wire

WEST, BARN = 1, 2


def network_in(shown: dict[str, Any], name: str = "Garden") -> dict[str, Any]:
    found = next(one for one in shown["networks"] if one["name"] == name)
    return {
        key: found[key] for key in ("name", "door_role", "ssid", "nas_identifier", "port_id", "served_by")
    }


async def serves(staff: httpx.AsyncClient) -> dict[str, list[int]]:
    return {one["name"]: one["serves"] for one in (await networks(staff))["devices"]}


async def attention(staff: httpx.AsyncClient, kind: str) -> list[str]:
    found = (await staff.get("/api/now")).json()["attention"]
    return [one["text"] for one in found if one["kind"] == kind]


async def test_the_list_is_one_whether_it_is_changed_here_or_there(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    before = network_in(await networks(staff))
    assert before["served_by"] == [WEST, BARN]
    answer = await staff.put("/api/networks/1", json={**before, "served_by": [BARN, 3]})
    assert answer.json()["served_by"] == [BARN, 3]
    said = next(line for line in answer.json()["stages"][0]["lines"] if "served" in line)
    assert said == "served by Concert barn and Practice house"
    assert await serves(staff) == {
        "Garden west": [], "Concert barn": [1], "Practice house": [1, 2], "Practice switch": [3],
        "Cloister east": [4], "Cloister attic": [4],
    }  # fmt: skip
    assert await attention(staff, "serves_none") == [
        "Garden west serves no network, so nobody gets in there."
    ]
    # Not said, it stays.
    del before["served_by"]
    answer = await staff.put("/api/networks/1", json=before)
    assert answer.json()["served_by"] == [BARN, 3]
    west = next(one for one in (await networks(staff))["devices"] if one["name"] == "Garden west")
    wish = {key: west[key] for key in ("name", "address", "dialect", "coa_port")}
    answer = await staff.put(f"/api/access-devices/{WEST}", json={**wish, "serves": [1, 4]})
    assert answer.json()["serves"] == [1, 4]
    assert network_in(await networks(staff), "Cloister")["served_by"] == [WEST, 5, 6]
    lines = (await staff.get("/api/activity")).text
    assert "serves" in lines
    assert "Garden, Cloister" in lines or "Cloister, Garden" in lines
    for address, more, field in (
        (f"/api/access-devices/{WEST}", {**wish, "serves": [99]}, "serves"),
        ("/api/networks/1", {**before, "served_by": [99]}, "served_by"),
    ):
        answer = await staff.put(address, json=more)
        assert (answer.status_code, answer.json()["field"]) == (422, field)
    assert network_in(await networks(staff))["served_by"] == [WEST, BARN, 3]


async def test_who_asks_for_a_network_that_it_does_not_serve_is_refused_and_named(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    wire, port = Wire("127.77.0.13"), garden.demo.service.ports["auth"]
    secret = Secret(b"hollerau-stand-in-secret")
    for number in (1, 2):
        answer = await wire.exchange(secret.access_request(number, bytes(16), body()), port)
        assert parse(answer).code == Code.ACCESS_REJECT
    wire.close()
    (text,) = await attention(staff, "not_served")
    assert text.startswith("Practice house asked 2 times for Garden, last ")
    assert text.endswith("and is not listed for it.")
    line = (await staff.get("/api/log")).json()[0]["text"]
    assert line.endswith("refused, the access device is not listed for this network")
    answer = await staff.put(
        "/api/networks/1", json={**network_in(await networks(staff)), "served_by": [1, 2, 3]}
    )
    assert answer.status_code == 200
    assert await attention(staff, "not_served") == []


async def test_a_new_network_is_served_by_whom_it_names(garden: Garden, staff: httpx.AsyncClient) -> None:
    wish = {"name": "Boat house", "door_role": 1, "ssid": {"match": "exact", "value": "Boats"}}
    made = (await staff.post("/api/networks", json=wish)).json()
    assert made["served_by"] == []
    assert "served by no access device yet: nobody gets in" in made["stages"][0]["lines"]
    wish = {"name": "Pier", "door_role": 1, "access_device": BARN, "served_by": [WEST]}
    made = (await staff.post("/api/networks", json=wish)).json()
    assert made["served_by"] == [WEST, BARN]
    assert (await staff.delete(f"/api/networks/{made['id']}")).status_code == 204
    assert (await serves(staff))["Concert barn"] == [1]
