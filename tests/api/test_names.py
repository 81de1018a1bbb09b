"""Whoever something was issued for is called by name: in lists, in the dossier, in the log of that time."""

import httpx

from lauschen.core.decide.standing import State
from tests.garden import Garden

COURSE_WEEK = 4


async def test_a_pass_names_its_guest_from_the_moment_it_let_the_device_in(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    saved = await staff.put("/api/networks/1/ways", json={"ways": [{"way": "guest_pass"}]})
    assert saved.status_code == 200
    rule = {"network": 1, "way_in": "guest_pass", "plan": None, "role": 2}
    assert (await staff.put("/api/rules", json={"rules": [rule]})).status_code == 200
    wish = {"plan": COURSE_WEEK, "label": "Ines\nHarwood\u202e", "until": "2099-12-04T18:00", "devices": 2}
    batch = (await staff.post("/api/passes", json={**wish, "code": "silver otter 42"})).json()
    assert (batch["label"], batch["way"], batch["issued"][0]["devices"]) == (
        "Ines[000A]Harwood[202E]",
        "guest_pass",
        2,
    )
    guest = garden.guests[0]
    await garden.point.join(guest.phone)
    await guest.open()
    await guest.type_code("Silver-Otter-42")
    await garden.until_state(guest, State.INSIDE)
    (listed,) = [g for g in (await staff.get("/api/guests")).json()["rows"] if g["state"] == "inside"]
    assert listed["name"] == "Ines[000A]Harwood[202E]"
    texts = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert any(text.startswith("Ines[000A]Harwood[202E] at Garden west: placed as") for text in texts)
    assert any(text.startswith("Device ..") and "opened the page" in text for text in texts)  # not yet known
    dossier = (await staff.get(garden.path(guest))).json()
    assert dossier["guest"]["issued"]["code"] == "silver otter 42"
    assert not any("Harwood" in line["text"] for line in dossier["log"])
    assert any(line["text"].startswith("At Garden west: placed as") for line in dossier["log"])
    qr = await staff.get(f"/api/issued/{batch['issued'][0]['id']}/qr.svg")
    assert qr.status_code == 200
    sheet = await staff.get(f"/api/batches/{batch['id']}/slips.pdf")
    assert sheet.content.startswith(b"%PDF")


async def test_what_no_pass_can_be_is_said_at_its_field(staff: httpx.AsyncClient) -> None:
    good = {"plan": COURSE_WEEK, "label": "Ines Harwood"}
    for wrong, field in (
        ({"label": " "}, "label"),
        ({"until": "soon"}, "until"),
        ({"until": "2001-01-01T00:00"}, "until"),
        ({"code": "12345"}, "code"),
        ({"plan": 99}, "plan"),
        ({"devices": 0}, "devices"),
    ):
        answer = await staff.post("/api/passes", json={**good, **wrong})
        assert (answer.status_code, answer.json()["field"]) == (422, field), wrong
    assert (await staff.get("/api/desk")).json()["batches"] == []


async def test_what_was_written_on_many_is_found_too(garden: Garden, staff: httpx.AsyncClient) -> None:
    wish = {"plan": 1, "count": 2, "label": "Choir \u202eof Hollerau"}
    batch = (await staff.post("/api/batches", json=wish)).json()
    await garden.let_in(garden.guests[0], batch["issued"][0]["code"])
    (listed,) = [g for g in (await staff.get("/api/guests")).json()["rows"] if g["state"] == "inside"]
    assert (listed["name"], listed["label"]) == ("", "Choir [202E]of Hollerau")


async def test_the_desk_forgets_who_has_left(garden: Garden, staff: httpx.AsyncClient) -> None:
    batch = (await staff.post("/api/batches", json={"plan": 1, "count": 1})).json()
    path, guest = f"/api/issued/{batch['issued'][0]['id']}/forget", garden.guests[0]
    await garden.let_in(guest, batch["issued"][0]["code"])
    refused = await staff.post(path)
    assert (refused.status_code, refused.json()["code"]) == (422, "nobody_away")
    await garden.point.leave(guest.phone)
    await garden.until_state(guest, State.LEFT)
    (shown,) = (await staff.get(f"/api/batches/{batch['id']}")).json()["issued"]
    assert (shown["devices_in"], shown["devices_away"]) == (1, 1)
    forgotten = (await staff.post(path)).json()
    assert (forgotten["devices_in"], forgotten["devices_away"]) == (0, 0)
    texts = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert "gatehouse removed a device that has left. It must log in again when it returns" in texts
    await garden.point.join(guest.phone)
    await garden.until_filter(guest, "doorstep")
