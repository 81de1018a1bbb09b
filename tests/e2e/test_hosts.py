"""A guest asks for a host, without JavaScript; the host answers on a phone; the desk sees both."""

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.e2e.conftest import RunningDemo
from tests.e2e.test_handed_out import ENSEMBLE, phone, until_online
from tests.e2e.test_views import FIRST_STOP, console, overflow, serious


def ask(guest: Page, host: str) -> None:
    guest.goto(FIRST_STOP)
    guest.locator("summary", has_text="Ask your host").click()
    form = guest.locator("form[action$='/ask-host']")
    form.get_by_label("Your name").fill("Ines Harwood")
    form.get_by_label("Your email address").fill("ines@students.hollerau.example")
    form.get_by_label("Who is your host?").select_option(label=host)
    assert overflow(guest) <= 0
    form.get_by_role("button", name="Send request").click()
    expect(guest.get_by_role("heading", name="Waiting for your host")).to_be_visible()
    assert overflow(guest) <= 0


def host_phone(browser: Browser, demo: RunningDemo, width: int) -> Page:
    """A phone that is nobody's guest, with JavaScript so that axe-core runs; our pages have none."""
    page = phone(browser, demo, 0, js=True)
    page.set_viewport_size({"width": width, "height": 640})
    return page


def link_of(mail: dict[str, str], kind: str) -> str:
    found = re.search(rf"http://\S+/{kind}/[0-9a-f]+", mail["text"])
    assert found, mail["text"]
    return found[0]


@pytest.mark.parametrize("width", [390, 320])
def test_a_host_says_yes_and_looks_after_the_guest(browser: Browser, demo: RunningDemo, width: int) -> None:
    guest = phone(browser, demo, ENSEMBLE)
    guest.set_viewport_size({"width": width, "height": 640})
    ask(guest, "Ada Lindqvist · Strings")
    (mail,) = demo.mails(1)
    host = host_phone(browser, demo, width)
    host.goto(link_of(mail, "host"))
    expect(host.get_by_role("heading", name="Ines Harwood would like to get online")).to_be_visible()
    assert (serious(host), max(0, overflow(host))) == ([], 0)
    host.get_by_label("For how long?").select_option(label="7 d, all of Course week")
    host.get_by_label("Message to the guest").fill("Welcome, see you at four.")
    host.get_by_role("button", name="Yes, let them online").click()
    expect(host.get_by_role("heading", name="Ines Harwood can get online")).to_be_visible()
    until_online(guest)  # by itself: nobody touches that page
    expect(guest.get_by_text("Message from your host: Welcome, see you at four.")).to_be_visible()
    assert overflow(guest) <= 0
    host.get_by_role("button", name="Email me my link").click()
    expect(host.get_by_text("We have sent the link")).to_be_visible()
    own = next(one for one in demo.mails(3) if "/hosts/" in one["text"])
    host.goto(link_of(own, "hosts"))
    host.get_by_text("What you can do").click()
    assert (serious(host), max(0, overflow(host))) == ([], 0)
    host.get_by_role("button", name="Pause").click()
    expect(host.get_by_text("Paused. Valid until")).to_be_visible()
    guest.reload()
    expect(guest.get_by_text("Your access is paused")).to_be_visible(timeout=20_000)
    host.get_by_text("What you can do").click()
    host.get_by_role("button", name="Resume").click()
    expect(host.get_by_text("Resumed.")).to_be_visible()
    host.context.close()
    guest.context.close()


def test_the_desk_sees_who_waits_and_decides(browser: Browser, demo: RunningDemo) -> None:
    guest = phone(browser, demo, ENSEMBLE)
    ask(guest, "Hana Sedlar · Keys")
    demo.mails(1)
    desk = console(browser, demo, "day")
    desk.get_by_role("link", name="Desk", exact=True).click()
    waiting = desk.get_by_label("Waiting for a host")
    expect(waiting.get_by_text("asked: Hana Sedlar")).to_be_visible()
    waiting.get_by_role("button", name="Ines Harwood").click()
    assert serious(desk) == []
    waiting.get_by_label("A word to the guest").fill("Please come to the gatehouse.")
    waiting.get_by_role("button", name="Say no").click()
    expect(waiting).not_to_be_visible()
    expect(guest.get_by_text("Message from your host: Please come to the gatehouse.")).to_be_visible(
        timeout=20_000
    )
    desk.context.close()
    guest.context.close()


def test_hosts_and_privacy_in_house(browser: Browser, demo: RunningDemo) -> None:
    page = console(browser, demo, "night")
    page.goto(f"http://127.0.0.1:{demo.staff}/settings?part=hosts")
    expect(page.get_by_role("button", name="Ivo Branquinho", exact=True)).to_be_visible()
    assert serious(page) == []
    page.get_by_role("button", name="Ivo Branquinho", exact=True).click()
    page.get_by_role("textbox", name="For at most").fill("2")
    assert serious(page) == []
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("at most 2 d, to 12 guests at once")).to_be_visible()
    page.get_by_role("button", name="From a list").click()
    page.get_by_label(re.compile("^Name, mail, department")).fill("Joan Tamm;joan@hollerau.example\nnobody")
    page.get_by_role("button", name="Take them in").click()
    expect(page.get_by_text("1 added, 0 changed; 1 could not be read and stand above:")).to_be_visible()
    assert serious(page) == []
    page.get_by_role("button", name="Privacy").click()
    form = page.get_by_label("Consent to be written to")
    form.get_by_label("English").fill("You may write to me.")
    form.get_by_role("button", name="Save as version 2").click()
    expect(page.get_by_text("Saved. Who comes from now on reads these words.")).to_be_visible()
    assert serious(page) == []
    page.context.close()
