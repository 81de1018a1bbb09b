"""Programs: a token with a duty and limits, and requests to issue that are carried out once."""

import asyncio
from collections.abc import Awaitable, Callable

import httpx
import pytest

from tests.api.door.test_sign_in import House, house

__all__ = ["house"]
DAY_VISIT, POSTCARD = 1, 2
Make = Callable[..., Awaitable[httpx.AsyncClient]]


@pytest.fixture
async def program(house: House) -> Make:
    """The browser of a program, which is none."""

    async def make(**wanted: object) -> httpx.AsyncClient:
        chief = await house.signed_in()
        made = await chief.post("/api/programs", json={"name": "Rooms", "duty": "desk", **wanted})
        assert made.status_code == 201, made.text
        browser = house.browser()
        browser.headers["Authorization"] = f"Bearer {made.json()['token']}"
        return browser

    return make


async def test_a_program_issues_in_its_own_name_and_needs_no_form_value(house: House, program: Make) -> None:
    rooms = await program()
    made = await rooms.post("/api/passes", json={"plan": DAY_VISIT, "label": "Ines"})
    assert (made.status_code, made.json()["issued_by"]) == (201, "Rooms")
    chief = await house.signed_in()
    (known,) = (await chief.get("/api/programs")).json()
    assert known["used"] is not None
    assert "The program Rooms issued a guest pass for Ines" in [
        line["text"] for line in (await chief.get("/api/activity")).json()
    ]


async def test_its_limits_are_those_of_people(program: Make) -> None:
    rooms = await program(limits={"plans": [DAY_VISIT], "most_at_once": 2})
    for wish, field in (({"plan": POSTCARD, "count": 1}, "plan"), ({"plan": DAY_VISIT, "count": 3}, "count")):
        answer = await rooms.post("/api/batches", json=wish)
        assert (answer.status_code, answer.json()["field"]) == (422, field)
        assert answer.headers["content-type"] == "application/problem+json"


async def test_a_token_ends_by_its_day_by_another_one_and_with_the_program(
    house: House, program: Make
) -> None:
    rooms, chief = await program(days=1), await house.signed_in()
    (one,) = [known["id"] for known in (await chief.get("/api/programs")).json()]
    house.service.clock.advance(86_000)  # type: ignore[attr-defined]
    assert (await rooms.get("/api/desk")).status_code == 200
    house.service.clock.advance(401)  # type: ignore[attr-defined]
    assert (await rooms.get("/api/desk")).status_code == 401
    chief = await house.signed_in()
    token = (await chief.post(f"/api/programs/{one}/token", json={"days": None})).json()["token"]
    rooms.headers["Authorization"] = f"Bearer {token}"
    assert (await rooms.get("/api/desk")).status_code == 200
    assert (await chief.delete(f"/api/programs/{one}")).status_code == 204
    assert (await rooms.get("/api/desk")).status_code == 401
    assert (await chief.get("/api/programs")).json() == []


@pytest.mark.parametrize("said", ["Bearer", "Bearer no", "Basic Z2F0ZWhvdXNlOng=", "lau_no", ""])
async def test_no_other_token_says_anything(house: House, said: str) -> None:
    chief = await house.signed_in()
    answer = await chief.get("/api/desk", headers={"Authorization": said})
    assert (answer.status_code, answer.json()["code"]) == (401, "sign_in_needed")


async def test_no_program_sets_up_the_house_or_takes_a_name(house: House, program: Make) -> None:
    chief = await house.signed_in()
    chiefly = await chief.post("/api/programs", json={"name": "x", "duty": "administrator"})
    assert (chiefly.status_code, chiefly.json()["field"]) == (422, "duty")
    taken = await chief.post("/api/programs", json={"name": "Gatehouse", "duty": "desk"})
    assert (taken.status_code, taken.json()["field"]) == (422, "name")
    await program()
    person = await chief.post("/api/people", json={"name": "rooms", "duty": "desk"})
    assert (person.status_code, person.json()["field"]) == (422, "name")
    assert (
        await house.browser().post("/api/session", json={"name": "Rooms", "password": "x"})
    ).status_code == 422


@pytest.mark.parametrize(
    ("path", "wish"),
    [
        ("/api/batches", {"plan": DAY_VISIT, "count": 3}),
        ("/api/batches", {"plan": DAY_VISIT, "count": 90}),
        ("/api/passes", {"plan": DAY_VISIT, "label": "Ines"}),
        ("/api/accounts", {"plan": DAY_VISIT, "label": "Ines", "name": "ines.harwood"}),
    ],
)
async def test_the_same_request_twice_issues_once(program: Make, path: str, wish: dict[str, object]) -> None:
    rooms = await program()
    named = {"Idempotency-Key": "booking-4711"}
    first = await rooms.post(path, json=wish, headers=named)
    again = await rooms.post(path, json=wish, headers=named)
    assert (first.status_code, again.status_code) == (201, 201)
    one, same = (answer.json().get("batch", answer.json()) for answer in (first, again))
    assert one["id"] == same["id"]
    assert again.json().get("password") is None
    assert len((await rooms.get("/api/desk")).json()["batches"]) == 1
    other = await rooms.post(path, json={**wish, "note": "another"}, headers=named)
    assert (other.status_code, other.json()["code"]) == (422, "key_used")


async def test_at_the_same_time_too_and_each_has_its_own_keys(house: House, program: Make) -> None:
    rooms, chief = await program(), await house.signed_in()
    named = {"Idempotency-Key": "1"}
    wish = {"plan": DAY_VISIT, "label": "Ines"}
    answers = await asyncio.gather(*(rooms.post("/api/passes", json=wish, headers=named) for _ in range(8)))
    assert {answer.json()["id"] for answer in answers} == {answers[0].json()["id"]}
    others = await chief.post("/api/passes", json=wish, headers=named)
    assert others.json()["id"] != answers[0].json()["id"]


async def test_what_failed_may_be_asked_again_under_its_key(program: Make) -> None:
    rooms, named = await program(), {"Idempotency-Key": "1"}
    wish = {"plan": DAY_VISIT, "label": "Ines", "code": "12345"}
    assert (await rooms.post("/api/passes", json=wish, headers=named)).status_code == 422
    assert (
        await rooms.post("/api/passes", json={**wish, "code": "Plum-and-Pine-4"}, headers=named)
    ).status_code == 201
