"""A page that is older than what happened since: two tabs, a shared tablet, an hour that closes, a way that goes."""

import copy

import httpx
import pytest

from lauschen.core.decide.standing import State
from tests.api.networks.test_for_a_while import closed_now
from tests.garden import Garden, Guest
from tests.portal.test_own_devices import issue_for_three

NASTY = "<img src=x onerror=alert(1)>\u202e\n=1+1"
SHOWN = "&lt;img src=x onerror=alert(1)&gt;[202E]"


async def code_for_a_day(garden: Garden) -> str:
    (code,) = await garden.demo.issue("Day visit", 1)
    return code


def other_tab(guest: Guest) -> Guest:
    """The same browser, with a page of its own."""
    tab = copy.copy(guest)
    tab.url = tab.html = ""
    return tab


def shows_code_field(guest: Guest) -> bool:
    return 'id="code"' in guest.html


async def test_what_one_tab_did_the_other_shows_and_does_not_do_again(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    code, first = await code_for_a_day(garden), garden.guests[0]
    await garden.point.join(first.phone)
    second = other_tab(first)
    await first.open()
    await second.open()
    stale = second.html
    await first.type_code(code)
    await garden.until_filter(first, "visitor")
    await garden.until_state(first, State.INSIDE)
    second.html = stale
    await second.type_code(code)
    assert "in use" not in second.html
    await second.open(second.url)
    assert second.heading == "You are online."
    (issued,) = (await staff.get("/api/desk")).json()["batches"][0]["issued"]
    assert (issued["code"].replace("-", ""), issued["devices_in"]) == (code, 1)
    await second.log_out()
    await garden.until_filter(first, "doorstep")
    await garden.until_state(first, State.AT_DOOR)
    await first.open(first.url)
    assert shows_code_field(first)
    gone = await first.log_out()  # pressed in a tab that was not told
    assert gone.status_code == 200
    assert garden.state(first) == (State.AT_DOOR, None)


async def test_on_a_shared_tablet_the_last_guests_page_does_nothing_for_the_next(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    family = await issue_for_three(staff)
    tablet, at_home = garden.guests[:2]
    for guest in (tablet, at_home):
        await garden.let_in(guest, family)
    await tablet.open(tablet.url)
    left_open, key = tablet.html, f"{at_home.phone.mac:012x}-1"
    assert key in left_open
    await tablet.log_out()
    await garden.until_state(tablet, State.AT_DOOR)
    tablet.html = left_open  # the page still shows whose it was, and is pressed on
    await tablet.post("send-out", {"device": key, "csrf": tablet.csrf()})
    assert garden.state(at_home) == (State.INSIDE, None)
    tablet.html = left_open
    await tablet.post("password", {"old": "plum-and-pine", "new": "score-and-stand", "csrf": tablet.csrf()})
    assert "Your password has been changed" not in tablet.html
    await tablet.open(tablet.url)
    assert key not in tablet.html
    # The next guest comes by a code of their own, and sees nothing of the family.
    await tablet.type_code(await code_for_a_day(garden))
    await garden.until_filter(tablet, "visitor")
    await garden.until_state(tablet, State.INSIDE)
    await tablet.open(tablet.url)
    assert tablet.heading == "You are online."
    assert key not in tablet.html


async def place_everybody(staff: httpx.AsyncClient) -> None:
    """Whatever they get in by; a way that leads nowhere is not shown."""
    answer = await staff.put("/api/rules", json={"rules": [], "last_role": 2})
    assert answer.status_code == 200


@pytest.mark.parametrize("how", ["switched off", "closed"])
async def test_a_way_that_closes_while_its_form_is_open_takes_nothing(
    garden: Garden, staff: httpx.AsyncClient, how: str
) -> None:
    code, guest = await code_for_a_day(garden), garden.guests[0]
    await garden.point.join(guest.phone)
    await guest.open()
    assert shows_code_field(guest)
    await place_everybody(staff)
    change = {"is_off": True} if how == "switched off" else {"hours": closed_now(garden)}
    ways = [{"way": "voucher", **change}, {"way": "click_through", "plan": 3}]
    assert (await staff.put("/api/networks/1/ways", json={"ways": ways})).status_code == 200
    answer = await guest.type_code(code)
    assert answer.status_code == 200
    assert garden.state(guest) == (State.AT_DOOR, None)
    assert not shows_code_field(guest)
    assert "by/click_through" in guest.html
    assert "Traceback" not in guest.html
    (issued,) = (await staff.get("/api/desk")).json()["batches"][0]["issued"]
    assert (issued["state"], issued["devices_in"]) == ("fresh", 0)


async def test_no_field_of_the_house_becomes_markup_on_the_page(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    await place_everybody(staff)
    ways = [
        {"way": "voucher", "labels": {"en": NASTY[:40]}},
        {"way": "click_through", "plan": 3, "labels": {"en": "Agree"}, "asks_name": True},
    ]
    assert (await staff.put("/api/networks/1/ways", json={"ways": ways})).status_code == 200
    assert (await staff.put("/api/house-rules", json={"texts": {"en": NASTY}})).status_code == 200
    guest = garden.guests[0]
    await garden.point.join(guest.phone)
    await guest.open()
    assert "<img" not in guest.html
    assert guest.html.count(SHOWN) == 2  # the way's name, and the rules
    await guest.post("by/code", {"code": NASTY, "csrf": guest.csrf()})
    assert "<img" not in guest.html
    sent = {"rules": "2", "rules_lang": "en", "guest_name": NASTY * 9, "csrf": guest.csrf()}
    await guest.post("by/click_through", sent)
    assert "<img" not in guest.html
    pause = {"why": NASTY, "until": None, "ends_stays": False}
    assert (await staff.post("/api/networks/1/pause", json=pause)).status_code == 200
    await guest.open(guest.url)
    assert "<img" not in guest.html
    listed = (await staff.get("/api/guests")).json()["rows"]
    assert not any("\u202e" in str(one) or "\n" in str(one["name"]) for one in listed)
