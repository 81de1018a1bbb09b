"""Accounts at the page, over HTTP: the name survives a mistake, the password never; and it can be changed there."""

import re

import httpx
import pytest

from tests.garden import PAGE, Garden, Guest


async def issue(staff: httpx.AsyncClient, **more: object) -> str:
    plan = next(p["id"] for p in (await staff.get("/api/desk")).json()["plans"] if p["name"] == "Course week")
    wish = {"plan": plan, "label": "Ines Harwood", "name": "Ines.Harwood", **more}
    answer = await staff.post("/api/accounts", json=wish)
    assert answer.status_code == 201, answer.text
    password: str = answer.json()["password"]
    return password


@pytest.fixture
async def guest(garden: Garden) -> Guest:
    """On the network that takes accounts."""
    found = garden.student
    await garden.demo.joins[4].join(found.phone)
    await found.open()
    return found


async def log_in(guest: Guest, name: str, password: str) -> None:
    await guest.post("by/login", {"name": name, "password": password, "csrf": guest.csrf()})


async def until_inside(garden: Garden, guest: Guest) -> None:
    for _ in range(100):
        await guest.open(guest.url)
        if guest.heading == "You are online.":
            return
        await garden.clock.sleep(0.05)
    raise AssertionError(guest.heading)


async def test_one_of_several_forms_without_a_script_and_whoever_knows_both_is_in(
    garden: Garden, staff: httpx.AsyncClient, guest: Guest
) -> None:
    password = await issue(staff)
    assert re.fullmatch(r"[a-z0-9]{5}-[a-z0-9]{5}", password)
    assert "I have an account" in guest.html
    await log_in(guest, " INES.harwood", "<b>wrong</b>")
    assert "This name and password don&#39;t match" in guest.html
    assert 'value=" INES.harwood"' in guest.html
    assert "wrong&lt;" not in guest.html
    assert re.search(r'<details class="choice" name="choice" open><summary>I have an account', guest.html)
    await log_in(guest, "ines.harwood", password)
    await until_inside(garden, guest)
    guests = (await staff.get("/api/guests")).json()["rows"]
    assert [one["name"] for one in guests if one["state"] == "inside"] == ["Ines Harwood"]


@pytest.mark.parametrize("fields", [{"name": "ines.harwood"}, {"password": "x"}, {}])
async def test_what_is_left_empty_is_a_slip_and_no_guess(guest: Guest, fields: dict[str, str]) -> None:
    for _ in range(4):
        await guest.post("by/login", {**fields, "csrf": guest.csrf()})
        assert "Please enter both" in guest.html


async def test_the_password_is_changed_on_the_page(
    garden: Garden, staff: httpx.AsyncClient, guest: Guest
) -> None:
    password = await issue(staff)
    await log_in(guest, "ines.harwood", password)
    await until_inside(garden, guest)

    async def change(old: str, new: str) -> str:
        garden.clock.advance(2)  # nobody types faster
        await guest.post("password", {"old": old, "new": new, "csrf": guest.csrf()})
        found = re.search(r'class="(?:word|note)"[^>]*>([^<]+)<', guest.html)
        return found[1] if found else ""

    assert "8 to 128 characters" in await change(password, "short")
    assert "too easy" in await change(password, "Ines.Harwood")
    assert "your current password" in await change(password, password)
    assert "This name and password don&#39;t match" in await change("not the old one", "plum-and-pine")
    assert await change(password, "plum-and-pine") == "Your password has been changed."
    assert "This name and password don&#39;t match" in await change(password, "plum-and-more")
    log = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert any("chose a new password on the page" in text for text in log)


async def test_no_password_is_changed_from_elsewhere_or_by_who_is_in_by_something_else(
    garden: Garden, staff: httpx.AsyncClient, guest: Guest
) -> None:
    await issue(staff)
    refused = await guest.http.post(
        f"{guest.url}/password", data={"old": "x", "new": "plum-and-pine"}, headers={"Origin": PAGE}
    )
    assert refused.status_code == 403
    answer = await guest.post("password", {"old": "x", "new": "plum-and-pine", "csrf": guest.csrf()})
    assert answer.status_code == 403  # nobody is in by an account here


async def test_the_desk_gives_another_password_and_prints_no_sheet(
    garden: Garden, staff: httpx.AsyncClient, guest: Guest
) -> None:
    await issue(staff, password="first-of-all")
    (batch,) = [one for one in (await staff.get("/api/desk")).json()["batches"] if one["way"] == "account"]
    (issued,) = batch["issued"]
    assert (issued["code"], batch["label"]) == ("Ines.Harwood", "Ines Harwood")
    sheet = await staff.get(f"/api/batches/{batch['id']}/slips.pdf")
    assert (sheet.status_code, sheet.json()["code"]) == (422, "account_sheet")
    again = await staff.post(f"/api/issued/{issued['id']}/password", json={})
    await log_in(guest, "ines.harwood", "first-of-all")
    assert "This name and password don&#39;t match" in guest.html
    await log_in(guest, "ines.harwood", again.json()["password"])
    await until_inside(garden, guest)


@pytest.mark.parametrize(
    ("more", "code", "field"),
    [
        ({"name": "has blanks"}, "login_signs", "name"),
        ({"name": "02-00-00-AA-BB-01"}, "login_reserved", "name"),
        ({"password": "short"}, "password_length", "password"),
        ({"label": "  "}, "name_missing", "label"),
        ({"until": "2020-01-01T00:00"}, "until_past", "until"),
        ({"plan": 99}, "plan_unknown", "plan"),
    ],
)
async def test_what_cannot_be_issued_names_its_field(
    garden: Garden, staff: httpx.AsyncClient, more: dict[str, object], code: str, field: str
) -> None:
    wish = {"plan": 1, "label": "Ines", "name": "ines", **more}
    refused = await staff.post("/api/accounts", json=wish)
    assert (refused.status_code, refused.json()["code"], refused.json()["field"]) == (422, code, field)


async def test_a_voucher_has_no_password(garden: Garden, staff: httpx.AsyncClient) -> None:
    batch = (await staff.post("/api/batches", json={"plan": 1, "count": 1})).json()
    answer = await staff.post(f"/api/issued/{batch['issued'][0]['id']}/password", json={})
    assert answer.status_code == 404
