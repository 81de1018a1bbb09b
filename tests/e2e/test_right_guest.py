"""What is done at a dossier is done to the guest that it shows, also while another one loads slowly or not at all."""

from playwright.sync_api import Browser, Route, expect

from tests.e2e.conftest import RunningDemo
from tests.e2e.test_views import console


def test_a_dossier_that_loads_shows_nobody_and_offers_no_act(browser: Browser, demo: RunningDemo) -> None:
    page = console(browser, demo, "day")
    page.get_by_role("link", name="Guests").click()
    rows = page.locator("tbody tr")
    expect(rows).not_to_have_count(0)
    first, second = rows.nth(0), rows.nth(1)
    first.click()
    expect(page.get_by_role("button", name="Bar", exact=True)).to_be_visible()
    shown = page.get_by_role("complementary", name="Dossier of").get_attribute("aria-label") or ""
    held: list[Route] = []
    page.route("**/api/guests/*/*", lambda route: held.append(route))  # its dossier does not come
    second.click()
    waiting = page.get_by_role("complementary", name="Dossier", exact=True)
    expect(waiting).to_contain_text("Loading")
    expect(page.get_by_role("button", name="Bar", exact=True)).to_have_count(0)
    expect(page.get_by_role("complementary", name=shown, exact=True)).to_have_count(0)
    held[0].fulfill(status=503, json={"title": "Busy", "status": 503, "detail": "Not now.", "code": "busy"})
    expect(waiting).to_contain_text("Not now.")
    page.unroute("**/api/guests/*/*")
    first.click()
    posted: list[str] = []
    page.on("request", lambda one: posted.append(one.url) if one.method == "POST" else None)
    page.get_by_role("button", name="Bar", exact=True).click()
    mac = shown.removeprefix("Dossier of ")
    expect(page.get_by_role("complementary", name=shown, exact=True)).to_contain_text("barred since")
    assert [url.split("/")[-3] for url in posted if url.endswith("/bar")] == [mac]
