"""The list of hosts: kept, changed, taken in as lines, written as CSV."""

from typing import Any

import httpx
import pytest

from tests.garden import Garden

ADA = {"name": "Ada Quist", "mail": "ada.quist@hollerau.example"}


async def names(staff: httpx.AsyncClient) -> list[str]:
    return [host["name"] for host in (await staff.get("/api/hosts")).json()]


async def empty(staff: httpx.AsyncClient) -> None:
    for host in (await staff.get("/api/hosts")).json():
        await staff.delete(f"/api/hosts/{host['id']}")


async def test_kept_changed_and_taken_off(garden: Garden, staff: httpx.AsyncClient) -> None:
    made = (await staff.post("/api/hosts", json={**ADA, "department": "Strings", "networks": [1]})).json()
    assert made["sentence"] == "On Garden: what the way in gives"
    assert "Ada Quist" in await names(staff)
    changed = await staff.put(f"/api/hosts/{made['id']}", json={**ADA, "name": "Ada Q."})
    assert changed.json()["sentence"] == "Everywhere: what the way in gives"
    assert (await staff.delete(f"/api/hosts/{made['id']}")).status_code == 204
    assert "Ada Q." not in await names(staff)
    assert (await staff.put(f"/api/hosts/{made['id']}", json=ADA)).status_code == 404
    log = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert "gatehouse added Ada Quist to the hosts" in log
    assert "gatehouse removed Ada Q. from the hosts" in log


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"mail": "nobody"}, "mail"),
        ({"mail": "ADA.LINDQVIST@hollerau.example"}, "mail"),
        ({"name": "   "}, "name"),
        ({"networks": [99]}, "networks"),
        ({"plans": [99]}, "plans"),
    ],
)
async def test_what_cannot_be(
    garden: Garden, staff: httpx.AsyncClient, change: dict[str, Any], field: str
) -> None:
    answer = await staff.post("/api/hosts", json={**ADA, **change})
    assert (answer.status_code, answer.json()["field"]) == (422, field)


async def test_who_stands_in_for_others_stays_on_the_list(garden: Garden, staff: httpx.AsyncClient) -> None:
    host = (await staff.get("/api/hosts")).json()[0]
    way = {"way": "sponsor", "plan": 1, "fields": [{"key": "name"}], "stand_in": host["id"]}
    assert (await staff.put("/api/networks/1/ways", json={"ways": [way]})).status_code == 200
    answer = await staff.delete(f"/api/hosts/{host['id']}")
    assert answer.status_code == 422
    assert "is asked on Garden when nobody answers" in answer.json()["detail"]


async def test_lines_are_taken_in_and_none_is_lost(garden: Garden, staff: httpx.AsyncClient) -> None:
    await empty(staff)
    text = "\n".join(
        [
            "name,mail,department,language,networks,plans,longest minutes,guests at once",
            "Ada Quist,ada.quist@hollerau.example,Strings,de,Garden|Ensemble,Day visit,120,3",
            "Ben Rosenau;ben@hollerau.example",
            "Cleo;no address",
            "Dana\tdana@hollerau.example\t\t\tNowhere",
            "Ben Again;BEN@hollerau.example",
            "Edo;edo@hollerau.example;;fr",
            "Fay;fay@hollerau.example;;;;;soon",
        ]
    )
    taken = (await staff.post("/api/hosts/lines", json={"text": text})).json()
    assert (taken["added"], taken["changed"]) == (2, 0)
    assert {bad["number"]: bad["why"] for bad in taken["bad"]} == {
        4: "That is no mail address. An email address must have an @-sign.",
        5: "There is no network Nowhere.",
        6: "BEN@hollerau.example stands in line 3 already.",
        7: "fr is no language of ours: en or de.",
        8: "soon is no number from 5 to 527040.",
    }
    again = (await staff.post("/api/hosts/lines", json={"text": "Ada Q;ada.quist@hollerau.example"})).json()
    assert (again["added"], again["changed"]) == (0, 1)
    assert await names(staff) == ["Ada Q", "Ben Rosenau"]


async def test_the_csv_can_be_read_in_again_and_holds_no_formula(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    await empty(staff)
    wanted = {
        "name": "=cmd(), Ada", "mail": "ada@hollerau.example", "department": "+1", "lang": "de",
        "networks": [1, 2], "plans": [1], "longest_minutes": 90, "at_once": 4,
    }  # fmt: skip
    await staff.post("/api/hosts", json=wanted)
    before = (await staff.get("/api/hosts")).json()
    csv = (await staff.get("/api/hosts.csv")).text
    assert "'=cmd()" in csv
    assert "'+1" in csv
    taken = (await staff.post("/api/hosts/lines", json={"text": csv})).json()
    assert (taken["added"], taken["changed"], taken["bad"]) == (0, 1, [])
    assert (await staff.get("/api/hosts")).json() == before
