"""Every view: nothing serious for axe-core, nothing that scrolls sideways, and a guest page for 320 pixels."""

import socket
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.numbers import Kind
from lauschen.radius.wire.signing import Secret
from tests.e2e.conftest import RunningDemo

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
FIRST_STOP = "http://score-of-the-day.example/"
WIDTHS = (1280, 820, 390)
STILL = """async () => {
  const ends = (one) => Number.isFinite(one.effect.getComputedTiming().endTime)
  for (let left = 20; left; left--) {
    await new Promise((next) => requestAnimationFrame(() => requestAnimationFrame(next)))
    const under_way = document.getAnimations().filter(ends)
    if (!under_way.length) return
    await Promise.allSettled(under_way.map((one) => one.finished))
  }
}"""
"""What fades has less contrast while it does."""


def serious(page: Page) -> list[str]:
    """What axe-core finds serious or critical, with the first place of each; once nothing moves or fades any more."""
    page.evaluate(STILL)
    page.add_script_tag(path=AXE)
    found = page.evaluate("() => axe.run(document, { resultTypes: ['violations'] })")
    grave = [v for v in found["violations"] if v["impact"] in ("serious", "critical")]
    return [
        f"{v['id']}: {v['nodes'][0]['html'][:120]} {v['nodes'][0]['failureSummary'][:200]}" for v in grave
    ]


def overflow(page: Page) -> int:
    """Pixels by which the page is wider than its window."""
    return int(page.evaluate("() => document.documentElement.scrollWidth - innerWidth"))


def console(browser: Browser, demo: RunningDemo, theme: str) -> Page:
    page = browser.new_context(viewport={"width": 1280, "height": 800}, bypass_csp=True).new_page()
    page.goto(f"http://127.0.0.1:{demo.staff}/")
    page.evaluate("theme => localStorage.setItem('lauschen.theme', theme)", theme)
    page.reload()
    expect(page.get_by_role("heading", name="Who is at the desk?")).to_be_visible()
    assert serious(page) == []
    page.get_by_label("Name").fill(demo.name)
    page.get_by_label("Password").fill(demo.password)
    page.keyboard.press("Enter")
    page.get_by_role("link", name="Guests").wait_for()
    return page


@pytest.mark.parametrize("theme", ["day", "night"])
def test_the_console(browser: Browser, demo: RunningDemo, theme: str) -> None:
    page = console(browser, demo, theme)
    expect(page.get_by_text("at the door").first).to_be_visible()
    assert serious(page) == []
    page.keyboard.press("l")
    page.get_by_role("region", name="Log").get_by_text("why").first.click()
    assert serious(page) == []
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Desk", exact=True).click()
    page.get_by_role("button", name="Issue 10").click()
    expect(page.locator("td.code")).to_have_count(10)
    assert serious(page) == []
    page.get_by_role("link", name="Guests").click()
    page.get_by_role("row", name="at the door").first.click()
    expect(page.get_by_role("complementary")).to_be_visible()
    assert serious(page) == []
    for width in WIDTHS:
        page.set_viewport_size({"width": width, "height": 800})
        for room in (
            "now",
            "desk",
            "guests",
            "rules",
            "passphrases",
            "networks",
            "networks?device=1",
            "networks?device=1&sheet=1",
            "settings",
            "settings?part=words",
            "settings?part=outbox",
        ):
            page.goto(f"http://127.0.0.1:{demo.staff}/{room}")
            page.get_by_role("link", name="Guests").wait_for()
            assert overflow(page) <= 0, (room, width)
            if room == "guests":
                page.get_by_role("row", name="at the door").first.click()
                expect(page.get_by_role("complementary")).to_be_visible()
                assert overflow(page) <= 0, ("a dossier", width)
    page.context.close()


@pytest.mark.parametrize("theme", ["day", "night"])
def test_the_room_networks(browser: Browser, demo: RunningDemo, theme: str) -> None:
    page = console(browser, demo, theme)
    page.get_by_role("link", name="Networks", exact=True).click()
    expect(page.get_by_role("row", name="Garden west")).to_be_visible()
    assert serious(page) == []
    for query in (
        "edit=network",
        "edit=ways",
        "edit=pause",
        "edit=new",
        "role=1",
        "dialect=1",
        "edit=dialect",
        "device=1&sheet=1",
    ):
        page.goto(f"http://127.0.0.1:{demo.staff}/networks?{query}")
        expect(page.get_by_role("button", name="Back")).to_be_visible()
        assert serious(page) == [], query
    page.goto(f"http://127.0.0.1:{demo.staff}/networks?device=1")
    page.locator("summary", has_text="Access-Request").first.click()
    expect(page.locator("details[open]").get_by_text("Calling-Station-Id")).to_be_visible()
    assert serious(page) == []
    page.context.close()


@pytest.mark.parametrize(
    ("old", "new"),
    [
        ("paths?network=1&edit=ways", "networks?network=1&edit=ways"),
        ("paths?knock=127.77.0.98", "networks?unknown=127.77.0.98"),
        ("placement", "rules"),
        ("house?part=hosts", "settings?part=hosts"),
    ],
)
def test_an_old_address_of_a_room_leads_to_it(
    browser: Browser, demo: RunningDemo, old: str, new: str
) -> None:
    page = console(browser, demo, "day")
    page.goto(f"http://127.0.0.1:{demo.staff}/{old}")
    page.wait_for_url(f"http://127.0.0.1:{demo.staff}/{new}")
    page.context.close()


def test_an_unknown_access_device_is_added_by_screen_and_gets_its_sheet(
    browser: Browser, demo: RunningDemo
) -> None:
    """A device that nobody knows asks; with the secret that it has, it is let in, and the sheet is made."""
    secret = Secret(b"the-secret-of-the-shed")
    body = a.text(Kind.CALLING_STATION_ID, "02-00-00-AA-BB-77") + a.text(Kind.NAS_IDENTIFIER, "Shed")
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as shed:
        shed.bind(("127.77.0.99", 0))
        shed.sendto(secret.access_request(1, bytes(16), body), ("127.0.0.1", demo.auth))
        page = console(browser, demo, "day")
        page.goto(f"http://127.0.0.1:{demo.staff}/networks")
        page.get_by_role("region", name="Unknown access devices").get_by_role("button", name="Add").click()
        expect(page.get_by_label("Name", exact=True)).to_have_value("Shed")
        assert serious(page) == []
        page.get_by_label("Shared secret").fill("not-the-one-it-has")
        page.keyboard.press("Tab")
        expect(page.get_by_text("It signs with another secret.")).to_be_visible()
        page.get_by_label("Shared secret").fill("the-secret-of-the-shed")
        page.keyboard.press("Enter")  # leaves the field, which tries the secret, and sends the form at once
        expect(page.get_by_role("heading", name="Shed")).to_be_visible()
        page.get_by_role("button", name="Open the sheet").click()
        expect(page.get_by_text("the-secret-of-the-shed")).to_be_visible()
        shed.settimeout(5)
        shed.sendto(secret.access_request(2, bytes(16), body), ("127.0.0.1", demo.auth))
        assert parse(shed.recv(4096)).id == 2
    page.reload()
    expect(page.get_by_text("shown once, when it is made")).to_be_visible()
    page.context.close()


def test_the_guest_page(browser: Browser, demo: RunningDemo) -> None:
    context = browser.new_context(
        viewport={"width": 320, "height": 640},
        bypass_csp=True,
        proxy={"server": f"http://127.0.0.1:{demo.proxies[0]}"},
    )
    page = context.new_page()
    page.goto(FIRST_STOP)
    assert serious(page) == []
    assert overflow(page) <= 0
    page.get_by_role("button", name="Get online").click()
    expect(page.get_by_role("alert")).to_be_visible()
    assert serious(page) == []
    page.get_by_label("Code from your slip").fill(demo.codes[4])
    page.get_by_role("button", name="Get online").click()
    expect(page.get_by_role("heading", name="You are online.")).to_be_visible()
    assert serious(page) == []
    assert overflow(page) <= 0
    demo.download(0, 6_000_000)
    demo.control_post("/phones/1/report")
    demo.control_post("/phones/1/until/doorstep")
    page.goto(FIRST_STOP)
    expect(page.get_by_role("heading", name="Your access has ended")).to_be_visible()
    assert serious(page) == []
    page.context.close()
