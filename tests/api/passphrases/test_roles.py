"""A passphrase that places by itself, whatever the rules say; and what is kept from those of other networks."""

import httpx
import pytest

from lauschen.core.decide.standing import State
from lauschen.store.passphrases import wrong
from tests.api.door.test_sign_in import House, house
from tests.api.people.test_limits import GARDEN, bound
from tests.cloister import ATTIC, CLOISTER, SEASON
from tests.garden import Garden
from tests.place import PHONE
from tests.test_cloister import Residents

__all__ = ["house"]
STUDENT = 4
WISH = {"plan": SEASON, "label": "Tuner", "kind": "thing", "role": STUDENT}


@pytest.fixture
def residents(garden: Garden, staff: httpx.AsyncClient) -> Residents:
    return Residents(garden, staff)


async def test_its_devices_are_placed_there_and_others_by_the_rules(residents: Residents) -> None:
    choices = (await residents.plan())["roles"]
    assert {"id": STUDENT, "name": "Student"} in choices
    assert "Before login" not in [one["name"] for one in choices]
    made = await residents.issue("Tuner", kind="thing", role=STUDENT)
    phone = residents.bring(residents.east, made["passphrase"])
    assert await residents.east.join(phone)
    assert phone.session is not None
    assert (phone.session.placement.vlan, phone.session.placement.filter_name) == ("320", "student")
    assert residents.state(phone) is State.INSIDE
    assert (await residents.full(made))["holder"]["role"] == "Student"
    other = await residents.issue()
    assert (await residents.full(other))["holder"]["role"] is None
    grouped = await residents.issue("Room 7", role=STUDENT, has_group=True)
    phone = residents.bring(residents.east, grouped["passphrase"])
    assert await residents.east.join(phone)
    assert phone.session is not None
    assert (phone.session.placement.vlan, phone.session.placement.filter_name) == ("401", "student")


async def test_a_role_is_not_removed_under_a_passphrase_that_places_in_it(residents: Residents) -> None:
    role = {"name": "Tuners", "vlan": 355, "filter_name": "tuner", "is_door": False}
    added = (await residents.staff.post("/api/roles", json=role)).json()
    made = await residents.issue("Tuner", kind="thing", role=added["id"])
    answer = await residents.staff.delete(f"/api/roles/{added['id']}")
    assert (answer.status_code, answer.json()["field"]) == (422, "name")
    assert "One passphrase places its devices in it" in answer.json()["detail"]
    await residents.staff.post("/api/issued/acts", json={"what": "withdraw", "issued": [made["id"]]})
    assert (await residents.staff.delete(f"/api/roles/{added['id']}")).status_code == 204
    # Restored, it places as the rules say.
    await residents.staff.post("/api/issued/acts", json={"what": "restore", "issued": [made["id"]]})
    phone = residents.bring(residents.east, made["passphrase"])
    assert await residents.east.join(phone)
    assert phone.session is not None
    assert phone.session.placement.filter_name == "resident"


@pytest.mark.parametrize("role", [99, 7])
async def test_a_role_that_is_none_or_before_login_is_refused(residents: Residents, role: int) -> None:
    answer = await residents.staff.post("/api/passphrases", json={**WISH, "role": role})
    assert (answer.status_code, answer.json()["field"]) == (422, "role"), answer.text


async def test_the_desk_says_nothing_against_the_rules(house: House) -> None:
    desk = await bound(house)
    assert (await desk.get("/api/passphrases")).json()["roles"] == []
    for path, wish in (
        ("/api/passphrases", WISH),
        ("/api/passphrases/many", {**WISH, "text": "Room 7\nRoom 8"}),
    ):
        answer = await desk.post(path, json=wish)
        assert (answer.status_code, answer.json()["field"]) == (422, "role"), answer.text


async def test_who_tried_in_vain_is_said_to_those_of_the_network_alone(house: House) -> None:
    elsewhere, chief = await bound(house, networks=[GARDEN]), await house.signed_in()
    service = house.service
    now = service.clock.now()
    await service.road.act(lambda tx: wrong.count(tx.conn, CLOISTER, PHONE, ATTIC, None, now))
    assert len((await chief.get("/api/passphrases")).json()["wrong"]) == 1
    assert (await elsewhere.get("/api/passphrases")).json()["wrong"] == []
