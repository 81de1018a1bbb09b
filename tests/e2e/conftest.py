"""A real demo in a process of its own, and a real browser: one that *is* a phone, and one at the desk."""

import json
import shutil
import signal
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, Playwright, expect, sync_playwright

PATIENCE_S = 30.0
# HTTP upgrades would make the browser try https first at hosts that speak plain HTTP only.
ARGUMENTS = [
    "--no-sandbox",
    "--disable-features=HttpsUpgrades",
    "--disable-background-networking",
    "--disable-sync",
]


expect.set_options(timeout=PATIENCE_S * 1000)


@dataclass
class RunningDemo:
    """Where everything is."""

    staff: int
    portal: int
    auth: int
    control: int
    proxies: list[int]
    name: str
    password: str
    codes: list[str]
    letterbox: int

    def mails(self, count: int) -> list[dict[str, str]]:
        """What arrived by mail, the newest last, once there are so many."""
        deadline = time.monotonic() + PATIENCE_S
        while len(found := self._read_mails()) < count and time.monotonic() < deadline:
            time.sleep(0.1)
        return found

    def _read_mails(self) -> list[dict[str, str]]:
        with urllib.request.urlopen(f"http://127.0.0.1:{self.letterbox}/mails", timeout=PATIENCE_S) as answer:
            found: list[dict[str, str]] = json.load(answer)
        return found

    def control_post(self, path: str) -> dict[str, object]:
        request = urllib.request.Request(f"http://127.0.0.1:{self.control}{path}", method="POST")
        with urllib.request.urlopen(request, timeout=PATIENCE_S) as answer:
            said: dict[str, object] = json.load(answer)
        return said

    def download(self, phone: int, octets: int) -> int:
        """What an app on the phone does beside the browser."""
        proxy = urllib.request.ProxyHandler({"http": f"http://127.0.0.1:{self.proxies[phone]}"})
        url = f"http://big-files.example/bytes/{octets}"
        with urllib.request.build_opener(proxy).open(url, timeout=PATIENCE_S) as answer:
            return len(answer.read())


@pytest.fixture
def demo(tmp_path: Path) -> Iterator[RunningDemo]:
    said, errors = tmp_path / "demo.json", tmp_path / "errors"
    command = [sys.executable, "-m", "lauschen", "demo", "--no-crowd", "--ports", "free", "--say", str(said)]
    with errors.open("w") as log:
        process = subprocess.Popen(
            command, stdout=subprocess.PIPE, stderr=log, text=True, start_new_session=True
        )
    assert process.stdout is not None
    try:
        # Its last line comes when everything listens; the end of its output, when it could not start.
        assert any("Ctrl-C ends all of it" in line for line in process.stdout), errors.read_text()
        yield RunningDemo(**json.loads(said.read_text()))
        process.send_signal(signal.SIGINT)
        assert process.wait(PATIENCE_S) == 0
        assert "Traceback" not in errors.read_text()
    finally:
        process.kill()
        process.wait()
        process.stdout.close()


@pytest.fixture(scope="session")
def playwright() -> Iterator[Playwright]:
    with sync_playwright() as started:
        yield started


@pytest.fixture(scope="session")
def browser(playwright: Playwright) -> Iterator[Browser]:
    path = shutil.which("chromium")
    assert path, "apt-get install chromium"
    launched = playwright.chromium.launch(executable_path=path, args=ARGUMENTS)
    yield launched
    launched.close()


@pytest.fixture
def phone(browser: Browser, demo: RunningDemo) -> Iterator[Page]:
    """The first phone's browser."""
    context = _phone(browser, demo, 0)
    yield context.new_page()
    context.close()


@pytest.fixture
def second_phone(browser: Browser, demo: RunningDemo) -> Iterator[Page]:
    context = _phone(browser, demo, 1)
    yield context.new_page()
    context.close()


@pytest.fixture
def desk(browser: Browser, demo: RunningDemo) -> Iterator[Page]:
    """Somebody at the desk, signed in; a page error fails the test."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, locale="en-GB")
    page = context.new_page()
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    page.goto(f"http://127.0.0.1:{demo.staff}/")
    page.get_by_label("Name").fill(demo.name)
    page.get_by_label("Password").fill(demo.password)
    page.keyboard.press("Enter")
    page.get_by_role("link", name="Guests").wait_for()
    yield page
    context.close()
    assert errors == []


def _phone(browser: Browser, demo: RunningDemo, number: int) -> BrowserContext:
    return browser.new_context(
        viewport={"width": 390, "height": 844},
        locale="en-GB",
        java_script_enabled=False,
        proxy={"server": f"http://127.0.0.1:{demo.proxies[number]}"},
    )
