"""Passcodes in Paths and on Desk: what would be, what is good now, and what is done by hand."""

import httpx
import pytest

from tests.garden import Garden

PASSCODE = {"way": "passcode", "plan": 1}


async def test_what_it_amounts_to_is_said_while_it_is_set(staff: httpx.AsyncClient) -> None:
    said = (await staff.post("/api/passcodes/words", json=PASSCODE)).json()
    assert said["changes"] == "a new one each day at 05:00"
    assert "a chance of 1 in 328; ten devices with 1 in 32." in said["chance"]
    weekly = {
        **PASSCODE,
        "schedule": "weekly",
        "weekday": 6,
        "at_minute": 1439,
        "signs": "letters",
        "length": 12,
    }
    said = (await staff.post("/api/passcodes/words", json=weekly)).json()
    assert said["changes"] == "a new one each Sunday at 23:59"
    fixed = (await staff.post("/api/passcodes/words", json={**PASSCODE, "schedule": "never"})).json()
    assert fixed["chance"].startswith("A fixed one has no end")
    for wrong in ({"length": 3}, {"length": 13}, {"at_minute": 1440}, {"every_hours": 13}, {"schedule": "x"}):
        assert (await staff.post("/api/passcodes/words", json={**PASSCODE, **wrong})).status_code == 422


async def test_it_stands_on_desk_and_is_renewed_and_ended_by_hand(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    async def told() -> list[tuple[str, str, bool]]:
        desk = (await staff.get("/api/desk")).json()
        found = [(one["network"], one["code"], one["is_former"]) for one in desk["passcodes"]]
        return [one for one in found if one[0] == "Garden"]

    assert await told() == []
    assert (await staff.post("/api/networks/1/passcode", json={})).status_code == 404
    saved = await staff.put("/api/networks/1/ways", json={"ways": [{"way": "voucher"}, PASSCODE]})
    assert saved.json()["ways"][1]["overlap_minutes"] == 60
    # In the hour after it has changed, yesterday's stands there too.
    ((network, code, _),) = [one for one in await told() if not one[2]]
    assert (network, len(code), code.isdecimal()) == ("Garden", 6, True)
    lines = [line for stage in saved.json()["stages"] for line in stage["lines"]]
    assert "for the passcode: Day visit, a new one each day at 05:00" in lines
    assert "no rule places whoever gets in by passcode" in lines
    now = (await staff.get("/api/now")).json()
    assert "Garden: no rule places whoever gets in by passcode." in [a["text"] for a in now["attention"]]
    assert (await staff.post("/api/networks/1/passcode", json={"text": "viola d'amore"})).status_code == 200
    assert await told() == [("Garden", "viola d'amore", False), ("Garden", code, True)]
    assert (await staff.post("/api/networks/1/passcode/end-overlap")).status_code == 200
    assert await told() == [("Garden", "viola d'amore", False)]
    refused = await staff.post("/api/networks/1/passcode", json={"text": "abc"})
    assert (refused.status_code, refused.json()["field"]) == (422, "text")
    wrong = await staff.put(
        "/api/networks/1/ways", json={"ways": [{**PASSCODE, "schedule": "hourly", "every_hours": 5}]}
    )
    assert (wrong.status_code, wrong.json()["field"]) == (422, "ways")
    off = await staff.put("/api/networks/1/ways", json={"ways": [{"way": "voucher", "is_off": True}]})
    lines = [line for stage in off.json()["stages"] for line in stage["lines"]]
    assert "voucher is switched off for now" in lines
    assert "for a voucher code" not in lines
    texts = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert "gatehouse set a new passcode for Garden" in texts
    assert "gatehouse stopped the old passcode of Garden" in texts
    assert not any("viola" in text for text in texts)


@pytest.mark.parametrize("path", ["/api/networks/1", "/api/networks/1/ways", "/api/networks"])
@pytest.mark.parametrize(
    ("ways", "code"),
    [
        ([{**PASSCODE, "schedule": "hourly", "every_hours": 7}], "passcode_hours"),
        ([{"way": "voucher"}, {"way": "passphrase"}], "passphrase_alone"),
        ([{"way": "sponsor", "plan": 1, "fields": []}], "fields"),
    ],
)
async def test_ways_in_are_checked_wherever_they_are_set(
    garden: Garden, staff: httpx.AsyncClient, path: str, ways: list[dict[str, object]], code: str
) -> None:
    network = (await staff.get("/api/networks")).json()["networks"][0]
    known = {key: network[key] for key in ("name", "door_role", "ssid")}
    if path == "/api/networks":
        known = {**known, "name": "New", "ssid": {"match": "exact", "value": "New"}}
    wish = {"ways": ways} if path.endswith("ways") else {**known, "ways": ways}
    answer = await (staff.post if path == "/api/networks" else staff.put)(path, json=wish)
    assert (answer.status_code, answer.json()["code"]) == (422, code), answer.text
    after = (await staff.get("/api/networks")).json()["networks"]
    assert ([one["name"] for one in after], after[0]["ways"]) == (
        ["Garden", "Ensemble", "Practice wall ports", "Cloister"], network["ways"],
    )  # fmt: skip


async def test_two_networks_never_write_one_file(garden: Garden, staff: httpx.AsyncClient) -> None:
    """Each would overwrite the other's passphrases with its own, and the residents of one were locked out."""
    way = {
        "way": "passphrase",
        "files": [{"access_device": 1, "file": "cloister.psk", "interface": "wlan0"}],
    }
    others = [
        one for one in (await staff.get("/api/networks")).json()["networks"] if one["name"] == "Cloister"
    ]
    cloister = f"/api/networks/{others[0]['id']}/ways"
    assert (await staff.put(cloister, json={"ways": [way]})).status_code == 200
    assert (await staff.put(cloister, json={"ways": [way]})).status_code == 200  # its own is no other's
    refused = await staff.put("/api/networks/1/ways", json={"ways": [way]})
    assert (refused.status_code, refused.json()["code"]) == (422, "key_files")
    assert "cloister.psk is the file of Cloister already" in refused.text
