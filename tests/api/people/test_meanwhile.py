"""What happens to somebody while their password is being looked at: what was proved then is not so any more."""

import asyncio
from collections.abc import Awaitable, Callable
from typing import Any

import httpx
import pyotp
import pytest

from lauschen.core.people.duties import Duty
from tests.api.door.test_sign_in import House, house
from tests.api.people.test_own import MIRELA, code_of
from tests.api.people.test_people import OWN, people, signed_in_as

__all__ = ["house"]


async def meanwhile(
    house: House,
    monkeypatch: pytest.MonkeyPatch,
    asking: Callable[[], Awaitable[httpx.Response]],
    happens: Callable[[], Awaitable[object]],
) -> httpx.Response:
    """The answer to what is asked, when something happens after its password was found to be right."""
    passwords = house.service._office.gate.passwords
    known, goes_on, matches = asyncio.Event(), asyncio.Event(), passwords.matches

    async def held(*args: Any) -> bool:
        found = await matches(*args)
        known.set()
        await goes_on.wait()
        return found

    monkeypatch.setattr(passwords, "matches", held)
    asked = asyncio.ensure_future(asking())
    await known.wait()
    monkeypatch.setattr(passwords, "matches", matches)
    await happens()
    goes_on.set()
    return await asked


def signs_in(house: House) -> Callable[[], Awaitable[httpx.Response]]:
    return lambda: house.browser().post("/api/session", json=MIRELA)


@pytest.mark.parametrize(("method", "path"), [("DELETE", ""), ("POST", "/password")])
async def test_who_is_removed_or_given_another_password_meanwhile_does_not_get_in(
    house: House, monkeypatch: pytest.MonkeyPatch, method: str, path: str
) -> None:
    await signed_in_as(house, Duty.DESK)
    chief = await house.signed_in()
    person = (await people(chief))["mirela"]["id"]
    happens = lambda: chief.request(method, f"/api/people/{person}{path}")  # noqa: E731
    answer = await meanwhile(house, monkeypatch, signs_in(house), happens)
    assert (answer.status_code, answer.json()["code"]) == (422, "sign_in_wrong")
    assert "set-cookie" not in answer.headers
    sql = "SELECT count(*) FROM staff_session WHERE staff = ?"
    assert house.service.reader.execute(sql, (person,)).fetchone() == (0,)


async def test_a_second_factor_that_is_turned_on_meanwhile_is_asked_for(
    house: House, monkeypatch: pytest.MonkeyPatch
) -> None:
    browser = await signed_in_as(house, Duty.DESK)
    secret = (await browser.get("/api/own/second")).json()["secret"]
    given = {"password": OWN, "secret": secret, "code": code_of(house, pyotp.TOTP(secret))}
    answer = await meanwhile(
        house, monkeypatch, signs_in(house), lambda: browser.put("/api/own/second", json=given)
    )
    assert (answer.status_code, answer.json()["code"]) == (422, "second_needed")


@pytest.mark.parametrize("route", ["POST /api/password", "POST /api/own/second/off", "PUT /api/own/second"])
async def test_an_old_password_changes_nothing_once_it_was_replaced(
    house: House, monkeypatch: pytest.MonkeyPatch, route: str
) -> None:
    browser = await signed_in_as(house, Duty.DESK)
    chief = await house.signed_in()
    person = (await people(chief))["mirela"]["id"]
    secret = (await browser.get("/api/own/second")).json()["secret"]
    method, path = route.split()
    body = {
        "POST /api/password": {"old": OWN, "new": "another-score-23"},
        "POST /api/own/second/off": {"password": OWN},
        "PUT /api/own/second": {
            "password": OWN,
            "secret": secret,
            "code": code_of(house, pyotp.TOTP(secret)),
        },
    }[route]
    answer = await meanwhile(
        house,
        monkeypatch,
        lambda: browser.request(method, path, json=body),
        lambda: chief.post(f"/api/people/{person}/password"),
    )
    assert (answer.status_code, answer.json()["code"]) == (422, "sign_in_wrong")
    found = (await people(chief))["mirela"]
    assert (found["waits"], found["has_second"], found["sessions"]) == (True, False, 0)
