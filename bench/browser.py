"""Guests with 5,000 rows in a real browser: its longest task while one scrolls, sorts and turns pages."""

import shutil
import threading
from collections.abc import Callable

from playwright.sync_api import Page, sync_playwright

from lauschen.demo.site import STAFF_NAME, STAFF_PASSWORD

ARGUMENTS = ["--no-sandbox", "--disable-background-networking", "--disable-sync"]
TURNS = 12
WATCH = """
window.longest = 0; window.long = 0;
new PerformanceObserver((list) => {
  for (const one of list.getEntries()) {
    window.long += 1
    window.longest = Math.max(window.longest, one.duration)
  }
}).observe({ entryTypes: ['longtask'] })
"""
"""Counts tasks of 50 ms and more (W3C Long Tasks)."""


def watch_guests(staff: int, load: Callable[[], object]) -> None:
    """Prints the longest task, while packets of `load` change the list all the time."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"http://127.0.0.1:{staff}/guests")
        page.get_by_label("Name").fill(STAFF_NAME)
        page.get_by_label("Password").fill(STAFF_PASSWORD)
        page.keyboard.press("Enter")
        page.locator("tbody tr").nth(99).wait_for()
        page.evaluate(WATCH)
        changes = threading.Thread(target=load)
        changes.start()
        turns = 0
        while changes.is_alive() or turns < TURNS:
            _look_through(page, turns)
            turns += 1
        changes.join()
        total = page.locator(".pages > span").inner_text().partition(", ")[2]
        print(
            f"a browser at Guests, {total}: {turns} pages scrolled and sorted while the list changes;"
            f" {page.evaluate('window.long')} tasks over 50 ms, the longest {page.evaluate('window.longest'):.0f} ms",
            flush=True,
        )
        browser.close()


def _look_through(page: Page, turn: int) -> None:
    for _ in range(8):
        page.mouse.wheel(0, 900)
        page.wait_for_timeout(60)
    page.get_by_role("button", name="Next" if turn % 6 < 5 else "Before").click()
    if turn % 3 == 0:
        page.locator("thead button").nth(turn % 9).click()
    page.wait_for_timeout(200)
