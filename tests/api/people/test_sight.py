"""Reading is guarded like acting: somebody of the desk limited to one network sees nothing of the others."""

import asyncio
import json
from typing import Any

import httpx
import pytest

from lauschen.core.ids import CredentialId, Mac, NetworkId
from lauschen.core.messages.message import About, Channel, Draft, Kind
from lauschen.core.people.duties import Duty
from lauschen.demo import site
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.numbers import Kind as Attribute
from lauschen.radius.wire.numbers import ServiceType
from lauschen.radius.wire.signing import Secret
from lauschen.road.tx import Tx
from lauschen.store.hosts import vouchings
from lauschen.store.messages import outbox
from tests.api.door.test_sign_in import House, house
from tests.api.people.test_limits import bound
from tests.api.people.test_people import people

__all__ = ["house"]
DAY_VISIT, SEASON = 1, 5
GARDEN, ENSEMBLE, CLOISTER = 1, 2, 4
SECRET = Secret(site.SECRET)
GUESTS = {GARDEN: "02-00-00-AA-BB-01", ENSEMBLE: "02-00-00-AA-BB-02"}
Issued = dict[str, Any]


class Seen:
    """What the administrator made, and somebody of the desk who is there for the garden."""

    def __init__(self, desk: httpx.AsyncClient, chief: httpx.AsyncClient) -> None:
        self.desk, self.chief = desk, chief
        self.batches: dict[int | None, Issued] = {}

    async def issue(self) -> None:
        for network in (GARDEN, ENSEMBLE, None):
            wish = {"plan": DAY_VISIT, "label": f"Ines of {network}", "network": network}
            self.batches[network] = (await self.chief.post("/api/passes", json=wish)).json()
        wish = {"plan": SEASON, "label": "Ines of 4", "network": CLOISTER}
        answer = await self.chief.post("/api/passphrases", json=wish)
        assert answer.status_code == 201, answer.text
        self.batches[CLOISTER] = answer.json()["batch"]

    def issued(self, network: int | None) -> int:
        number: int = self.batches[network]["issued"][0]["id"]
        return number


def asks(network: int) -> bytes:
    ssid = site.SSID if network == GARDEN else site.ENSEMBLE_SSID
    body = a.integer(Attribute.SERVICE_TYPE, ServiceType.CALL_CHECK)
    body += a.text(Attribute.CALLING_STATION_ID, GUESTS[network])
    body += a.text(Attribute.CALLED_STATION_ID, f"02-77-00-00-00-11:{ssid}")
    return SECRET.access_request(network, bytes(16), body)


@pytest.fixture
async def seen(house: House) -> Seen:
    made = Seen(await bound(house, networks=[GARDEN]), await house.signed_in())
    await made.issue()
    for network, address in ((GARDEN, "127.77.0.11"), (ENSEMBLE, "127.77.0.13")):
        house.service._radius[0]._take(asks(network), (address, 4000))
    await house.service.road.act(lambda tx: None)
    return made


OTHERS = pytest.mark.parametrize("network", [ENSEMBLE, CLOISTER, None])


@OTHERS
async def test_what_was_issued_for_others_is_not_there(seen: Seen, network: int | None) -> None:
    """404, never 403: an error says nothing of what there is, either."""
    batch, issued = seen.batches[network]["id"], seen.issued(network)
    for path in (
        f"/api/batches/{batch}", f"/api/batches/{batch}/slips.pdf", f"/api/issued/{issued}/qr.svg",
        f"/api/issued/{issued}/slip.pdf", f"/api/issued/{issued}/slip.png",
    ):  # fmt: skip
        answer = await seen.desk.get(path)
        assert answer.status_code == 404, path
    answers = [await seen.desk.post(f"/api/batches/{batch}/slips")]
    for what, body in (
        ("withdraw", None), ("pause", None), ("resume", None), ("forget", None), ("give-time", {"seconds": 3600}),
        ("send", {"channel": "mail", "to": "ines@students.hollerau.example"}), ("password", {"password": None}),
    ):  # fmt: skip
        answers.append(await seen.desk.post(f"/api/issued/{issued}/{what}", json=body))
    assert {answer.status_code for answer in answers} == {404}
    acted = await seen.desk.post("/api/issued/acts", json={"what": "withdraw", "issued": [issued]})
    assert acted.json()["done"] == []
    state = (await seen.chief.get(f"/api/batches/{batch}")).json()["issued"][0]["state"]
    assert state == "fresh"
    revealed = (await seen.chief.get("/api/activity")).text
    assert "mirela had a look" not in revealed


async def test_what_is_theirs_is_there(seen: Seen) -> None:
    batch, issued = seen.batches[GARDEN]["id"], seen.issued(GARDEN)
    for path in (f"/api/batches/{batch}", f"/api/batches/{batch}/slips.pdf", f"/api/issued/{issued}/qr.svg"):
        assert (await seen.desk.get(path)).status_code == 200, path
    own = await seen.desk.post("/api/passes", json={"plan": DAY_VISIT, "label": "Own", "network": GARDEN})
    assert own.status_code == 201


async def test_lists_and_finds_hold_what_is_theirs(seen: Seen) -> None:
    for path in ("/api/desk", "/api/desk.csv", "/api/desk/known?name=Ines", "/api/desk/ending"):
        text, whole = (await seen.desk.get(path)).text, (await seen.chief.get(path)).text
        for network in (ENSEMBLE, CLOISTER, None):
            assert f"Ines of {network}" not in text, path
            code = seen.batches[network]["issued"][0]["code"]
            assert code not in text, path
        assert ("Ines of 1" in text) is ("Ines of 1" in whole), path
    assert len((await seen.desk.get("/api/desk")).json()["batches"]) == 1
    assert len((await seen.chief.get("/api/desk")).json()["batches"]) == 4


async def test_a_job_that_printed_is_read_only_while_its_slips_may_be_seen(seen: Seen, house: House) -> None:
    batch = seen.batches[GARDEN]["id"]
    job = (await seen.desk.post(f"/api/batches/{batch}/slips")).json()
    while job["state"] == "running":
        await asyncio.sleep(0.05)
        job = (await seen.desk.get(f"/api/jobs/{job['id']}")).json()
    assert (await seen.desk.get(f"/api/jobs/{job['id']}/slips.pdf")).status_code == 200
    one = (await people(seen.chief))["mirela"]["id"]
    limits = {"duty": Duty.DESK, "limits": {"networks": [ENSEMBLE]}}
    await seen.chief.put(f"/api/people/{one}", json=limits)
    assert (await seen.desk.get(f"/api/jobs/{job['id']}/slips.pdf")).status_code == 404
    assert (await seen.desk.get(f"/api/batches/{seen.batches[ENSEMBLE]['id']}")).status_code == 200


async def test_guests_of_others_are_in_no_list_count_find_or_dossier(seen: Seen) -> None:
    shown = (await seen.desk.get("/api/guests")).json()
    assert ([row["mac"] for row in shown["rows"]], shown["total"], shown["counts"]["at_door"]) == (
        [GUESTS[GARDEN]], 1, 1,
    )  # fmt: skip
    whole = (await seen.chief.get("/api/guests")).json()
    assert (whole["total"], whole["counts"]["at_door"]) == (2, 2)
    for query in (f"network={ENSEMBLE}", "find=aabb02"):
        found = (await seen.desk.get(f"/api/guests?{query}")).json()
        assert (found["rows"], found["total"]) == ([], 0)
        assert found["counts"]["at_door"] == (0 if "network" in query else 1)
    text = (await seen.desk.get("/api/guests.csv")).text
    assert (GUESTS[GARDEN] in text, GUESTS[ENSEMBLE] in text) == (True, False)
    path = f"/api/guests/{GUESTS[ENSEMBLE]}/{ENSEMBLE}"
    assert (await seen.desk.get(path)).status_code == 404
    assert (await seen.chief.get(path)).status_code == 200
    assert (await seen.desk.get(f"/api/guests/{GUESTS[GARDEN]}/{GARDEN}")).status_code == 200
    wish = {"what": "bar", "guests": [], "all_of": {"state": "at_door", "network": None}}
    acted = (await seen.desk.post("/api/guests/acts", json=wish)).json()
    assert [one["mac"] for one in acted["done"]] == [GUESTS[GARDEN]]


async def test_now_the_feed_and_the_log_show_their_network(seen: Seen) -> None:
    for answer in ((await seen.desk.get("/api/now")).json(), await first_of_feed(seen.desk)):
        assert [stream["name"] for stream in answer["streams"]] == ["Garden"]
        assert answer["line"] is None or "..:bb:02" not in answer["line"]["text"]
    assert len((await seen.chief.get("/api/now")).json()["streams"]) == 4
    log = (await seen.desk.get("/api/log")).text
    assert ("..:bb:01" in log, "..:bb:02" in log, "signed in" in log) == (True, False, False)
    assert "..:bb:02" in (await seen.chief.get("/api/log")).text


async def test_messages_questions_and_hosts_of_others_are_not_there(seen: Seen, house: House) -> None:
    host = {"name": "Vera Amberg", "mail": "vera.amberg@hollerau.example", "networks": [ENSEMBLE]}
    other = {"name": "Otto Tamm", "mail": "otto.tamm@hollerau.example"}
    numbers = [(await seen.chief.post("/api/hosts", json=one)).json()["id"] for one in (host, other)]
    shown = [one["name"] for one in (await seen.desk.get("/api/hosts")).json()]
    assert ("Vera Amberg" in shown, "Otto Tamm" in shown) == (False, True)
    assert (await seen.desk.post(f"/api/hosts/{numbers[0]}/page")).status_code == 404
    assert (await seen.desk.post(f"/api/hosts/{numbers[1]}/page")).status_code != 404

    def write(tx: Tx) -> tuple[int, int]:
        vouching = vouchings.add_vouching(
            tx.conn, tx.keys, network=NetworkId(ENSEMBLE), mac=Mac(1), source="10.0.0.9", visit=bytes(32), lang="en",
            answers={"name": "Ines"}, named="Ada", now=tx.now,
        )  # fmt: skip
        about = About(CredentialId(seen.issued(ENSEMBLE)), None, NetworkId(ENSEMBLE))
        draft = Draft(
            Channel.MAIL, Kind.PASS, "en", "ines@students.hollerau.example", {"name": "Ines"}, about
        )
        return vouching, outbox.add_message(tx.conn, tx.keys, draft, mark="mark", now=tx.now)

    vouching, message = await house.service.road.act(write)
    assert (await seen.desk.get("/api/vouchings")).json() == []
    assert len((await seen.chief.get("/api/vouchings")).json()) == 1
    for path, body in (
        (f"/api/vouchings/{vouching}/ask", {"host": numbers[1]}),
        (f"/api/vouchings/{vouching}/answer", {"length": None, "word": ""}),
        (f"/api/messages/{message}/send-again", None),
    ):
        assert (await seen.desk.post(path, json=body)).status_code == 404, path


async def first_of_feed(web: httpx.AsyncClient) -> dict[str, Any]:
    async with web.stream("GET", "/api/feed") as feed:
        async for line in feed.aiter_lines():
            if line.startswith("data:"):
                shown: dict[str, Any] = json.loads(line[5:])
                return shown
    raise AssertionError("nothing came")
