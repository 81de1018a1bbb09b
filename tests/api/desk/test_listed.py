"""A pasted list by the API: looked at, refused while a line is bad, issued within the limits of who asks."""

import asyncio

import httpx

from tests.api.door.test_sign_in import House, house
from tests.api.people.test_limits import bound

__all__ = ["house"]
DAY_VISIT = 1
GOOD = '\ufeffname;send to;until\nInes Harwood;;2099-12-06\n"Field, Jonas"\n'


async def finished(browser: httpx.AsyncClient, answer: httpx.Response) -> dict[str, object]:
    assert answer.status_code == 202, answer.text
    job: dict[str, object] = answer.json()
    while job["state"] == "running":
        await asyncio.sleep(0.05)
        job = (await browser.get(f"/api/jobs/{job['id']}")).json()
    return job


async def test_it_is_looked_at_and_then_issued_for_all(house: House) -> None:
    chief = await house.signed_in()
    seen = (await chief.post("/api/passes/lines/check", json={"text": GOOD})).json()
    assert (seen["guests"], seen["sent"], seen["bad"]) == (2, 0, [])
    assert (await chief.get("/api/desk")).json()["batches"] == []
    wish = {"plan": DAY_VISIT, "text": GOOD, "words": "Welcome"}
    job = await finished(chief, await chief.post("/api/passes/lines", json=wish))
    assert (job["state"], job["done"]) == ("done", 2)
    batches = (await chief.get("/api/desk")).json()["batches"]
    assert {(one["label"], one["words"], one["way"]) for one in batches} == {
        ("Ines Harwood", "Welcome", "guest_pass"),
        ("Field, Jonas", "Welcome", "guest_pass"),
    }


async def test_under_one_key_a_list_is_issued_once(house: House) -> None:
    chief = await house.signed_in()
    key = {"Idempotency-Key": "guests of the week"}
    wish = {"plan": DAY_VISIT, "text": GOOD}
    for _ in range(2):
        job = await finished(chief, await chief.post("/api/passes/lines", json=wish, headers=key))
        assert (job["state"], job["done"]) == ("done", 2)
        assert len((await chief.get("/api/desk")).json()["batches"]) == 2
    other = {"plan": DAY_VISIT, "text": "Ada Lindqvist"}
    job = await finished(chief, await chief.post("/api/passes/lines", json=other, headers=key))
    assert (job["state"], "Something else was issued" in job["error"]) == ("failed", True)


async def test_while_one_line_is_bad_nothing_is_issued(house: House) -> None:
    chief = await house.signed_in()
    text = GOOD + "Ada;;soon\n"
    seen = (await chief.post("/api/passes/lines/check", json={"text": text})).json()
    assert (seen["guests"], seen["bad_count"], seen["bad"][0]["first"]) == (2, 1, 4)
    refused = await chief.post("/api/passes/lines", json={"plan": DAY_VISIT, "text": text})
    assert (refused.status_code, refused.json()["code"]) == (422, "list_bad")
    empty = await chief.post("/api/passes/lines", json={"plan": DAY_VISIT, "text": "\n \n"})
    assert (empty.status_code, empty.json()["code"]) == (422, "list_empty")
    assert (await chief.get("/api/desk")).json()["batches"] == []


async def test_limits_hold_for_each_line_before_any_is_issued(house: House) -> None:
    browser = await bound(house, longest_minutes=600)
    job = await finished(
        browser, await browser.post("/api/passes/lines", json={"plan": DAY_VISIT, "text": "A\n" * 15})
    )
    assert job["state"] == "done"
    text = "B\n" * 12 + "C;;;3\n"
    other = await bound_again(house, browser, most_devices=2)
    refused = await other.post("/api/passes/lines", json={"plan": DAY_VISIT, "text": text})
    assert (refused.status_code, refused.json()["code"]) == (422, "devices_not_theirs")
    labels = {one["label"] for one in (await other.get("/api/desk")).json()["batches"]}
    assert labels == {"A"}


async def bound_again(house: House, browser: httpx.AsyncClient, **limits: object) -> httpx.AsyncClient:
    """The same person within other limits."""
    chief = await house.signed_in()
    one = next(p["id"] for p in (await chief.get("/api/people")).json() if p["name"] == "mirela")
    await chief.put(f"/api/people/{one}", json={"duty": "desk", "limits": limits})
    return browser


async def test_a_large_list_comes_in_one_request(house: House) -> None:
    chief = await house.signed_in()
    text = "\n".join(f"Guest {number};;2099-12-06;2;a note of some length" for number in range(20_000))
    assert len(text) > 600_000
    seen = await chief.post("/api/passes/lines/check", json={"text": text})
    assert seen.json()["guests"] == 20_000
    over = await chief.post("/api/passes/lines/check", json={"text": "x" * 4_900_001})
    assert over.status_code == 422
