"""The stand-in itself: it counts what it really carried, cuts flows, and never dials beyond loopback."""

import asyncio
from collections.abc import AsyncIterator

import httpx
import pytest

from lauschen.core.decide.standing import State
from lauschen.standins.access_device.internet import answer
from lauschen.standins.access_device.session import Placement
from tests.garden import FIRST_STOP, Garden


async def test_octets_are_those_that_went_through(garden: Garden) -> None:
    guest, (code,) = garden.guests[0], await garden.demo.issue("Day visit", 1)
    await garden.let_in(guest, code)
    session = guest.phone.session
    assert session is not None
    before = session.octets_out
    body = (await guest.get("http://big-files.example/bytes/250000")).content
    assert 250_000 <= session.octets_out - before < 250_500
    assert len(body) == 250_000


async def test_open_flows_are_cut_when_the_role_changes(garden: Garden) -> None:
    guest, (code,) = garden.guests[0], await garden.demo.issue("Day visit", 1)
    await garden.let_in(guest, code)
    staff = await garden.staff()
    async with guest.http.stream("GET", "http://big-files.example/bytes/999999999") as flow:
        pieces = flow.aiter_raw()
        assert await anext(pieces)
        await staff.post(garden.path(guest) + "/end-stay")
        await garden.until_state(guest, State.AT_DOOR)
        with pytest.raises(httpx.RemoteProtocolError):
            await _read_all(pieces)
    await staff.aclose()


async def _read_all(pieces: AsyncIterator[bytes]) -> None:
    async for _ in pieces:
        pass


async def test_a_phone_that_has_not_joined_reaches_nothing(garden: Garden) -> None:
    assert (await garden.guests[0].http.get(FIRST_STOP)).status_code == 502


async def test_the_control_interface(garden: Garden) -> None:
    async with httpx.AsyncClient(
        base_url=f"http://127.0.0.1:{garden.demo.control_port}", timeout=10
    ) as control:
        assert (await control.post("/phones/1/join")).json()["joined"] is True
        placed = (await control.post("/phones/1/until/doorstep")).json()
        assert (placed["vlan"], placed["session_timeout"]) == ("310", 1800)
        before = (await control.get("/state")).json()["now"]
        after = (await control.post("/clock/advance/100")).json()["now"]
        assert 100 <= after - before < 110
        assert (await control.post("/answer/nonsense")).status_code == 422
        assert (await control.post("/answer/nak")).json() == {"answer": "nak"}
        assert (await control.post("/lose/2")).json()["lose_requests"] == 2
        await control.post("/lose/0")
        await control.post("/phones/1/report")
        assert (await control.post("/phones/1/leave")).json()["associated"] is False


async def test_a_refused_device_stays_out(garden: Garden) -> None:
    garden.point._called = "02-77-00-00-00-11:Somewhere else"
    assert await garden.point.join(garden.guests[0].phone) is False
    await asyncio.sleep(0)
    assert garden.guests[0].phone.session is None


@pytest.mark.parametrize(
    ("host", "path", "status"),
    [
        ("score-of-the-day.example", "/", "200 OK"),
        ("big-files.example", "/bytes/10", "200 OK"),
        ("big-files.example", "/", "502 Bad Gateway"),
        ("unknown.example", "/", "502 Bad Gateway"),
    ],
)
def test_the_table_of_hosts(host: str, path: str, status: str) -> None:
    assert answer(host, path).status == status


def test_where_the_guest_was_going_is_appended() -> None:
    assert Placement().page_for("http://x.example/") is None
    page = Placement(redirect="http://p.example/?t=T").page_for("http://x.example/?a=b&c")
    assert page == "http://p.example/?t=T&url=http%3A%2F%2Fx.example%2F%3Fa%3Db%26c"
    assert (Placement(redirect="http://p.example/T").page_for("x") or "").endswith("/T?url=x")
