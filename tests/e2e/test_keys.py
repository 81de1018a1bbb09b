"""Single keys at the console can be switched off, and Esc in a list closes the list alone."""

from playwright.sync_api import Browser, expect

from tests.e2e.conftest import RunningDemo
from tests.e2e.test_views import console, serious


def test_single_keys_can_be_switched_off_and_are_remembered(browser: Browser, demo: RunningDemo) -> None:
    page = console(browser, demo, "day")
    page.keyboard.press("?")
    expect(page.get_by_role("heading", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("link", name=demo.name, exact=True).click()
    choice = page.get_by_label("Single keys are shortcuts")
    expect(choice).to_be_checked()
    assert serious(page) == []
    choice.uncheck()
    page.reload()
    expect(choice).not_to_be_checked()
    for key in ("n", "/", "?"):
        page.keyboard.press(key)
    expect(page.get_by_role("heading", name="Keys")).to_have_count(0)
    expect(page).to_have_url(f"http://127.0.0.1:{demo.staff}/you")
    choice.check()
    page.get_by_role("heading", name="Keyboard").click()
    page.keyboard.press("?")
    expect(page.get_by_role("heading", name="Keys")).to_be_visible()


def test_esc_in_a_list_closes_the_list_and_not_the_form_around_it(
    browser: Browser, demo: RunningDemo
) -> None:
    page = console(browser, demo, "day")
    page.goto(f"http://127.0.0.1:{demo.staff}/networks?device=1")
    page.get_by_role("button", name="Change", exact=True).click()
    back = page.get_by_role("button", name="Back")
    expect(back).to_be_visible()
    page.get_by_role("combobox", name="Dialect").focus()
    page.keyboard.press("ArrowDown")
    expect(page.get_by_role("listbox")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("listbox")).to_have_count(0)
    expect(back).to_be_visible()
    page.keyboard.press("Escape")
    expect(back).to_have_count(0)
