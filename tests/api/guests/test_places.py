"""The dossier shows what should hold and what was seen, for each place where a guest is."""

import httpx

from lauschen.core.decide.standing import State
from tests.garden import Garden


async def test_what_should_hold_stands_beside_what_was_seen(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest = garden.guests[0]
    code = (await staff.post("/api/batches", json={"plan": 1, "count": 1})).json()["issued"][0]["code"]
    await garden.let_in(guest, code)
    (inside,) = (await staff.get(garden.path(guest))).json()["places"]
    assert (inside["where"], inside["is_here"], inside["agrees"], inside["doing"]) == (
        "Garden west",
        True,
        True,
        "",
    )
    assert inside["should"].startswith("Visitor until ")
    assert inside["seen"].startswith(inside["should"])
    assert "cannot be seen" in inside["seen"]
    garden.road.wake_sender = lambda: None  # nothing is sent yet
    await staff.post(f"{garden.path(guest)}/end-stay")
    (going,) = (await staff.get(garden.path(guest))).json()["places"]
    assert going["agrees"] is False
    assert going["should"] != inside["should"]
    assert (going["seen"], going["doing"][:16]) == (inside["seen"], "Next request at ")


async def test_nothing_of_whoever_has_left(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest = garden.guests[0]
    await garden.point.join(guest.phone)
    await guest.open()
    await garden.point.leave(guest.phone)
    await garden.until_state(guest, State.LEFT)
    assert (await staff.get(garden.path(guest))).json()["places"] == []
