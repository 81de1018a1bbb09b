"""The room Rules and plans in a browser: plans and rules are changed and undone with a key; who uses a plan."""

from playwright.sync_api import Browser, expect

from tests.e2e.conftest import RunningDemo
from tests.e2e.test_views import FIRST_STOP, console, serious


def test_what_was_done_to_a_plan_or_the_rules_is_taken_back_by_a_key(
    browser: Browser, demo: RunningDemo
) -> None:
    page = console(browser, demo, "day")
    page.get_by_role("link", name="Rules and plans", exact=True).click()
    plans, done = page.get_by_role("region", name="Plans"), page.get_by_role("status")
    plans.get_by_role("button", name="Day visit").click()
    page.get_by_label("Devices at once").fill("3")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(done).to_contain_text("Day visit is now: Up to 2 GB in all on 3 devices")
    expect(done).to_contain_text("It was: Up to 2 GB in all on one device")
    assert serious(page) == []
    page.keyboard.press("u")
    expect(done).to_have_text("Taken back.")
    expect(plans.get_by_text("Up to 2 GB in all on one device")).to_be_visible()
    plans.get_by_role("button", name="Postcard").click()
    expect(page.get_by_label("Name", exact=True)).to_be_focused()  # the form is whole
    page.get_by_role("button", name="Remove plan").click()
    page.get_by_role("button", name="Really remove it").click()
    expect(done).to_contain_text("Postcard was removed.")
    expect(plans.get_by_role("button", name="Postcard")).to_have_count(0)
    page.keyboard.press("u")
    expect(plans.get_by_role("button", name="Postcard")).to_be_visible()
    rules = page.get_by_role("region", name="Rules").get_by_role("listitem")
    first = rules.first.locator(".says").inner_text()
    page.keyboard.press("Shift+J")
    expect(rules.first.locator(".says")).not_to_have_text(first)
    page.keyboard.press("u")
    expect(rules.first.locator(".says")).to_have_text(first)
    page.context.close()


def test_a_plan_leads_to_who_is_in_by_it_and_the_list_to_who_uses_most(
    browser: Browser, demo: RunningDemo
) -> None:
    guest = browser.new_context(
        java_script_enabled=False, proxy={"server": f"http://127.0.0.1:{demo.proxies[0]}"}
    ).new_page()
    guest.goto(FIRST_STOP)
    guest.locator("#code").fill(demo.codes[0])
    guest.get_by_role("button", name="Get online").click()
    page = console(browser, demo, "night")
    page.get_by_role("link", name="Rules and plans", exact=True).click()
    page.get_by_role("link", name="1 in by it").click()
    rows = page.locator("tbody tr")
    expect(rows).to_have_count(1)
    expect(rows).to_contain_text("Day visit")
    page.get_by_role("button", name="by Day visit").click()
    expect(rows).not_to_have_count(1)
    most = page.get_by_role("group", name="Who uses most")
    most.get_by_role("button", name="today").click()
    expect(page.locator("th.today")).to_have_attribute("aria-sort", "descending")
    assert serious(page) == []
    most.get_by_role("button", name="today").click()
    expect(page.locator("th.since")).to_have_attribute("aria-sort", "descending")
    guest.context.close()
    page.context.close()
