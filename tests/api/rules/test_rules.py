"""Plans and rules by screen: said before they are saved, in force at once, and undone."""

from typing import Any

import httpx
import pytest

from lauschen.core.decide.standing import State
from tests.garden import Garden

STUDENT, VISITOR, DOOR = 4, 2, 1
PLAN = {"name": "Concert evening", "seconds": 4 * 3600, "devices": 2, "down_bps": 5_000_000}


async def placement(staff: httpx.AsyncClient) -> dict[str, Any]:
    found: dict[str, Any] = (await staff.get("/api/rules")).json()
    return found


async def test_a_plan_is_said_before_it_is_saved_and_whom_it_touches(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    said = (await staff.post("/api/plans/words", json=PLAN)).json()
    assert said["sentence"] == "On 2 devices for 4 h from first use, at up to 5 Mbit/s down."
    assert said["touches"] is None
    assert (
        said["ignored"][0]
        == "Garden controller has no attribute for a rate, so its access devices keep none."
    )
    (code, _) = await garden.demo.issue("Day visit", 2)
    await garden.let_in(garden.guests[0], code)
    day = {"name": "Day visit", "seconds": 600, "devices": 1}
    said = (await staff.post("/api/plans/words?plan=1", json=day)).json()
    assert said["touches"] == (
        "One device is in by it and has the new limits within seconds;"
        " one voucher that nobody used yet will have them."
    )
    assert (await staff.put("/api/plans/1", json=day)).json()[
        "sentence"
    ] == "On one device, for 10 min from first use."
    garden.clock.advance(600 + 15)
    await garden.until_state(garden.guests[0], State.HELD)


async def test_a_removed_plan_can_be_chosen_no_more_and_what_was_issued_with_it_goes_on(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    (code,) = await garden.demo.issue("Postcard", 1)
    await garden.let_in(garden.guests[0], code)
    assert (await staff.delete("/api/plans/3")).json()["detail"] == "A way in on Ensemble gives it."
    assert (await staff.delete("/api/plans/2")).status_code == 204
    assert [plan["name"] for plan in (await placement(staff))["plans"]] == [
        "Day visit",
        "Intermission",
        "Course week",
        "Season",
    ]
    assert [plan["name"] for plan in (await staff.get("/api/desk")).json()["plans"]] == [
        "Day visit",
        "Intermission",
        "Course week",
        "Season",
    ]
    refused = await staff.post("/api/batches", json={"plan": 2, "count": 1})
    assert refused.json()["code"] == "plan_unknown"
    assert (await staff.delete("/api/plans/2")).status_code == 404
    again = await staff.post("/api/plans", json={**PLAN, "name": "Postcard"})  # its name is free
    assert again.status_code == 201
    (guest,) = [g for g in (await staff.get("/api/guests")).json()["rows"] if g["state"] == "inside"]
    assert guest["plan"] == "Postcard"
    taken = await staff.post("/api/plans", json={**PLAN, "name": "Day visit"})
    assert (taken.status_code, taken.json()["field"]) == (422, "name")


async def test_a_removal_is_taken_back_unless_its_name_is_another_ones_by_now(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    assert (await staff.delete("/api/plans/2")).status_code == 204
    back = await staff.post("/api/plans/2/restore")
    assert (back.status_code, back.json()["name"]) == (200, "Postcard")
    assert "Postcard" in [plan["name"] for plan in (await staff.get("/api/desk")).json()["plans"]]
    assert (await staff.post("/api/batches", json={"plan": 2, "count": 1})).status_code == 201
    record = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert "gatehouse restored the plan Postcard" in record
    assert (await staff.post("/api/plans/2/restore")).status_code == 200  # pressed twice
    assert (await staff.post("/api/plans/99/restore")).status_code == 404
    await staff.delete("/api/plans/2")
    await staff.post("/api/plans", json={**PLAN, "name": "Postcard"})
    refused = await staff.post("/api/plans/2/restore")
    assert (refused.status_code, refused.json()["field"]) == (422, "name")


async def test_rules_are_ordered_told_apart_and_move_who_is_inside(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    (code,) = await garden.demo.issue("Day visit", 1)
    guest = garden.guests[0]
    await garden.let_in(guest, code)
    first, second, *_ = (await placement(staff))["rules"]
    assert first["sentence"] == "On Garden, in by voucher: Visitor"
    wide = {"network": None, "way_in": None, "plan": None, "role": STUDENT}
    saved = await staff.put("/api/rules", json={"rules": [wide, first_of(first), first_of(second)]})
    rules = saved.json()["rules"]
    assert [rule["sentence"] for rule in rules] == [
        "Everybody: Student", "On Garden, in by voucher: Visitor", "On Ensemble, in by click-through: Student",
    ]  # fmt: skip
    assert rules[1]["never"] == "never matches: rule 1 catches everything before it"
    assert [rule["id"] for rule in rules[1:]] == [first["id"], second["id"]]  # the log names them
    garden.clock.advance(15)
    await garden.until_filter(guest, "student")
    said = (await staff.get("/api/log")).json()
    assert any("as Student" in line["text"] and "rule 1" in line["text"] for line in said)


async def test_the_last_rule_always_matches_and_may_leave_everybody_at_the_door(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    assert (await staff.put("/api/rules", json={"rules": [], "last_role": VISITOR})).status_code == 200
    (code, other) = await garden.demo.issue("Day visit", 2)
    await garden.let_in(garden.guests[0], code)
    said = (await staff.get("/api/log")).json()
    traces = [step for line in said for step in line["steps"]]
    assert ["placement", "none of 0 rules matches; the last one places everybody as Visitor"] in traces
    late = garden.guests[1]
    await garden.point.join(late.phone)
    await late.open()
    assert (await staff.put("/api/rules", json={"rules": []})).status_code == 200
    await late.type_code(other)  # on the page that still had its field
    assert "is not set up for it yet" in late.html
    await late.open(late.url)
    assert late.heading == "Wi-Fi access is not available right now"
    attention = (await staff.get("/api/now")).json()["attention"]
    (told,) = [one for one in attention if one["text"].startswith("Garden:")]
    assert (told["grave"], "no rule places whoever gets in by voucher" in told["text"]) == (True, True)


@pytest.mark.parametrize(
    ("wrong", "field"),
    [
        ({"rules": [{"role": DOOR}]}, "rules"),
        ({"rules": [{"role": 99}]}, "rules"),
        ({"rules": [{"role": VISITOR, "network": 99}]}, "rules"),
        ({"rules": [{"role": VISITOR, "plan": 99}]}, "rules"),
        ({"rules": [], "last_role": DOOR}, "rules"),
        ({"rules": [{"role": VISITOR, "way_in": "magic"}]}, "rules.0.way_in"),
    ],
)
async def test_what_no_rule_can_be_is_said(
    staff: httpx.AsyncClient, wrong: dict[str, Any], field: str
) -> None:
    before = (await placement(staff))["rules"]
    answer = await staff.put("/api/rules", json=wrong)
    assert (answer.status_code, answer.json()["field"]) == (422, field)
    assert (await staff.put("/api/rules", json={"rules": [{"id": 77, "role": VISITOR}]})).status_code == 404
    assert (await placement(staff))["rules"] == before


@pytest.mark.parametrize(
    "wrong",
    [
        {"name": "", "seconds": 60}, {"name": "x", "seconds": 0}, {"name": "x", "devices": 0},
        {"name": "x", "octets": 2**63}, {"name": "x", "down_bps": 1}, {"name": "x", "seconds": "soon"},
    ],
)  # fmt: skip
async def test_what_no_plan_can_be_is_said(staff: httpx.AsyncClient, wrong: dict[str, Any]) -> None:
    assert (await staff.post("/api/plans", json=wrong)).status_code == 422
    assert len((await placement(staff))["plans"]) == 5


def first_of(rule: dict[str, Any]) -> dict[str, Any]:
    return {key: rule[key] for key in ("id", "network", "way_in", "plan", "role")}
