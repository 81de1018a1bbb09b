"""What one of the desk may give: at every way of giving, at once when it changes, and what is not for their eyes."""

from datetime import datetime
from zoneinfo import ZoneInfo

import httpx
import pytest

from lauschen.core.people.duties import Duty
from lauschen.demo import site
from tests.api.door.test_sign_in import House, house
from tests.api.people.test_people import people, signed_in_as

__all__ = ["house"]
DAY_VISIT, POSTCARD, COURSE_WEEK = 1, 2, 4
GARDEN, ENSEMBLE = 1, 2
HOUR, DAY = 3600, 86_400


async def bound(house: House, **limits: object) -> httpx.AsyncClient:
    """One of the desk within these."""
    browser, chief = await signed_in_as(house, Duty.DESK), await house.signed_in()
    one = (await people(chief))["mirela"]["id"]
    answer = await chief.put(f"/api/people/{one}", json={"duty": "desk", "limits": limits})
    assert answer.status_code == 200, answer.text
    return browser


@pytest.mark.parametrize(
    ("limits", "wish", "field"),
    [
        ({"plans": [DAY_VISIT]}, {"plan": POSTCARD}, "plan"),
        ({"networks": [GARDEN]}, {"plan": DAY_VISIT}, "network"),
        ({"networks": [GARDEN]}, {"plan": DAY_VISIT, "network": ENSEMBLE}, "network"),
        ({"most_at_once": 5}, {"plan": DAY_VISIT, "count": 6}, "count"),
        ({"most_devices": 2}, {"plan": DAY_VISIT, "devices": 3}, "devices"),
        ({"most_devices": 2}, {"plan": DAY_VISIT, "seats": "any"}, "devices"),
        ({"most_devices": 2}, {"plan": COURSE_WEEK}, "devices"),
        ({"longest_minutes": 60}, {"plan": DAY_VISIT}, "until"),
        ({"longest_minutes": 60}, {"plan": DAY_VISIT, "seconds": 2 * HOUR}, "until"),
    ],
)
async def test_what_is_not_theirs_is_refused_at_its_field(
    house: House, limits: dict[str, object], wish: dict[str, object], field: str
) -> None:
    browser = await bound(house, **limits)
    for path in ("/api/batches", "/api/batches/job"):
        answer = await browser.post(path, json={"count": 1, **wish})
        assert (answer.status_code, answer.json()["field"]) == (422, field), path
    if "count" not in wish:
        answer = await browser.post("/api/passes", json={"label": "Ines", **wish})
        assert (answer.status_code, answer.json()["field"]) == (422, field)
    assert (await browser.get("/api/desk")).json()["batches"] == []


async def test_within_them_everything_goes_and_the_desk_says_what_they_are(house: House) -> None:
    limits = {"plans": [DAY_VISIT], "networks": [GARDEN], "longest_minutes": 600, "most_at_once": 5}
    browser = await bound(house, **limits, most_devices=1)
    wish = {"plan": DAY_VISIT, "network": GARDEN, "count": 5}
    made = await browser.post("/api/batches", json=wish)
    assert made.status_code == 201, made.text
    shown = (await browser.get("/api/desk")).json()
    assert [plan["id"] for plan in shown["plans"]] == [DAY_VISIT]
    assert [network["id"] for network in shown["networks"]] == [GARDEN]
    assert shown["bounds"] == {
        "longest_seconds": 600 * 60, "most_at_once": 5, "most_devices": 1, "needs_network": True,
    }  # fmt: skip
    assert (await browser.get("/api/session")).json()["bounds"] == (
        "On Garden only; Day visit only; for 10 h at most; 5 at once; on one device."
    )


async def test_time_is_given_up_to_the_longest_and_no_further(house: House) -> None:
    browser = await bound(house, longest_minutes=600)
    made = (await browser.post("/api/batches", json={"plan": DAY_VISIT, "count": 1})).json()
    path = f"/api/issued/{made['issued'][0]['id']}/give-time"
    over = await browser.post(path, json={"seconds": 3 * HOUR})
    assert (over.status_code, over.json()["code"]) == (422, "length_not_theirs")
    assert (await browser.post(path, json={"seconds": 2 * HOUR})).status_code == 200
    assert (await browser.post(path, json={"seconds": HOUR})).status_code == 422


async def test_what_others_issued_stays_theirs(house: House) -> None:
    browser, chief = await bound(house, own_only=True), await house.signed_in()
    other = (await chief.post("/api/batches", json={"plan": DAY_VISIT, "count": 1})).json()
    own = (await browser.post("/api/batches", json={"plan": DAY_VISIT, "count": 1})).json()
    code, theirs = other["issued"][0]["code"], f"/api/issued/{other['issued'][0]['id']}"
    for what, body in (
        ("withdraw", None), ("pause", None), ("give-time", {"seconds": HOUR}), ("forget", None),
        ("send", {"channel": "mail", "to": "ines@students.hollerau.example"}),
    ):  # fmt: skip
        answer = await browser.post(f"{theirs}/{what}", json=body)
        assert (answer.status_code, answer.json()["code"]) == (404, "voucher_not_there"), what
    assert code in (await chief.get("/api/desk")).text
    assert [one["id"] for one in (await browser.get("/api/desk")).json()["batches"]] == [own["id"]]
    for path in (f"/api/batches/{other['id']}", f"/api/batches/{other['id']}/slips.pdf", f"{theirs}/qr.svg"):
        assert (await browser.get(path)).status_code == 404
    assert own["issued"][0]["code"] in (await browser.get("/api/desk")).text
    assert (await browser.post(f"/api/issued/{own['issued'][0]['id']}/withdraw")).status_code == 200


async def test_now_says_for_which_network_nobody_of_the_desk_may_issue(house: House) -> None:
    chief = await house.signed_in()

    async def said() -> list[str]:
        found = (await chief.get("/api/now")).json()["attention"]
        return [one["text"] for one in found if one["kind"] == "nobody_issues"]

    assert await said() == []  # nobody works at the desk: the administrator is the desk
    browser = await bound(house, networks=[GARDEN])
    assert "Nobody of the desk may issue for Ensemble: only an administrator can." in await said()
    one = (await people(chief))["mirela"]["id"]
    await chief.put(f"/api/people/{one}", json={"duty": "desk", "limits": {}})
    assert await said() == []
    assert (await browser.get("/api/desk")).status_code == 200


async def test_an_auditor_reads_no_code(house: House) -> None:
    auditor, chief = await signed_in_as(house, Duty.AUDITOR), await house.signed_in()
    made = (await chief.post("/api/passes", json={"plan": DAY_VISIT, "label": "Ines"})).json()
    code = made["issued"][0]["code"]
    shown = (await auditor.get("/api/desk")).json()
    assert shown["batches"][0]["issued"][0]["is_hidden"]
    assert (code in str(shown), shown["passcodes"]) == (False, [])
    assert (await chief.get("/api/desk")).json()["passcodes"] != []


async def test_limits_count_from_the_next_request_on_and_are_in_the_record(house: House) -> None:
    browser = await bound(house)
    assert (await browser.post("/api/batches", json={"plan": POSTCARD, "count": 1})).status_code == 201
    chief = await house.signed_in()
    one = (await people(chief))["mirela"]["id"]
    await chief.put(f"/api/people/{one}", json={"duty": "desk", "limits": {"plans": [DAY_VISIT]}})
    assert (await browser.post("/api/batches", json={"plan": POSTCARD, "count": 1})).status_code == 422
    lines = [line["text"] for line in (await chief.get("/api/activity")).json()]
    assert "gatehouse changed what mirela may give: Day visit only" in lines
    gone = await chief.put(f"/api/people/{one}", json={"duty": "desk", "limits": {"plans": [99]}})
    assert (gone.status_code, gone.json()["field"]) == (422, "plans")


async def test_nothing_beyond_their_limits_is_given_back(house: House) -> None:
    browser, chief = await bound(house, own_only=True, longest_minutes=600), await house.signed_in()
    theirs, own = [
        (await one.post("/api/batches", json={"plan": DAY_VISIT, "count": 1})).json()["issued"][0]["id"]
        for one in (chief, browser)
    ]
    said = {}
    for issued, seconds, until in ((theirs, HOUR, None), (own, 20 * HOUR, None)):
        act = {"what": "shorten", "issued": [issued], "seconds": HOUR}
        (taken,) = (await chief.post("/api/issued/acts", json=act)).json()["taken"]
        claimed = {"issued": issued, "seconds": dict.fromkeys(taken["seconds"], seconds), "until": until}
        back = {"what": "give-back", "issued": [issued], "taken": [claimed]}
        said[issued] = (await browser.post("/api/issued/acts", json=back)).json()["refused"][0]["text"]
    assert said[theirs] == "It may have been removed; load the list again."
    assert said[own] == "You may give 10 h at most."
    until = house.service.clock.now() + 8 * HOUR
    civil = datetime.fromtimestamp(until, ZoneInfo(site.ZONE)).strftime("%Y-%m-%dT%H:%M")
    wish = {"plan": DAY_VISIT, "count": 1, "until": civil}
    ends = (await browser.post("/api/batches", json=wish)).json()["issued"][0]["id"]
    back = {"what": "give-back", "issued": [ends]}
    claimed = {"issued": ends, "seconds": {}, "until": until + 10 * HOUR}
    answer = await browser.post("/api/issued/acts", json={**back, "taken": [claimed]})
    assert answer.json()["refused"][0]["text"] == "You may give 10 h at most."


async def test_a_batch_of_many_says_that_its_codes_are_not_for_their_eyes(house: House) -> None:
    browser, chief = await signed_in_as(house, Duty.AUDITOR), await house.signed_in()
    await chief.post("/api/batches", json={"plan": DAY_VISIT, "count": 3})
    hidden = [
        [one["is_hidden"] for one in (await web.get("/api/desk")).json()["batches"]]
        for web in (browser, chief)
    ]
    assert hidden == [[True], [False]]


async def test_a_passcode_is_for_whose_network_it_is(house: House) -> None:
    chief = await house.signed_in()
    way = {"way": "passcode", "plan": DAY_VISIT}
    ways = await chief.put(f"/api/networks/{ENSEMBLE}/ways", json={"ways": [way]})
    assert ways.status_code == 200, ways.text
    everywhere = {one["network"] for one in (await chief.get("/api/desk")).json()["passcodes"]}
    assert "Ensemble" in everywhere
    for networks, seen in (([], everywhere), ([GARDEN, ENSEMBLE], {"Ensemble"}), ([GARDEN], set())):
        browser = await bound(house, networks=networks)
        assert {one["network"] for one in (await browser.get("/api/desk")).json()["passcodes"]} == seen
        person = (await people(chief))["mirela"]["id"]
        await chief.delete(f"/api/people/{person}")
