"""The network of private passphrases, from the desk to the access points: real packets, handshakes and processes."""

import asyncio
from typing import Any

import httpx
import pytest

from lauschen.acts.people.trying import MOST
from lauschen.core.decide.standing import State
from lauschen.core.passphrases.trial import AGAIN_S
from lauschen.standins.access_device.device import Phone
from lauschen.standins.access_device.keyed import KeyedAccessPoint
from lauschen.store import devices
from lauschen.store.people.attempts import Attempt
from tests.cloister import CLOISTER, SEASON
from tests.garden import PATIENCE_S, Garden

WRONG = "a-passphrase-of-another-house"


class Residents:
    """The garden's demo, as those see it who live there."""

    def __init__(self, garden: Garden, staff: httpx.AsyncClient) -> None:
        self.garden, self.staff = garden, staff
        self.east, self.attic = garden.demo.cloister
        self._number = 0

    async def issue(self, name: str = "Ines Harwood", **more: Any) -> dict[str, Any]:
        wish = {"plan": SEASON, "label": name, **more}
        answer = await self.staff.post("/api/passphrases", json=wish)
        assert answer.status_code == 201, answer.text
        made: dict[str, Any] = answer.json()
        return made

    def bring(self, point: KeyedAccessPoint, text: str) -> Phone:
        """A phone into which that was typed."""
        self._number += 1
        phone = point.add_phone(f"06-77-C1-00-00-{self._number:02X}", f"127.77.2.{self._number}")
        point.passphrases[phone.mac] = text
        return phone

    def state(self, phone: Phone) -> State | None:
        found = devices.find_standing(self.garden.demo.service.reader, phone.mac, CLOISTER)
        return None if found is None else found.state

    async def plan(self, **more: Any) -> dict[str, Any]:
        answer = await self.staff.get("/api/passphrases", params=more)
        assert answer.status_code == 200, answer.text
        shown: dict[str, Any] = answer.json()
        return shown

    async def full(self, made: dict[str, Any]) -> dict[str, Any]:
        answer = await self.staff.get(f"/api/passphrases/{made['id']}")
        shown: dict[str, Any] = answer.json()
        return shown

    async def job_done(self, job: dict[str, Any]) -> dict[str, Any]:
        async with asyncio.timeout(PATIENCE_S):
            while job["state"] == "running":
                await asyncio.sleep(0.05)
                job = (await self.staff.get(f"/api/jobs/{job['id']}")).json()
        return job

    async def act(self, made: dict[str, Any], what: str, **more: Any) -> dict[str, Any]:
        answer = await self.staff.post(f"/api/passphrases/{made['id']}/{what}", json=more or None)
        assert answer.status_code == 200, answer.text
        shown: dict[str, Any] = answer.json()
        return shown


@pytest.fixture
def residents(garden: Garden, staff: httpx.AsyncClient) -> Residents:
    return Residents(garden, staff)


async def test_a_handshake_finds_its_key_among_all_of_them(residents: Residents) -> None:
    others = [await residents.issue(f"Room {n}", kind="room") for n in range(3)]
    made = await residents.issue(has_group=True)
    assert made["passphrase"].count("-") >= 5
    assert made["wifi"] == f"WIFI:T:WPA;S:Hollerau Cloister;P:{made['passphrase']};;"
    phone = residents.bring(residents.east, made["passphrase"])
    assert await residents.east.join(phone)
    assert phone.session is not None
    assert (phone.session.placement.vlan, phone.session.placement.filter_name) == ("401", "resident")
    assert residents.state(phone) is State.INSIDE
    shown = await residents.full(made)
    assert [(one["is_in"], one["has_old_key"]) for one in shown["devices"]] == [(True, False)]
    assert shown["holder"]["sentence"] == "On 1 of 5 devices."
    plan = await residents.plan()
    assert plan["counts"]["person"] == {"all": 1, "unused": 0, "ending": 0, "over": 0}
    assert plan["counts"]["room"]["unused"] == len(others)
    # The second time its key is known at once, and nothing is looked through.
    await residents.east.leave(phone)
    assert await residents.east.join(phone)
    # So it is where handshakes are not passed on.
    residents.attic.passphrases[phone.mac] = made["passphrase"]
    again = residents.attic.add_phone("06-77-C1-00-00-01", phone.ip)
    assert await residents.attic.join(again)


async def test_a_key_that_nobody_has_is_said_with_the_place_and_how_often(residents: Residents) -> None:
    await residents.issue()
    phone = residents.bring(residents.east, WRONG)
    for _ in range(14):
        assert not await residents.east.join(phone)
        residents.garden.clock.advance(3)
    (wrong,) = (await residents.plan())["wrong"]
    assert wrong["sentence"] == "tried 14 times at Cloister east with a passphrase that does not exist"
    assert residents.state(phone) is None


async def test_what_is_withdrawn_ends_its_stays_and_stays_out(residents: Residents) -> None:
    made = await residents.issue()
    phone = residents.bring(residents.east, made["passphrase"])
    assert await residents.east.join(phone)
    answer = await residents.staff.post("/api/issued/acts", json={"what": "withdraw", "issued": [made["id"]]})
    assert answer.status_code == 200
    async with asyncio.timeout(PATIENCE_S):
        await residents.east.until(lambda: phone.session is None)
    assert not await residents.east.join(phone)
    assert (await residents.full(made))["holder"]["sentence"] == "Withdrawn: it lets nobody in."


async def test_a_new_passphrase_and_the_old_one_hold_side_by_side_and_then_one_alone(
    residents: Residents,
) -> None:
    made = await residents.issue()
    old, new = (residents.bring(residents.east, made["passphrase"]) for _ in range(2))
    assert await residents.east.join(old)
    renewed = await residents.act(made, "renew", overlap_minutes=5)
    residents.east.passphrases[new.mac] = renewed["passphrase"]
    assert renewed["passphrase"] != made["passphrase"]
    assert await residents.east.join(new)
    await residents.east.leave(old)
    assert await residents.east.join(old)
    shown = await residents.full(made)
    assert sorted(one["has_old_key"] for one in shown["devices"]) == [False, True]
    residents.garden.clock.advance(301)
    async with asyncio.timeout(PATIENCE_S):
        await residents.east.until(lambda: old.session is None)
    assert not await residents.east.join(old)
    assert new.session is not None
    (wrong,) = (await residents.plan())["wrong"]
    assert "with an old passphrase of Ines Harwood, replaced " in wrong["sentence"]


async def test_a_new_passphrase_is_taken_back_while_nobody_joined_by_it(residents: Residents) -> None:
    made = await residents.issue()
    phone = residents.bring(residents.east, made["passphrase"])
    renewed = await residents.act(made, "renew", overlap_minutes=5)
    undo = {"key": renewed["key"], "before": renewed["before"]}
    shown = await residents.act(made, "renew/undo", **undo)
    assert [one["ends_at"] for one in shown["keys"]] == [None]
    assert await residents.east.join(phone)
    renewed = await residents.act(made, "renew", overlap_minutes=5)
    residents.east.passphrases[phone.mac] = renewed["passphrase"]
    await residents.east.leave(phone)
    assert await residents.east.join(phone)
    undo = {"key": renewed["key"], "before": renewed["before"]}
    answer = await residents.staff.post(f"/api/passphrases/{made['id']}/renew/undo", json=undo)
    assert (answer.status_code, answer.json()["code"]) == (422, "passphrase_used")


async def test_by_address_alone_a_device_is_tried_on_keys_until_it_is_known(residents: Residents) -> None:
    made = [await residents.issue(f"Page-turner {n}", kind="thing") for n in range(3)]
    phone = residents.bring(residents.attic, made[0]["passphrase"])
    for _ in range(6):
        assert await residents.attic.join(phone) or phone.session is None
        if (await residents.full(made[0]))["devices"]:
            break
        residents.garden.clock.advance(AGAIN_S)
        async with asyncio.timeout(PATIENCE_S):
            await residents.garden.until(lambda: True)
        await residents.attic.leave(phone)
    shown = await residents.full(made[0])
    assert [one["is_in"] for one in shown["devices"]] == [True]


async def test_one_device_is_taken_off_and_taken_on_again(residents: Residents) -> None:
    made = await residents.issue()
    phone = residents.bring(residents.east, made["passphrase"])
    assert await residents.east.join(phone)
    (device,) = (await residents.full(made))["devices"]
    shown = await residents.act(made, f"devices/{device['mac']}/take-off")
    assert shown["devices"][0]["removed_at"] is not None
    async with asyncio.timeout(PATIENCE_S):
        await residents.east.until(lambda: phone.session is None)
    assert not await residents.east.join(phone)
    again = await residents.staff.post(f"/api/passphrases/{made['id']}/devices/{device['mac']}/take-off")
    assert again.status_code == 422
    await residents.act(made, f"devices/{device['mac']}/take-on")
    assert await residents.east.join(phone)


async def test_a_passphrase_that_somebody_has_is_refused_not_saying_whose(residents: Residents) -> None:
    made = await residents.issue()
    wish = {"plan": SEASON, "label": "Jonas Quist", "passphrase": made["passphrase"]}
    answer = await residents.staff.post("/api/passphrases", json=wish)
    assert (answer.status_code, answer.json()["code"]) == (422, "passphrase_taken")
    assert "Ines" not in answer.text
    assert (
        "tried to set a passphrase that is already in use, and was told so"
        in (await residents.staff.get("/api/activity")).text
    )
    assert (await residents.plan())["counts"]["person"]["all"] == 1
    for text, code in (
        ("password1", "passphrase_easy"), ("Jonas Quist 1", "passphrase_easy"), ("0f" * 32, "passphrase_is_key"),
        (" vase-trumpet-elbow-9", "passphrase_blank"), ("vase-trumpet\0elbow", "passphrase_signs"),
    ):  # fmt: skip
        answer = await residents.staff.post("/api/passphrases", json={**wish, "passphrase": text})
        assert (answer.status_code, answer.json()["code"]) == (422, code)


async def test_who_looks_at_a_passphrase_stands_in_the_record(residents: Residents) -> None:
    made = await residents.issue()
    told = await residents.act(made, "reveal")
    assert told["passphrase"] == made["passphrase"]
    lines = (await residents.staff.get("/api/activity")).text
    assert "viewed the passphrase of Ines Harwood" in lines


async def test_many_are_issued_by_a_job_and_none_of_them_when_it_is_cancelled(residents: Residents) -> None:
    wish = {"plan": SEASON, "kind": "room", "text": "\n".join([f"Room {n}" for n in range(150)])}
    job = await residents.job_done((await residents.staff.post("/api/passphrases/many", json=wish)).json())
    assert (job["state"], job["done"]) == ("done", 150)
    assert (await residents.plan())["counts"]["room"]["all"] == 150
    job = (await residents.staff.post("/api/passphrases/many", json=wish)).json()
    async with asyncio.timeout(PATIENCE_S):
        while job["done"] < 20:
            await asyncio.sleep(0.005)
            job = (await residents.staff.get(f"/api/jobs/{job['id']}")).json()
    job = (await residents.staff.post(f"/api/jobs/{job['id']}/cancel")).json()
    assert job["state"] == "cancelled"
    assert (await residents.plan())["counts"]["room"]["all"] == 150
    # What was made until then is taken back, and its private groups with it.
    left = "SELECT count(*) FROM passphrase p JOIN credential c ON c.id = p.credential JOIN batch b ON b.id = c.batch"
    reader = residents.garden.demo.service.reader
    await residents.garden.until(lambda: reader.execute(f"{left} AND NOT b.is_valid").fetchone()[0] == 0)


async def test_another_ssid_makes_all_keys_anew_and_they_hold_under_it(residents: Residents) -> None:
    made = [await residents.issue(f"Room {n}", kind="room") for n in range(3)]
    network = next(
        one
        for one in (await residents.staff.get("/api/networks")).json()["networks"]
        if one["id"] == CLOISTER
    )
    known = {name: network[name] for name in ("name", "door_role", "nas_identifier", "port_id", "port_type")}
    wish = {**known, "ssid": {"match": "exact", "value": "Hollerau Summer Cloister"}}
    answer = await residents.staff.put(f"/api/networks/{CLOISTER}", json=wish)
    assert answer.status_code == 200, answer.text
    residents.garden.clock.advance(2)
    await residents.garden.until(lambda: stale(residents.garden) == 0)
    point = residents.east
    point._ssid, point._called = b"Hollerau Summer Cloister", "02-77-00-00-00-21:Hollerau Summer Cloister"
    for one in made:
        assert await point.join(residents.bring(point, one["passphrase"]))


def stale(garden: Garden) -> int:
    sql = "SELECT count(*) FROM passphrase_key WHERE ssid <> ?"
    row = garden.demo.service.reader.execute(sql, (b"Hollerau Summer Cloister",)).fetchone()
    return int(row[0])


async def test_a_network_that_is_removed_leaves_its_passphrases_behind(residents: Residents) -> None:
    made = await residents.issue()
    answer = await residents.staff.delete(f"/api/networks/{CLOISTER}")
    assert answer.status_code in (204, 422), answer.text
    assert (await residents.staff.get("/api/passphrases")).status_code == 200
    for path in ("reveal", "renew", "link"):
        answer = await residents.staff.post(f"/api/passphrases/{made['id']}/{path}", json={})
        assert answer.status_code < 500, (path, answer.text)
    assert (await residents.staff.get(f"/api/passphrases/{made['id']}")).status_code < 500
    assert (await residents.staff.get(f"/api/issued/{made['id']}/slip.pdf")).status_code < 500


async def test_whoever_tries_out_which_passphrases_are_taken_is_stopped(residents: Residents) -> None:
    made = await residents.issue()
    other = await residents.issue("Jonas Quist")
    wish = {"plan": SEASON, "label": "Nobody", "passphrase": made["passphrase"]}
    path = f"/api/passphrases/{other['id']}/renew"
    for number in range(MOST[Attempt.CHOSEN]):
        asked = wish if number % 2 else {"overlap_minutes": 0, "passphrase": made["passphrase"]}
        answer = await residents.staff.post("/api/passphrases" if number % 2 else path, json=asked)
        assert answer.json()["code"] == "passphrase_taken"
    for text in (made["passphrase"], "one-that-nobody-has-71"):
        answer = await residents.staff.post("/api/passphrases", json={**wish, "passphrase": text})
        assert (answer.status_code, answer.json()["code"]) == (503, "chosen_passphrase_unavailable")
    drawn = await residents.staff.post("/api/passphrases", json={"plan": SEASON, "label": "Room 3"})
    assert drawn.status_code == 201


async def test_a_repeated_request_shows_the_passphrase_again_and_that_is_recorded(
    residents: Residents,
) -> None:
    wish, key = {"plan": SEASON, "label": "Ines Harwood"}, {"Idempotency-Key": "booking-4711"}
    answers = [await residents.staff.post("/api/passphrases", json=wish, headers=key) for _ in range(2)]
    first, second = [answer.json()["passphrase"] for answer in answers]
    assert first == second
    said = "viewed the passphrase of Ines Harwood"
    assert (await residents.staff.get("/api/log")).text.count(said) == 1
