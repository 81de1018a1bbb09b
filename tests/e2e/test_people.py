"""Somebody is added for the desk, signs in, sees what is theirs, and is sent off."""

import re

import pyotp
from playwright.sync_api import Browser, Page, expect

from tests.e2e.conftest import RunningDemo
from tests.e2e.test_views import WIDTHS, console, overflow, serious

OWN = "score-and-stand-22"


def first_sign_in(browser: Browser, demo: RunningDemo, name: str, password: str) -> Page:
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    page.goto(f"http://127.0.0.1:{demo.staff}/")
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(password)
    page.keyboard.press("Enter")
    fields = page.locator("input[type=password]")
    expect(fields).to_have_count(3)
    for number, text in enumerate((password, OWN, OWN)):
        fields.nth(number).fill(text)
    page.keyboard.press("Enter")
    page.get_by_role("link", name="Guests").wait_for()
    return page


def test_somebody_for_the_desk(browser: Browser, demo: RunningDemo) -> None:
    chief = console(browser, demo, "day")
    chief.goto(f"http://127.0.0.1:{demo.staff}/settings?part=people")
    form = chief.get_by_role("form", name="Add somebody")
    form.get_by_label("Name to sign in with").fill("mirela")
    form.get_by_role("button", name="Add").click()
    password = chief.locator(".note b").inner_text()
    for width in WIDTHS:
        chief.set_viewport_size({"width": width, "height": 800})
        assert overflow(chief) <= 0
    assert serious(chief) == []

    desk = first_sign_in(browser, demo, "mirela", password)
    expect(desk.get_by_role("navigation", name="Rooms").get_by_role("link")).to_have_text(
        ["Now", "Desk", "Guests", "Passphrases"]
    )
    desk.goto(f"http://127.0.0.1:{demo.staff}/networks")
    expect(desk.get_by_text("This room is for who sets up the house.")).to_be_visible()
    desk.goto(f"http://127.0.0.1:{demo.staff}/desk")
    desk.get_by_role("button", name="Issue 10").click()
    expect(desk.locator("td.code")).to_have_count(10)

    chief.set_viewport_size({"width": 1280, "height": 800})
    chief.get_by_role("button", name="mirela", exact=True).click()
    chief.get_by_role("button", name="Remove").click()
    chief.get_by_role("button", name="Really remove it").click()
    expect(chief.get_by_text("mirela is out.")).to_be_visible()
    desk.get_by_role("link", name="Guests").click()
    expect(desk.get_by_role("heading", name="Who is at the desk?")).to_be_visible()


def test_an_auditor_sees_everything_and_is_shown_nothing_to_press(
    browser: Browser, demo: RunningDemo
) -> None:
    chief = console(browser, demo, "day")
    chief.goto(f"http://127.0.0.1:{demo.staff}/settings?part=people")
    form = chief.get_by_role("form", name="Add somebody")
    form.get_by_label("Name to sign in with").fill("edda")
    form.locator(".duty .v-field").click()
    chief.get_by_role("option", name="auditor").click()
    form.get_by_role("button", name="Add").click()
    auditor = first_sign_in(browser, demo, "edda", chief.locator(".note b").inner_text())
    expect(auditor.get_by_role("navigation", name="Rooms").get_by_role("link")).to_have_count(7)
    auditor.goto(f"http://127.0.0.1:{demo.staff}/desk")
    expect(auditor.get_by_text("Today and yesterday")).to_be_visible()
    expect(auditor.get_by_role("button", name="Issue")).to_have_count(0)
    auditor.goto(f"http://127.0.0.1:{demo.staff}/settings?part=people")
    expect(auditor.get_by_text("edda").first).to_be_visible()
    expect(auditor.get_by_role("form", name="Add somebody")).to_have_count(0)
    press = re.compile("^(Add|Save|Remove|Change|change|Pause|Up|Down|set it up|Send)")
    for address in (
        "networks",
        "rules",
        "settings",
        "settings?part=hosts",
        "settings?part=words",
        "settings?part=slips",
    ):
        auditor.goto(f"http://127.0.0.1:{demo.staff}/{address}")
        expect(auditor.locator("main h1, main h2").first).to_be_attached()
        expect(auditor.get_by_role("button", name=press)).to_have_count(0)
    auditor.goto(f"http://127.0.0.1:{demo.staff}/networks?edit=ways&network=1")
    expect(auditor.get_by_text("What the page of Garden offers")).to_be_visible()
    expect(auditor.get_by_role("button", name="Save")).to_have_count(0)


def test_an_invitation_limits_and_a_second_factor(browser: Browser, demo: RunningDemo) -> None:
    base = f"http://127.0.0.1:{demo.staff}"
    chief = console(browser, demo, "night")
    chief.goto(f"{base}/settings?part=people")
    form = chief.get_by_role("form", name="Add somebody")
    form.get_by_label("Name to sign in with").fill("odile")
    form.get_by_label("Mail address, to invite them").fill("odile@hollerau.example")
    form.get_by_role("button", name="With limits").click()
    form.get_by_label("Codes with one gesture").fill("5")
    assert serious(chief) == []
    form.get_by_role("button", name="Invite").click()
    expect(chief.get_by_role("row", name="odile").get_by_text("5 at once.")).to_be_visible()
    (mail,) = demo.mails(1)
    link = re.search(r"http://\S+/invited#\S+", mail["text"])
    assert link is not None

    page = browser.new_context(viewport={"width": 390, "height": 844}, bypass_csp=True).new_page()
    page.goto(link[0])
    assert (serious(page), max(0, overflow(page))) == ([], 0)
    page.get_by_label("Password").fill(OWN)
    page.get_by_label("The same again").fill(OWN)
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_label("Name")).to_have_value("odile")
    page.get_by_label("Password").fill(OWN)
    page.keyboard.press("Enter")
    page.get_by_role("link", name="odile").click()
    expect(page.get_by_text("What you may give: 5 at once.")).to_be_visible()
    page.get_by_role("button", name="Turn it on").click()
    totp = pyotp.TOTP(page.locator(".scan b").inner_text())
    page.get_by_label("Six digits").fill(totp.now())
    page.get_by_label("Your password").fill(OWN)
    assert (serious(page), max(0, overflow(page))) == ([], 0)
    page.get_by_role("button", name="Turn it on").click()
    recovery = page.locator(".codes li").first.inner_text()
    page.get_by_role("button", name="sign out").click()
    page.get_by_label("Name").fill("odile")
    page.get_by_label("Password").fill(OWN)
    page.keyboard.press("Enter")
    page.get_by_label("Code of your second factor").fill(recovery)
    page.keyboard.press("Enter")
    page.get_by_role("link", name="odile").wait_for()

    chief.get_by_role("button", name="Programs").click()
    chief.get_by_label("Name, as the log calls it").fill("Rooms")
    chief.get_by_role("button", name="Add", exact=True).click()
    expect(chief.get_by_text(re.compile("^lau_"))).to_be_visible()
    assert serious(chief) == []
    chief.get_by_role("button", name="Activity record").click()
    expect(chief.get_by_role("cell", name="odile signed in with a recovery code. 7 are left")).to_be_visible()
    assert serious(chief) == []
