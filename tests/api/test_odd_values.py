"""Numbers that no row has, sheets of any size, and counts that are the same wherever they are shown."""

from collections.abc import AsyncIterator
from pathlib import Path

import httpx
import pytest

from lauschen.core.words.codes import make_code
from lauschen.demo import site
from lauschen.road.clock import MovableClock
from lauschen.serve.service import Options, Service
from tests.acts.arriving.test_users import ask, by_pap
from tests.place import OTHER, Place


@pytest.fixture
def inside(data: Path) -> Place:
    """A guest who is inside by a voucher for one device, and whose other device was refused."""
    place = Place(data)
    code = place.issue()[0]
    place.let_in(code)
    for _ in range(3):
        ask(place, by_pap("mirela", code), OTHER, session="T1")
    ask(place, by_pap("mirela", make_code(7)), OTHER, session="T1")
    place.ask(OTHER, "T1")
    place.now += 1
    return place


@pytest.fixture
async def desk(inside: Place, data: Path) -> AsyncIterator[httpx.AsyncClient]:
    clock = MovableClock(inside.now)
    inside.close()
    service = Service(Options(data, ("127.0.0.1", 0), ("127.0.0.1", 0), "127.0.0.1", 0, 0), clock)
    await service.start()
    async with httpx.AsyncClient(base_url=f"http://127.0.0.1:{service.ports['staff']}", timeout=20) as http:
        signed = {"name": site.STAFF_NAME, "password": site.STAFF_PASSWORD}
        http.headers["X-Lauschen-Form"] = (await http.post("/api/session", json=signed)).json()["csrf"]
        yield http
        assert service.road.faults.kinds == {}
    await service.close()


async def test_what_was_never_issued_is_not_there_for_any_act(desk: httpx.AsyncClient) -> None:
    for act in ("give-time", "send", "withdraw", "pause", "resume", "forget", "password"):
        body = {
            "give-time": {"seconds": 3600}, "password": {},
            "send": {"channel": "mail", "to": "desk@hollerau.example", "lang": "en"},
        }.get(act)  # fmt: skip
        answer = await desk.post(f"/api/issued/{2**53 - 2}/{act}", json=body)
        assert answer.status_code == 404, (act, answer.text)
    acts = (
        "give-time",
        "shorten",
        "give-back",
        "pause",
        "resume",
        "withdraw",
        "restore",
        "new-code",
        "forget",
    )
    for act in (*acts, "send-again"):
        wish = {"what": act, "issued": [2**53 - 2], "seconds": 3600}
        answer = await desk.post("/api/issued/acts", json=wish)
        assert (answer.status_code, len(answer.json()["refused"])) == (200, 1), (act, answer.text)


@pytest.mark.parametrize("number", ["9" * 30, "9" * 5000, "-1", "9223372036854775808", "1.5", "x"])
async def test_an_id_that_no_row_has_is_an_answer(desk: httpx.AsyncClient, number: str) -> None:
    mac = "02-00-00-AA-BB-01"
    for method, path in (
        ("GET", f"/api/batches/{number}"),
        ("GET", f"/api/batches/1?after={number}"),
        ("GET", f"/api/batches/{number}/slips.pdf"),
        ("GET", f"/api/issued/{number}/slip.png"),
        ("GET", f"/api/issued/{number}/qr.svg"),
        ("POST", f"/api/issued/{number}/withdraw"),
        ("GET", f"/api/guests/{mac}/{number}"),
        ("POST", f"/api/guests/{mac}/{number}/bar"),
        ("GET", f"/api/log?before={number}"),
        ("DELETE", f"/api/roles/{number}"),
        ("GET", f"/api/sheet/{number}/1"),
        ("GET", f"/api/sheet/1/{number}"),
        ("GET", f"/api/access-devices/{number}/packets"),
    ):
        answer = await desk.request(method, path)
        assert answer.status_code in (404, 422), (method, path, answer.status_code)
        assert answer.headers["content-type"] == "application/problem+json"


async def test_a_body_with_a_number_that_nobody_can_hold_is_an_answer_too(desk: httpx.AsyncClient) -> None:
    for plan in ("9" * 30, "9" * 5000):
        body = f'{{"plan": {plan}, "count": 1}}'
        answer = await desk.post("/api/batches", content=body, headers={"Content-Type": "application/json"})
        assert answer.status_code in (400, 422), plan[:40]


async def test_the_dossier_shows_what_refused_a_person_and_how_often(desk: httpx.AsyncClient) -> None:
    dossier = (await desk.get("/api/guests/02-00-00-AA-BB-02/1")).json()
    refused = [(line["text"], line["repeats"]) for line in dossier["log"] if "refused" in line["text"]]
    assert refused == [
        ("Somebody at Garden west: refused, this code was never issued", 0),
        (
            "Somebody at Garden west: refused, the code is in use on its maximum number of devices",
            2,
        ),
    ]
    assert dict(dossier["log"][-1]["steps"])["limits"].startswith("Day visit: in use on 1 of 1 devices")


async def test_how_many_devices_are_in_is_counted_in_one_way(desk: httpx.AsyncClient) -> None:
    """At the desk and in the dossier."""
    batch = (await desk.get("/api/batches/1")).json()
    dossier = (await desk.get("/api/guests/02-00-00-AA-BB-01/1")).json()
    counts = (
        batch["issued"][0]["devices_in"],
        dossier["guest"]["issued"]["devices_in"],
    )
    assert counts == (1, 1)
