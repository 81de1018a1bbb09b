"""The room Passphrases, the desk that issues one, and a holder's own page."""

import re
from urllib.parse import urlsplit

from playwright.sync_api import Browser, Locator, Page, expect

from tests.e2e.conftest import RunningDemo
from tests.e2e.test_views import console, overflow, serious


def plate(page: Page, name: str) -> Locator:
    """In the house plan; the listening line is a button with names as well."""
    return page.get_by_role("button", name=re.compile(f"^{name}"))


def room(browser: Browser, demo: RunningDemo, theme: str) -> Page:
    page = console(browser, demo, theme)
    page.get_by_role("link", name="Passphrases", exact=True).click()
    expect(plate(page, "Aiko Rosenau")).to_be_visible()
    return page


def test_one_is_issued_shown_replaced_and_withdrawn_each_taken_back_by_a_key(
    browser: Browser, demo: RunningDemo
) -> None:
    page = room(browser, demo, "day")
    expect(page.get_by_role("region", name="Tried in vain")).to_contain_text(
        "tried 14 times at Cloister east with a passphrase that nobody has"
    )
    assert serious(page) == []
    page.get_by_label("For whom or what").fill("Greta Quist")
    page.get_by_label("A private group").check()
    page.get_by_text("Counting devices, placing them, a note").click()
    page.get_by_role("combobox", name="Placed").click(force=True)
    page.get_by_role("option", name="Student").click()
    page.get_by_role("button", name="Issue", exact=True).click()
    expect(page.get_by_text("The passphrase of Greta Quist:")).to_be_visible()
    first = page.locator(".key p").inner_text()
    assert serious(page) == []
    plate(page, "Greta Quist").click()
    panel = page.get_by_role("group", name="The passphrase of Greta Quist")
    expect(panel).to_contain_text("No device has joined with it yet")
    expect(panel).to_contain_text("It places as Student, whatever the rules say.")
    panel.get_by_role("button", name="Reveal").click()
    expect(panel.locator(".key p")).to_have_text(first)
    panel.get_by_role("button", name="New passphrase").click()
    panel.get_by_role("button", name="Make it").click()
    done = panel.get_by_role("status")
    expect(done).to_contain_text("Greta Quist has a new passphrase; the one before ends in a day.")
    expect(panel.locator(".key p")).not_to_have_text(first)
    assert serious(page) == []
    page.keyboard.press("u")
    expect(done).to_have_text("Taken back.")
    panel.get_by_role("button", name="Reveal").click()
    expect(panel.locator(".key p")).to_have_text(first)
    panel.get_by_role("button", name="Withdraw").click()
    expect(panel).to_contain_text("Withdrawn: it lets nobody in.")
    page.keyboard.press("u")
    expect(panel).to_contain_text("No device has joined with it yet")
    page.context.close()


def test_a_device_is_taken_off_and_is_back_by_a_key(browser: Browser, demo: RunningDemo) -> None:
    page = room(browser, demo, "night")
    plate(page, "Farid Winterhall").click()
    panel = page.get_by_role("group", name="The passphrase of Farid Winterhall")
    panel.get_by_role("button", name="Take off").first.click()
    expect(panel.get_by_role("status")).to_contain_text("was taken off, and goes out now.")
    expect(panel.get_by_role("button", name="Let join again")).to_have_count(1)
    assert serious(page) == []
    page.keyboard.press("u")
    expect(panel.get_by_role("button", name="Let join again")).to_have_count(0)
    page.context.close()


def test_many_are_issued_by_a_list_and_the_desk_issues_one(browser: Browser, demo: RunningDemo) -> None:
    page = room(browser, demo, "day")
    page.get_by_label("For whom or what").fill("Stand 1\nStand 2\n\nStand 3;;;2\n")
    page.get_by_role("combobox", name="It is").click(force=True)
    page.get_by_role("option", name="a thing").click()
    page.get_by_role("button", name="Issue 3").click()
    expect(page.get_by_role("status")).to_contain_text("3 are there.")
    expect(plate(page, "Stand 2")).to_be_visible()
    page.get_by_role("link", name="Desk", exact=True).click()
    page.get_by_role("combobox", name="What").click(force=True)
    page.get_by_role("option", name="Passphrase").click()
    page.get_by_label("Guest", exact=True).fill("Jonas Feldmeier")
    page.keyboard.press("Enter")
    expect(page.get_by_alt_text("Slip of Jonas Feldmeier")).to_be_visible()
    assert serious(page) == []
    page.context.close()


def test_who_leaves_the_room_while_many_are_made_finds_them_and_takes_them_back(
    browser: Browser, demo: RunningDemo
) -> None:
    page = room(browser, demo, "day")
    # As if it were pasted: typing so many lines takes the browser half a minute.
    page.get_by_label("For whom or what").evaluate(
        "(field, text) => { field.value = text; field.dispatchEvent(new Event('input')) }",
        "\n".join(f"Chair {n}" for n in range(6000)),
    )
    page.get_by_role("button", name="Issue 6,000").click()
    expect(page.get_by_role("progressbar", name="How far it is")).to_be_visible()
    page.get_by_role("link", name="Guests", exact=True).click()
    page.get_by_role("link", name="Passphrases", exact=True).click()
    expect(page.get_by_role("progressbar", name="How far it is")).to_be_visible()
    page.get_by_role("button", name="Cancel").click()
    expect(page.get_by_role("status")).to_contain_text("Cancelled: nothing was issued.")
    page.get_by_label("Find whose it is").fill("Chair")
    expect(page.get_by_role("region", name="People")).to_contain_text("None of that name.")
    page.context.close()


def test_the_page_of_a_holder_works_on_a_phone_without_javascript(
    browser: Browser, demo: RunningDemo
) -> None:
    page = room(browser, demo, "day")
    plate(page, "Leonie Tamm").click()
    panel = page.get_by_role("group", name="The passphrase of Leonie Tamm")
    panel.get_by_role("button", name="Reveal").click()
    text = panel.locator(".key p").inner_text()
    link = panel.get_by_role("link", name="Their own page").get_attribute("href")
    assert link is not None
    assert urlsplit(link).path.startswith("/keys/")
    phone = browser.new_context(
        viewport={"width": 390, "height": 844},
        java_script_enabled=False,
        proxy={"server": f"http://127.0.0.1:{demo.proxies[0]}"},
    ).new_page()
    phone.goto(f"{link}?lang=en")
    expect(phone.get_by_role("heading", name="The passphrase of Leonie Tamm")).to_be_visible()
    expect(phone.get_by_text(text)).to_have_count(0)
    phone.get_by_role("button", name="Show the passphrase").click()
    expect(phone.get_by_text(text)).to_be_visible()
    phone.get_by_role("button", name="Take off").click()
    expect(phone.get_by_text("It was taken off.")).to_be_visible()
    phone.get_by_role("button", name="Let it join again").click()
    expect(phone.get_by_text("It may join again.")).to_be_visible()
    phone.get_by_role("button", name="Make a new one").click()
    expect(phone.get_by_text("There is a new passphrase.")).to_be_visible()
    phone.context.close()
    wide = browser.new_context(
        viewport={"width": 320, "height": 700},
        bypass_csp=True,
        proxy={"server": f"http://127.0.0.1:{demo.proxies[0]}"},
    ).new_page()
    wide.goto(f"{link}?lang=de")
    assert overflow(wide) <= 0
    assert serious(wide) == []
    wide.context.close()
    page.context.close()
