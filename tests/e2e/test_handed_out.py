"""What the house hands out, walked in a browser: from the desk to a phone without JavaScript, and back."""

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.e2e.conftest import RunningDemo
from tests.e2e.test_views import FIRST_STOP, console, overflow, serious

ENSEMBLE = 4
"""The free phone that has joined the network for courses."""


def phone(browser: Browser, demo: RunningDemo, number: int, *, js: bool = False) -> Page:
    context = browser.new_context(
        viewport={"width": 390, "height": 844},
        java_script_enabled=js,
        bypass_csp=js,
        proxy={"server": f"http://127.0.0.1:{demo.proxies[number]}"},
    )
    return context.new_page()


def until_online(page: Page) -> None:
    expect(page.get_by_role("heading", name="You are online.")).to_be_visible(timeout=20_000)


def test_an_account_goes_from_the_desk_to_a_phone_and_gets_a_password_of_its_own(
    browser: Browser, demo: RunningDemo
) -> None:
    desk = console(browser, demo, "day")
    desk.get_by_role("link", name="Desk", exact=True).click()
    desk.locator(".what").click()
    desk.get_by_role("option", name="Account").click()
    desk.get_by_label("Guest", exact=True).fill("Leonie Solveit")
    desk.get_by_label("Name to log in with").fill("Leonie.Solveit")
    assert serious(desk) == []
    desk.keyboard.press("Enter")
    expect(desk.get_by_text("Shown this once")).to_be_visible()
    found = re.search(r"\b[a-z0-9]{5}-[a-z0-9]{5}\b", desk.get_by_role("complementary").inner_text())
    assert found is not None
    guest = phone(browser, demo, ENSEMBLE)
    guest.goto(FIRST_STOP)
    guest.locator("summary", has_text="I have an account").click()
    guest.get_by_label("Account name").fill("leonie.solveit")
    guest.get_by_label("Password").fill("not this one")
    guest.get_by_role("button", name="Get online").last.click()
    expect(guest.get_by_role("alert")).to_contain_text("This name and password don't match")
    expect(guest.get_by_label("Account name")).to_have_value("leonie.solveit")
    guest.get_by_label("Password").fill(found[0])
    guest.keyboard.press("Enter")
    until_online(guest)
    guest.locator("summary", has_text="Change password").click()
    guest.get_by_label("Current password").fill(found[0])
    guest.get_by_label("New password").fill("score-and-stand")
    guest.get_by_role("button", name="Save new password").click()
    expect(guest.get_by_text("Your password has been changed")).to_be_visible()
    assert overflow(guest) <= 0
    desk.get_by_role("link", name="Guests").click()
    for found_by in ("Solveit", "leonie.sol"):
        desk.get_by_label("Find a guest").fill(found_by)
        expect(desk.get_by_role("row", name="Leonie Solveit")).to_be_visible()
    desk.get_by_label("Find a guest").fill("nobody at all")
    expect(desk.get_by_role("row", name="Leonie Solveit")).to_be_hidden()
    guest.get_by_role("button", name="Log out").click()
    expect(guest.get_by_role("heading", name="How would you like to get online?")).to_be_visible(
        timeout=20_000
    )
    guest.context.close()
    desk.context.close()


@pytest.mark.parametrize("lang", ["en-GB", "de-AT"])
def test_a_network_that_is_paused_says_so_to_guests_and_on_now(
    browser: Browser, demo: RunningDemo, lang: str
) -> None:
    desk = console(browser, demo, "day")
    desk.goto(f"http://127.0.0.1:{demo.staff}/networks?network=1&edit=pause")
    desk.get_by_label("Why, as guests read it").fill("Quiet during the concert.")
    desk.get_by_role("button", name="Pause Garden").click()
    expect(desk.get_by_role("button", name="Paused: change or end")).to_be_visible()
    context = browser.new_context(
        viewport={"width": 320, "height": 640},
        locale=lang,
        bypass_csp=True,
        proxy={"server": f"http://127.0.0.1:{demo.proxies[1]}"},
    )
    guest = context.new_page()
    guest.goto(FIRST_STOP)
    title = "Wi-Fi access is paused" if lang == "en-GB" else "Das WLAN ist vorübergehend pausiert"
    expect(guest.get_by_role("heading", name=title)).to_be_visible()
    expect(guest.get_by_text("Quiet during the concert.")).to_be_visible()
    assert serious(guest) == []
    assert overflow(guest) <= 0
    desk.get_by_role("link", name="Now", exact=True).click()
    expect(desk.get_by_text("Garden: Paused since")).to_be_visible()
    desk.goto(f"http://127.0.0.1:{demo.staff}/networks?network=1&edit=pause")
    desk.get_by_role("button", name="End the pause").click()
    expect(desk.get_by_role("button", name="Pause", exact=True)).to_be_visible()
    guest.reload()
    expect(guest.get_by_role("button")).to_be_visible()
    context.close()
    desk.context.close()


def test_a_voucher_for_a_party_is_issued_on_terms_of_its_own(browser: Browser, demo: RunningDemo) -> None:
    desk = console(browser, demo, "night")
    desk.get_by_role("link", name="Desk", exact=True).click()
    desk.get_by_label("For, if you like").fill("Choir")
    desk.get_by_role("button", name="Other terms").click()
    desk.get_by_label("Good from").fill("2099-12-05T10:00")
    desk.get_by_label("Good until").fill("2099-12-04T10:00")
    desk.get_by_label("Devices are counted").focus()
    desk.keyboard.press("ArrowDown")
    desk.get_by_role("option", name="in all").click()
    desk.get_by_label("Devices", exact=True).fill("3")
    assert serious(desk) == []
    desk.keyboard.press("Enter")
    expect(desk.get_by_text("It would end before it begins")).to_be_visible()
    desk.get_by_label("Good until").fill("2099-12-06T18:00")
    expect(desk.get_by_text("good until Sun 6 Dec, 18:00")).to_be_visible()
    desk.get_by_label("Devices", exact=True).press("Enter")
    expect(desk.get_by_role("img", name="Slip of")).to_be_visible()
    expect(desk.get_by_label("Good from")).to_be_hidden()  # the next one is as its plan says again
    desk.context.close()
