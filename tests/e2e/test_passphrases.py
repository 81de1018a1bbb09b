"""The room Passphrases, the desk that issues one, and a holder's own page."""

import re
import socket
import time
from pathlib import Path

from playwright.sync_api import Browser, Locator, Page, expect

from lauschen.acts.passphrases.links import link_to
from lauschen.acts.staying.reports import Event
from lauschen.store.config import settings
from lauschen.store.passphrases import holders
from tests.cloister import EAST, Cloister
from tests.e2e.conftest import RunningDemo
from tests.e2e.test_views import console, overflow, serious
from tests.place import PHONE, Place
from tests.radius.certificates import Authority
from tests.test_crash import serving

TEXT = "vase-trumpet-elbow-9"


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
        "tried 14 times at Cloister east with a passphrase that does not exist"
    )
    assert serious(page) == []
    page.get_by_label("For whom or what").fill("Greta Quist")
    page.get_by_label("A private group").check()
    page.get_by_text("Counting devices, placing them, a note").click()
    page.get_by_role("combobox", name="Placed").click(force=True)
    page.get_by_role("option", name="Student").click()
    page.get_by_role("button", name="Issue", exact=True).click()
    expect(page.get_by_text("The passphrase of Greta Quist:")).to_be_visible()
    first = page.locator(".key .mono").inner_text()
    assert serious(page) == []
    plate(page, "Greta Quist").click()
    panel = page.get_by_role("group", name="The passphrase of Greta Quist")
    expect(panel).to_contain_text("No device has joined with it yet")
    expect(panel).to_contain_text("It places as Student, whatever the rules say.")
    panel.get_by_role("button", name="Reveal").click()
    expect(panel.locator(".key .mono")).to_have_text(first)
    panel.get_by_role("button", name="New passphrase").click()
    panel.get_by_role("button", name="Make it").click()
    done = panel.get_by_role("status")
    expect(done).to_contain_text("Greta Quist has a new passphrase; the one before ends in a day.")
    expect(panel.locator(".key .mono")).not_to_have_text(first)
    assert serious(page) == []
    page.keyboard.press("u")
    expect(done).to_have_text("Taken back.")
    panel.get_by_role("button", name="Reveal").click()
    expect(panel.locator(".key .mono")).to_have_text(first)
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


def test_without_https_no_link_to_an_own_page_is_offered(browser: Browser, demo: RunningDemo) -> None:
    page = room(browser, demo, "day")
    plate(page, "Leonie Tamm").click()
    panel = page.get_by_role("group", name="The passphrase of Leonie Tamm")
    panel.get_by_role("button", name="Reveal").click()
    expect(panel.locator(".key")).to_contain_text(
        "There is no link to their own page: the guest page uses plain HTTP"
    )
    expect(panel.get_by_role("link", name="Their own page")).to_have_count(0)
    expect(panel.get_by_role("button", name="Another link")).to_have_count(0)
    assert serious(page) == []
    page.context.close()


def test_the_page_of_a_holder_works_on_a_phone_without_javascript(
    browser: Browser, data: Path, tmp_path: Path
) -> None:
    certificate, key, _ = Authority(tmp_path).issue("welcome.hollerau.example")
    with socket.create_server(("127.0.0.1", 0)) as free:
        at = f"127.0.0.1:{free.getsockname()[1]}"
    link = her_link(data, at)
    with serving(data, "--portal-tls", at, "--certificate", str(certificate), "--key", str(key)):
        phone = secure(browser, width=390, height=844)
        phone.goto(f"{link}?lang=en")
        expect(phone.get_by_role("heading", name="Wi-Fi passphrase of Leonie Tamm")).to_be_visible()
        expect(phone.get_by_text(TEXT)).to_have_count(0)
        phone.get_by_role("button", name="Show passphrase").click()
        expect(phone.get_by_text(TEXT)).to_be_visible()
        phone.get_by_role("button", name="Remove").click()
        expect(phone.get_by_text("The device has been removed.")).to_be_visible()
        phone.get_by_role("button", name="Allow again").click()
        expect(phone.get_by_text("The device can join again.")).to_be_visible()
        phone.get_by_role("button", name="Get a new one").click()
        expect(phone.get_by_text("You have a new passphrase.")).to_be_visible()
        phone.context.close()
        narrow = secure(browser, width=320, height=700, bypass_csp=True)
        narrow.goto(f"{link}?lang=de")
        assert overflow(narrow) <= 0
        assert serious(narrow) == []
        narrow.context.close()


def her_link(data: Path, at: str) -> str:
    """Of a house with a guest page there; one device has joined with her passphrase."""
    place = Place(data)
    place.now = time.time()
    settings.set_addresses(place.conn, page_url=f"https://{at}", slip_host=None)
    place.reload()
    cloister = Cloister(place)
    leonie = cloister.issue("Leonie Tamm", TEXT)
    cloister.ask(PHONE, EAST, cloister.key(leonie).id)
    cloister.report(Event.START, at=EAST)
    holder = holders.find(place.conn, leonie)
    assert holder is not None
    link = link_to(place.keys, place.config, holder, place.now)
    place.close()
    assert link is not None
    return link


def secure(browser: Browser, *, width: int, height: int, bypass_csp: bool = False) -> Page:
    return browser.new_context(
        viewport={"width": width, "height": height},
        java_script_enabled=bypass_csp,
        bypass_csp=bypass_csp,
        ignore_https_errors=True,
    ).new_page()
