"""Small sign-in windows that devices open by themselves: no cookies, no JavaScript, and closed on success."""

import urllib.error
import urllib.request

import pytest
from playwright.sync_api import Browser, expect

from lauschen.demo.site import PAGE_HOST
from tests.e2e.conftest import PATIENCE_S, RunningDemo
from tests.e2e.test_handed_out import until_online

PROBE = "http://probe.example/online"
KIT = "AppleWebKit/605.1.15 (KHTML, like Gecko)"
WINDOWS = {
    "of a phone": (f"Mozilla/5.0 (iPhone; CPU iPhone OS 17_5 like Mac OS X) {KIT} Mobile/15E148", (375, 560)),
    "of a desk computer": (f"Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) {KIT}", (900, 560)),
    "in an app's frame": (
        "Mozilla/5.0 (Linux; Android 14; wv) AppleWebKit/537.36 (KHTML, like Gecko) Version/4.0 Mobile Safari/537.36",
        (360, 600),
    ),
    "of no name": ("", (320, 480)),
}


def probe(demo: RunningDemo, agent: str) -> tuple[int, str]:
    """What the device itself asks, beside its window: status, and where it is led."""

    class Stay(urllib.request.HTTPRedirectHandler):
        def redirect_request(self, *_: object) -> None:  # type: ignore[override]
            return None

    proxy = urllib.request.ProxyHandler({"http": f"http://127.0.0.1:{demo.proxies[0]}"})
    asked = urllib.request.Request(PROBE, headers={"User-Agent": agent})
    try:
        with urllib.request.build_opener(proxy, Stay).open(asked, timeout=PATIENCE_S) as answer:
            return answer.status, ""
    except urllib.error.HTTPError as refused:
        return refused.code, refused.headers.get("Location", "")


@pytest.mark.parametrize("window", WINDOWS)
def test_a_sign_in_window_needs_no_more_than_it_has(browser: Browser, demo: RunningDemo, window: str) -> None:
    agent, (width, height) = WINDOWS[window]
    status, page_url = probe(demo, agent)
    assert (status // 100, page_url.startswith(f"http://{PAGE_HOST}/")) == (3, True)
    context = browser.new_context(
        user_agent=agent,
        viewport={"width": width, "height": height},
        java_script_enabled=False,
        proxy={"server": f"http://127.0.0.1:{demo.proxies[0]}"},
    )
    guest = context.new_page()
    guest.goto(PROBE)
    code = guest.get_by_label("Code")
    expect(code).to_be_in_viewport()
    code.fill("wrong")
    guest.keyboard.press("Enter")
    expect(guest.get_by_role("alert")).to_be_in_viewport()
    guest.get_by_label("Code").fill(demo.codes[0])
    guest.get_by_role("button", name="Get online").click()
    until_online(guest)
    expect(guest.get_by_role("heading", name="You are online.")).to_be_in_viewport()
    assert probe(demo, agent)[0] == 200  # so the device closes the window
    assert context.cookies() == []
    # The window is gone; whoever opens the page again in a browser of their own is known.
    context.close()
    later = browser.new_context(proxy={"server": f"http://127.0.0.1:{demo.proxies[0]}"}).new_page()
    later.goto(page_url)
    until_online(later)
    later.context.close()
