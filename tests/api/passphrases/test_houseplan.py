"""The house plan: whose is what, by kind and by what must be known of it; and who may see it."""

from typing import Any

import httpx
import pytest

from lauschen.api.passphrases.routes import strength_words
from lauschen.road.road import Road
from tests.api.door.test_sign_in import House, house
from tests.api.people.test_limits import GARDEN, bound
from tests.cloister import CLOISTER, SEASON
from tests.garden import Garden
from tests.test_cloister import Residents

__all__ = ["house"]


@pytest.fixture
def residents(garden: Garden, staff: httpx.AsyncClient) -> Residents:
    return Residents(garden, staff)


def names(plan: dict[str, Any], kind: str = "person") -> list[str]:
    return [one["name"] for one in plan["holders"][kind]]


async def test_each_stands_with_its_kind_and_is_found_by_what_is_known_of_it(residents: Residents) -> None:
    used = await residents.issue("Ines Harwood")
    await residents.issue("jonas Quist", until="2100-08-04T12:00")
    await residents.issue("Room 7", kind="room")
    over = await residents.issue("Oskar Amberg")
    await residents.staff.post("/api/issued/acts", json={"what": "withdraw", "issued": [over["id"]]})
    await residents.east.join(residents.bring(residents.east, used["passphrase"]))
    await residents.act(used, "renew", overlap_minutes=60)
    plan = await residents.plan()
    assert names(plan) == ["Ines Harwood", "jonas Quist"]
    assert names(plan, "room") == ["Room 7"]
    assert plan["counts"]["person"] == {"all": 2, "unused": 1, "ending": 1, "over": 1}
    assert names(await residents.plan(which="unused")) == ["jonas Quist"]
    assert names(await residents.plan(which="ending")) == ["Ines Harwood"]
    assert names(await residents.plan(which="over")) == ["Oskar Amberg"]
    assert names(await residents.plan(name="JON")) == ["jonas Quist"]
    assert names(await residents.plan(name="%")) == []
    assert (await residents.staff.get("/api/passphrases", params={"which": "x"})).status_code == 422


async def test_one_that_is_on_as_many_devices_as_it_is_for_is_marked_while_that_is_so(
    residents: Residents,
) -> None:
    async def says() -> tuple[str, bool]:
        (shown,) = (await residents.plan())["holders"]["person"]
        return shown["sentence"], shown["is_shared"]

    made = await residents.issue("Ines Harwood", devices=1)
    first, second = (residents.bring(residents.east, made["passphrase"]) for _ in range(2))
    assert await residents.east.join(first)
    assert await says() == ("On 1 of 1 devices: no other can join meanwhile.", True)
    assert not await residents.east.join(second)
    await residents.east.leave(first)
    assert await says() == ("On 1 of 1 devices.", False)
    assert await residents.east.join(second)
    await residents.east.leave(second)
    assert await says() == ("On 2 devices, of which 1 can be in at once.", False)
    ever = await residents.issue("Room 7", kind="room", devices=1, seats="ever")
    phone = residents.bring(residents.east, ever["passphrase"])
    assert await residents.east.join(phone)
    await residents.east.leave(phone)
    (shown,) = (await residents.plan())["holders"]["room"]
    assert (shown["sentence"], shown["is_shared"]) == ("On 1 of 1 devices: no other can join by it.", True)


async def test_further_pages_go_on_where_the_last_one_ended(residents: Residents) -> None:
    wish = {"plan": SEASON, "kind": "thing", "text": "\n".join([f"Stand {n:03}" for n in range(65)])}
    job = (await residents.staff.post("/api/passphrases/many", json=wish)).json()
    await residents.job_done(job)
    first = (await residents.plan())["holders"]["thing"]
    after = {"network": CLOISTER, "kind": "thing", "after": first[-1]["id"], "after_name": first[-1]["name"]}
    rest = (await residents.staff.get("/api/passphrases/of", params=after)).json()["holders"]
    assert [one["name"] for one in first + rest] == [f"Stand {n:03}" for n in range(65)]


WISH = {"plan": SEASON, "label": "Ines Harwood"}


async def test_the_desk_sees_those_of_its_networks_alone(house: House) -> None:
    elsewhere, chief = await bound(house, networks=[GARDEN]), await house.signed_in()
    made = (await chief.post("/api/passphrases", json=WISH)).json()
    assert (await elsewhere.get("/api/passphrases")).json()["networks"] == []
    more = {"network": CLOISTER, "kind": "person"}
    assert (await elsewhere.get("/api/passphrases/of", params=more)).status_code == 404
    assert (await elsewhere.get(f"/api/passphrases/{made['id']}")).status_code == 404
    for path in ("reveal", "renew", "link"):
        answer = await elsewhere.post(f"/api/passphrases/{made['id']}/{path}", json={})
        assert answer.status_code == 404, path
    assert (await elsewhere.post("/api/passphrases", json=WISH)).status_code == 422


async def test_what_others_issued_is_not_there(house: House) -> None:
    own, chief = await bound(house, own_only=True), await house.signed_in()
    made = (await chief.post("/api/passphrases", json=WISH)).json()
    shown = (await own.get("/api/passphrases")).json()
    assert (shown["holders"]["person"], shown["counts"]["person"]["all"]) == ([], 0)
    for path in ("reveal", "renew", "link"):
        answer = await own.post(f"/api/passphrases/{made['id']}/{path}", json={})
        assert answer.status_code == 404, path
    assert (await own.get(f"/api/passphrases/{made['id']}")).status_code == 404
    theirs = (await own.post("/api/passphrases", json=WISH)).json()
    assert (await own.post(f"/api/passphrases/{theirs['id']}/reveal")).status_code == 200
    shown = (await own.get("/api/passphrases")).json()
    assert [one["id"] for one in shown["holders"]["person"]] == [theirs["id"]]
    assert shown["counts"]["person"]["all"] == 1


async def test_what_nobody_can_issue_is_said_at_its_field(residents: Residents) -> None:
    for wish, field in (
        ({"label": "  "}, "label"),
        ({"plan": 99}, "plan"),
        ({"network": 1}, "network"),
        ({"devices": 0}, "devices"),
        ({"until": "2020-01-01T12:00"}, "until"),
    ):
        sent = {"plan": SEASON, "label": "Ines Harwood", **wish}
        answer = await residents.staff.post("/api/passphrases", json=sent)
        assert (answer.status_code, answer.json()["field"]) == (422, field), answer.text
    assert names(await residents.plan()) == []


async def test_more_groups_than_the_pool_has_are_refused_before_any_is_made(residents: Residents) -> None:
    wish = {"plan": SEASON, "text": "\n".join([f"Room {n}" for n in range(49)]), "has_group": True}
    refused = await residents.staff.post("/api/passphrases/many", json=wish)
    assert refused.status_code == 422
    assert "larger pool" in refused.json()["detail"]
    assert names(await residents.plan()) == []


async def test_the_same_request_twice_issues_once(residents: Residents) -> None:
    wish = {"plan": SEASON, "label": "Ines Harwood", "passphrase": "vase-trumpet-elbow-9"}
    headers = {"Idempotency-Key": "one"}
    first, second = [
        (await residents.staff.post("/api/passphrases", json=wish, headers=headers)).json() for _ in range(2)
    ]
    assert first["id"] == second["id"]
    assert names(await residents.plan()) == ["Ines Harwood"]
    other = {**wish, "passphrase": "another-one-than-that-5"}
    answer = await residents.staff.post("/api/passphrases", json=other, headers=headers)
    assert answer.json()["code"] == "key_used"


def test_a_strength_is_said_in_time() -> None:
    assert "needs 18 years" in strength_words(60.0)
    assert "6 days" in strength_words(50.0)
    assert "hours" in strength_words(40.0)


async def test_a_list_brings_what_each_has_for_itself(residents: Residents) -> None:
    text = 'Room 7, Lutes;;2100-08-04;2;near the stairs\n"Room 8";ines@students.hollerau.example\nRoom 9;x\n'
    wish = {"plan": SEASON, "kind": "room", "text": text, "note": "all of them"}
    answer = await residents.staff.post("/api/passphrases/many", json=wish)
    assert (answer.status_code, answer.json()["code"]) == (422, "list_bad")
    assert "Line 3" in answer.json()["detail"]
    wish["text"] = text.replace("Room 9;x\n", "Room 9\n")
    job = (await residents.staff.post("/api/passphrases/many", json=wish)).json()
    assert (await residents.job_done(job))["state"] == "done"
    shown = (await residents.plan())["holders"]["room"]
    assert [(one["name"], one["seats"], one["note"]) for one in shown] == [
        ("Room 7, Lutes", 2, "near the stairs"), ("Room 8", 5, "all of them"), ("Room 9", 5, "all of them"),
    ]  # fmt: skip
    assert shown[0]["until"] is not None
    assert shown[0]["sentence"].endswith("good until Wed 4 Aug 2100, 23:59.")
    (mail,) = await residents.garden.demo.letters.mailbox.until(1)
    assert "Room 8" in mail.part("plain")


async def test_each_of_a_list_is_sent_one_mail_though_the_groups_run_twice(
    residents: Residents, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(Road, "rehearses", lambda _: True)
    text = "\n".join(f"Room {n};room{n}@students.hollerau.example" for n in range(3))
    job = (
        await residents.staff.post(
            "/api/passphrases/many", json={"plan": SEASON, "kind": "room", "text": text}
        )
    ).json()
    assert (await residents.job_done(job))["state"] == "done"
    sent = residents.garden.demo.service.reader.execute("SELECT count(*) FROM message WHERE channel = 'mail'")
    assert sent.fetchone() == (3,)
    mails = await residents.garden.demo.letters.mailbox.until(3)
    assert {mail.to for mail in mails} == {f"room{n}@students.hollerau.example" for n in range(3)}


async def test_nobody_is_said_to_open_a_page_where_there_is_none(residents: Residents) -> None:
    streams = (await residents.staff.get("/api/now")).json()["streams"]
    assert [one["name"] for one in streams if not one["has_page"]] == ["Cloister"]
    assert len(streams) > 1
