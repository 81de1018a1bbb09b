"""RFC 8908: what a device is told that asks by itself, and that nobody is told of another one."""

import httpx

from lauschen.portal.captive import MEDIA_TYPE
from tests.garden import PAGE, Garden


async def asked(garden: Garden, number: int = 0) -> httpx.Response:
    return await garden.guests[number].get(f"{PAGE}/captive")


async def test_at_the_door_inside_and_out_again(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest = garden.guests[0]
    batch = (await staff.post("/api/batches", json={"plan": 1, "count": 1})).json()
    await garden.point.join(guest.phone)
    door = await asked(garden)
    assert door.headers["content-type"] == MEDIA_TYPE
    assert door.headers["cache-control"] == "no-store"  # stricter than `private`
    assert door.json() == {"captive": True, "user-portal-url": f"{PAGE}/"}
    await garden.let_in(guest, batch["issued"][0]["code"])
    inside = (await asked(garden)).json()
    assert inside["captive"] is False
    assert 28_700 < inside["seconds-remaining"] <= 28_800
    assert inside["bytes-remaining"] <= 2_000_000_000
    assert inside["can-extend-session"] is True
    await guest.open(guest.url)
    await guest.log_out()
    assert (await asked(garden)).json()["captive"] is True


async def test_without_an_end_nothing_is_said_of_one(garden: Garden, staff: httpx.AsyncClient) -> None:
    plan = (await staff.post("/api/plans", json={"name": "House"})).json()["id"]
    batch = (await staff.post("/api/batches", json={"plan": plan, "count": 1})).json()
    await garden.let_in(garden.guests[0], batch["issued"][0]["code"])
    assert set((await asked(garden)).json()) == {"captive", "user-portal-url", "can-extend-session"}


async def test_an_address_that_nobody_has_is_told_nothing(garden: Garden) -> None:
    url = f"http://127.0.0.1:{garden.demo.service.ports['portal']}/captive"
    async with httpx.AsyncClient() as http:
        answer = await http.get(url, headers={"Host": "welcome.hollerau.example"})
    assert (answer.status_code, answer.content) == (404, b"")


async def test_two_with_one_address_are_told_nothing(garden: Garden) -> None:
    one, other = garden.guests[:2]
    for guest in (one, other):
        await garden.point.join(guest.phone)
    await garden.road.act(
        lambda tx: tx.conn.execute(
            "UPDATE standing SET framed_ip = (SELECT framed_ip FROM standing WHERE mac = ?) WHERE mac = ?",
            (one.phone.mac, other.phone.mac),
        )
    )
    assert (await asked(garden)).status_code == 404
