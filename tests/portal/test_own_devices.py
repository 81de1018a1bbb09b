"""The status page: which devices are in by what was typed, seen and sent out only by who typed it."""

import re

import httpx
import pytest

from lauschen.core.decide.standing import State
from lauschen.store import devices
from tests.garden import Garden, Guest


async def issue_for_three(staff: httpx.AsyncClient) -> str:
    there = len((await staff.get("/api/desk")).json()["plans"])
    wish = {"name": f"Family {there}", "devices": 3, "seconds": 86_400}
    plan = (await staff.post("/api/plans", json=wish)).json()["id"]
    batch = (await staff.post("/api/batches", json={"plan": plan, "count": 1})).json()
    code: str = batch["issued"][0]["code"]
    return code


@pytest.fixture
async def two(garden: Garden, staff: httpx.AsyncClient) -> tuple[Guest, Guest]:
    """Both in by one code, each at a page of its own."""
    code = await issue_for_three(staff)
    one, other = garden.guests[:2]
    for guest in (one, other):
        await garden.let_in(guest, code)
    await one.open(one.url)
    return one, other


def key(garden: Garden, guest: Guest) -> str:
    return f"{guest.phone.mac:012x}-1"


async def test_each_sees_how_many_are_in_and_the_others(two: tuple[Guest, Guest], garden: Garden) -> None:
    one, other = two
    assert "<h2>2 of 3 devices</h2>" in one.html
    assert "This device" in one.html
    assert f'value="{key(garden, other)}"' in one.html
    assert f'value="{key(garden, one)}"' not in one.html


async def test_one_is_sent_out_by_the_other_and_may_come_back(
    two: tuple[Guest, Guest], garden: Garden
) -> None:
    one, other = two
    answer = await one.post("send-out", {"device": key(garden, other), "csrf": one.csrf()})
    assert answer.status_code == 200
    await garden.until_filter(other, "doorstep")
    await garden.until_state(other, State.AT_DOOR)
    await one.open(one.url)
    assert "<h2>1 of 3 devices</h2>" in one.html
    assert garden.state(one) == (State.INSIDE, None)


async def test_one_that_is_away_is_forgotten(two: tuple[Guest, Guest], garden: Garden) -> None:
    one, other = two
    await garden.point.leave(other.phone)
    await garden.until_state(other, State.LEFT)
    await one.open(one.url)
    assert re.search(r"away since .*?Remove", one.html, re.DOTALL)
    await one.post("send-out", {"device": key(garden, other), "csrf": one.csrf()})
    standing = devices.find_standing(garden.demo.service.reader, other.phone.mac, 1)  # type: ignore[arg-type]
    assert standing is not None
    assert standing.admission is None


@pytest.mark.parametrize("device", ["", "x", "0677a0000000-1", "0677a0000000-" + "9" * 5000, "-1", "٣-١"])
async def test_devices_of_others_are_nobodys(two: tuple[Guest, Guest], device: str) -> None:
    one, _ = two
    answer = await one.post("send-out", {"device": device, "csrf": one.csrf()})
    assert answer.status_code == 403


async def test_a_device_in_by_another_code_is_not_shown_nor_sent_out(
    two: tuple[Guest, Guest], garden: Garden, staff: httpx.AsyncClient
) -> None:
    one, _ = two
    third = garden.guests[2]
    await garden.let_in(third, await issue_for_three(staff))
    await one.open(one.url)
    assert key(garden, third) not in one.html
    answer = await one.post("send-out", {"device": key(garden, third), "csrf": one.csrf()})
    assert answer.status_code == 403
    assert garden.state(third) == (State.INSIDE, None)


async def test_who_only_looks_sees_none_until_the_code_was_typed(
    two: tuple[Guest, Guest], garden: Garden
) -> None:
    one, other = two
    looks = Guest(one.phone, garden.demo.proxies[0].port)
    try:
        await looks.open("http://welcome.hollerau.example/")
        assert looks.url != one.url
        assert "of 3 devices" not in looks.html
        answer = await looks.post("send-out", {"device": key(garden, other), "csrf": looks.csrf()})
        assert answer.status_code == 403
        assert garden.state(other) == (State.INSIDE, None)
    finally:
        await looks.http.aclose()
