"""What is issued on other terms than its plan's: said on the slip, kept, refused when nobody could use it."""

import httpx
import pytest

from lauschen.core.decide.standing import State
from tests.garden import Garden

DAY_VISIT, COURSE_WEEK = 1, 4
PARTY = {"since": "2099-12-05T10:00", "until": "2099-12-06T18:00", "devices": 3, "seats": "ever"}
KINDS = [
    ("/api/batches", {"plan": DAY_VISIT, "count": 2}),
    ("/api/passes", {"plan": COURSE_WEEK, "label": "Ines Harwood"}),
    ("/api/accounts", {"plan": COURSE_WEEK, "label": "Ines Harwood", "name": "ines.harwood"}),
]


@pytest.mark.parametrize(("path", "wish"), KINDS, ids=[path for path, _ in KINDS])
async def test_each_of_them_says_its_own_terms(
    staff: httpx.AsyncClient, path: str, wish: dict[str, object]
) -> None:
    made = (await staff.post(path, json={**wish, **PARTY})).json()
    batch = made.get("batch", made)
    for issued in batch["issued"]:
        assert "from Sat 5 Dec, 10:00 · until Sun 6 Dec, 18:00 · 3 devices in total" in issued["slip"]
        assert issued["valid_until"] - issued["valid_from"] == 32 * 3600
        assert (issued["devices"], issued["seats"], issued["state"]) == (3, "ever", "fresh")
    kept = (await staff.get(f"/api/batches/{batch['id']}")).json()
    assert kept["issued"] == batch["issued"]


@pytest.mark.parametrize(("path", "wish"), KINDS, ids=[path for path, _ in KINDS])
async def test_what_cannot_be_is_refused_at_its_field_and_nothing_is_issued(
    staff: httpx.AsyncClient, path: str, wish: dict[str, object]
) -> None:
    for wrong, field in (
        ({"since": "tomorrow"}, "since"),
        ({"until": "2001-01-01T00:00"}, "until"),
        ({"since": PARTY["until"], "until": PARTY["since"]}, "until"),
        ({"devices": 0}, "devices"),
        ({"seats": "some"}, "seats"),
    ):
        answer = await staff.post(path, json={**wish, **wrong})
        assert (answer.status_code, answer.json()["field"]) == (422, field), wrong
    assert (await staff.get("/api/desk")).json()["batches"] == []


async def test_a_party_sees_its_devices_and_strangers_by_one_code_do_not(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    for seats, pair in (("ever", garden.guests[:2]), ("any", garden.guests[2:4])):
        wish = {"plan": DAY_VISIT, "count": 1, "devices": 3 if seats == "ever" else None, "seats": seats}
        batch = (await staff.post("/api/batches", json=wish)).json()
        for guest in pair:
            await garden.let_in(guest, batch["issued"][0]["code"])
        one, other = pair
        await one.open(one.url)
        key = f"{other.phone.mac:012x}-1"
        assert ("Devices: 2 online, 3 allowed in total." in one.html, key in one.html) == (
            seats == "ever",
        ) * 2
        await one.post("send-out", {"device": key, "csrf": one.csrf()})
        if seats == "ever":
            await garden.until_filter(other, "doorstep")
            await garden.until_state(other, State.AT_DOOR)
        else:
            assert garden.state(other) == (State.INSIDE, None)
