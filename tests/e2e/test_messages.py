"""Messages walked in a browser: servers and words in House, a pass to a mailbox, a guest who writes in."""

import re

import pytest
from playwright.sync_api import Browser, expect

from tests.e2e.conftest import RunningDemo
from tests.e2e.test_handed_out import ENSEMBLE, phone, until_online
from tests.e2e.test_views import FIRST_STOP, console, overflow, serious


@pytest.mark.parametrize("theme", ["day", "night"])
def test_the_room_house(browser: Browser, demo: RunningDemo, theme: str) -> None:
    page = console(browser, demo, theme)
    page.get_by_role("link", name="Settings", exact=True).click()
    expect(page.get_by_text("Mail leaves by 127.0.0.1")).to_be_visible()
    assert serious(page) == []
    page.get_by_role("button", name="change").first.click()
    page.get_by_label("Try it: mail to").fill("desk@hollerau.example")
    page.get_by_role("button", name="Send a test now").click()
    expect(page.get_by_text("2.0.0 OK: kept as number 1")).to_be_visible()
    assert serious(page) == []
    page.get_by_role("button", name="Back").click()
    page.get_by_role("button", name="change").nth(1).click()
    assert serious(page) == []
    page.get_by_role("button", name="Back").click()
    page.get_by_role("button", name="add a webhook").click()
    assert serious(page) == []
    page.get_by_role("button", name="What they say").click()
    page.get_by_label("Text", exact=True).fill("Good day {name}: {code}")
    expect(page.get_by_text("Good day Ines Harwood: 3N2D5-98EEV")).to_be_visible()
    page.get_by_label("Text", exact=True).fill("Good day {colour}")
    expect(page.get_by_role("status").get_by_text("{colour} is no word of the list.")).to_be_visible()
    assert serious(page) == []
    page.get_by_role("button", name="Sent and waiting").click()
    expect(page.get_by_text("Nothing was sent yet.")).to_be_visible()
    assert serious(page) == []
    page.context.close()


def test_a_pass_goes_from_the_desk_to_a_mailbox(browser: Browser, demo: RunningDemo) -> None:
    desk = console(browser, demo, "day")
    desk.get_by_role("link", name="Desk", exact=True).click()
    desk.locator(".what").click()
    desk.get_by_role("option", name="Guest pass").click()
    desk.get_by_label("Guest", exact=True).fill("Ines Harwood")
    desk.get_by_label("Send to: mail address or phone number").fill("ines at home")
    desk.keyboard.press("Enter")
    expect(desk.get_by_text("That is no phone number.")).to_be_visible()
    desk.get_by_label("Send to: mail address or phone number").fill("ines@students.hollerau.example")
    assert serious(desk) == []
    desk.keyboard.press("Enter")
    expect(desk.get_by_text("sent to ines@students.hollerau.example")).to_be_visible()
    (mail,) = demo.mails(1)
    found = re.search(r"Code: (\S+)", mail["text"])
    assert found is not None
    expect(desk.get_by_role("cell", name=found[1]).first).to_be_visible()
    desk.get_by_role("button", name="Ines Harwood", exact=True).click()
    desk.get_by_role("button", name=f"Send {found[1]}").click()
    expect(desk.get_by_label("Send to: mail address or phone number").last).to_have_value(
        "ines@students.hollerau.example"
    )
    desk.context.close()


@pytest.mark.parametrize("width", [390, 320])
def test_a_guest_writes_in_reads_the_mail_and_stays(browser: Browser, demo: RunningDemo, width: int) -> None:
    """Without JavaScript; the mail's link is opened on the same phone."""
    guest = phone(browser, demo, ENSEMBLE)
    guest.set_viewport_size({"width": width, "height": 640})
    guest.goto(FIRST_STOP)
    guest.locator("summary", has_text="Register").click()
    guest.get_by_role("textbox", name="Your name").fill("Ines Harwood")
    guest.get_by_role("textbox", name="Your email address").fill("no address")
    guest.locator("form[action$='/register'] button").click()
    # The browser itself knows that this is none; what it lets through the house looks at.
    guest.get_by_role("textbox", name="Your email address").fill("ines@nowhere")
    guest.locator("form[action$='/register'] button").click()
    expect(guest.get_by_role("alert")).to_contain_text("This is not a valid email address.")
    expect(guest.get_by_role("textbox", name="Your name")).to_have_value("Ines Harwood")
    guest.get_by_role("textbox", name="Your email address").fill("ines@students.hollerau.example")
    guest.locator("form[action$='/register'] button").click()
    until_online(guest)
    expect(guest.get_by_text("confirm your address by")).to_be_visible()
    assert overflow(guest) <= 0
    (mail,) = demo.mails(1)
    link = re.search(r"http://\S+/confirm/\w+", mail["text"])
    assert link is not None
    reader = phone(browser, demo, ENSEMBLE, js=True)
    reader.goto(link[0])
    expect(reader.get_by_role("heading", name="Is this you?")).to_be_visible()
    assert serious(reader) == []
    reader.get_by_role("button", name="Yes, this is me").click()
    expect(reader.get_by_role("heading", name="Confirmed")).to_be_visible()
    assert serious(reader) == []
    guest.reload()
    expect(guest.get_by_text("Your code for your other devices:")).to_be_visible()
    assert overflow(guest) <= 0
    reader.context.close()
    guest.context.close()
