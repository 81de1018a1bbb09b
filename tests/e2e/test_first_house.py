"""A real house from nothing to the first guest, by screen, in the order of the README; the device is a stand-in."""

import asyncio
import re
import signal
import subprocess
import sys
import threading
from collections.abc import Callable, Coroutine, Iterator
from concurrent.futures import Future
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from lauschen.road.clock import MovableClock
from lauschen.standins.access_device.device import AccessPoint, Phone
from lauschen.standins.access_device.proxy import PhoneProxy

PAGE, SLIP = "welcome.house.example", "slip.house.example"
SECRET = "the-secret-of-the-hall"
SSID = "Our Guests"


class Hall:
    """An access point with one phone, on a loop of its own beside the browser's."""

    def __init__(self, portal: int, auth: int, acct: int) -> None:
        self._loop = asyncio.new_event_loop()
        self._thread = threading.Thread(target=self._loop.run_forever)
        self._thread.start()
        self.point, self.phone, self.proxy = self.wait(self._make(portal, auth, acct))

    async def _make(self, portal: int, auth: int, acct: int) -> tuple[AccessPoint, Phone, PhoneProxy]:
        clock = MovableClock()
        point = AccessPoint(
            name="hall", address="127.77.0.41", ssid=SSID, bssid="02-77-00-00-00-41", secret=SECRET.encode(),
            clock=clock,
        )  # fmt: skip
        point.start(auth=("127.0.0.1", auth), acct=("127.0.0.1", acct))
        phone = point.add_phone("06-77-A0-00-00-01", "127.77.1.41")
        hosts = {PAGE: ("127.0.0.1", portal), SLIP: ("127.0.0.1", portal)}
        proxy = PhoneProxy(point, phone, clock, hosts, {PAGE})
        await proxy.start(0)
        return point, phone, proxy

    def begin(self, work: Coroutine[Any, Any, Any]) -> "Future[Any]":
        return asyncio.run_coroutine_threadsafe(work, self._loop)

    def wait(self, work: Coroutine[Any, Any, Any]) -> Any:
        return self.begin(work).result(30)

    def close(self) -> None:
        self.wait(self.proxy.close())
        self.wait(self.point.close())
        self._loop.call_soon_threadsafe(self._loop.stop)
        self._thread.join()
        self._loop.close()


class House:
    """`lauschen serve` on an empty folder."""

    def __init__(self, data: Path) -> None:
        command = [
            sys.executable, "-m", "lauschen", "serve", "--data", str(data), "--staff", "127.0.0.1:0",
            "--portal", "127.0.0.1:0", "--radius", "127.0.0.1", "--auth-port", "0", "--acct-port", "0",
            "--site", "Our house", "--zone", "Europe/Vienna",
            "--page-url", f"http://{PAGE}", "--slip-host", SLIP,
        ]  # fmt: skip
        self.process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True, start_new_session=True)
        assert self.process.stdout is not None
        said = ""
        for line in self.process.stdout:
            said += line
            found = re.search(r"Staff: \S+:(\d+) +guest page: port (\d+)\nRADIUS: \S+, (\d+) and (\d+)", said)
            if found is not None:
                break
        assert found is not None, said
        self.staff, self.portal, self.auth, self.acct = (int(port) for port in found.groups())
        self.password = (data / "first-sign-in.txt").read_text().split("password ")[1].strip()

    def close(self) -> None:
        self.process.send_signal(signal.SIGINT)
        assert self.process.wait(30) == 0
        assert self.process.stdout is not None
        self.process.stdout.close()


@pytest.fixture
def house(tmp_path: Path) -> Iterator[House]:
    made = House(tmp_path / "data")
    yield made
    made.close()


@pytest.fixture
def hall(house: House) -> Iterator[Hall]:
    made = Hall(house.portal, house.auth, house.acct)
    yield made
    made.close()


def ticked(page: Page) -> list[str]:
    """Titles of the steps that are done."""
    return [text.split("\n")[0].strip(" ✓") for text in page.locator(".step.done .title").all_inner_texts()]


def until(page: Page, holds: Callable[[], bool]) -> None:
    for _ in range(300):
        if holds():
            return
        page.wait_for_timeout(100)
    raise AssertionError("not in time")


def test_from_an_empty_folder_to_the_first_guest(browser: Browser, house: House, hall: Hall) -> None:
    page = browser.new_context(viewport={"width": 1280, "height": 800}, locale="en-GB").new_page()
    base = f"http://127.0.0.1:{house.staff}"
    page.goto(base)
    page.get_by_label("Name").fill("admin")
    page.get_by_label("Password").fill(house.password)
    page.keyboard.press("Enter")
    page.get_by_label("The first password").fill(house.password)
    for label in ("The new one", "The new one again"):
        page.get_by_label(label, exact=True).fill("an-own-password-of-the-house")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="From nothing to the first guest")).to_be_visible()
    assert ticked(page) == ["A plan"]

    # The network: its name and its SSID.
    page.get_by_role("link", name="Add network").click()
    page.get_by_role("textbox", name="Name, as staff call it").fill("Hall")
    page.get_by_role("textbox", name="SSID: what it must be").fill(SSID)
    page.get_by_role("button", name="Add network").last.click()
    expect(page.get_by_text(f"the SSID is {SSID}")).to_be_visible()

    # The access device: it appears as unknown, and is added with its secret.
    hall.begin(hall.point.join(hall.phone))
    page.get_by_role("link", name="Now", exact=True).click()
    page.get_by_role("link", name="Add", exact=True).first.click()
    form = page.get_by_role("form", name="Access device")
    form.get_by_role("textbox", name="Name", exact=True).fill("Hall west")
    form.get_by_label("Shared secret").fill(SECRET)
    form.locator(".v-select", has_text="Dialect").click()
    page.get_by_role("option", name="re-authorise").click()
    form.get_by_text("Where changes go").click()
    form.get_by_label("at port").fill(str(hall.point.radio.coa_port))
    form.get_by_role("button", name="Add").click()
    expect(page.get_by_role("row", name="Hall west")).to_be_visible()

    # Where devices are placed.
    page.goto(f"{base}/networks")
    page.get_by_role("button", name="Before login", exact=True).click()
    page.get_by_role("textbox", name="VLAN").fill("310")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("VLAN 310, filter before-login").first).to_be_visible()

    # The first voucher.
    page.get_by_role("link", name="Desk", exact=True).click()
    page.get_by_role("button", name="Issue", exact=False).first.click()
    expect(page.get_by_role("img", name=re.compile(r"^Slip of \w{5}-\w{5}$"))).to_be_visible()

    # The first guest.
    until(page, lambda: hall.wait(hall.point.join(hall.phone)))
    page.goto(f"{base}/now")
    until(page, lambda: len(ticked(page)) == 5)
    phone = browser.new_context(
        viewport={"width": 390, "height": 844}, java_script_enabled=False, locale="en-GB",
        proxy={"server": f"http://127.0.0.1:{hall.proxy.port}"},
    ).new_page()  # fmt: skip
    page.goto(f"{base}/desk")
    typed = page.locator("tr.batch td.mono").first.inner_text()
    phone.goto("http://score-of-the-day.example/")
    phone.get_by_label("Code from your slip").fill(typed)
    phone.get_by_role("button", name="Get online").click()
    expect(phone.get_by_role("heading", name="You are online.")).to_be_visible()

    page.goto(f"{base}/now")
    expect(page.get_by_text("1 Visitor").first).to_be_visible()
    expect(page.get_by_role("heading", name="From nothing to the first guest")).to_have_count(0)
    phone.context.close()
    page.context.close()
