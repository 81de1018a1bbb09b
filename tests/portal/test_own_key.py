"""The page of somebody who has a private passphrase: by its link alone, and what can be done there."""

import re
from typing import Any
from urllib.parse import urlsplit

import httpx
import pytest

from lauschen.acts.messages.passes import words_of
from lauschen.acts.passphrases.links import LINK_S
from lauschen.core.decide.standing import State
from lauschen.core.ids import CredentialId
from lauschen.demo.site import SLIP_HOST
from lauschen.portal.app import Portal
from lauschen.road.tx import Tx
from lauschen.store import credentials
from lauschen.store.config import settings
from tests.garden import PAGE, Garden
from tests.test_cloister import Residents

SECURE = PAGE.replace("http:", "https:")


@pytest.fixture
async def residents(garden: Garden, staff: httpx.AsyncClient) -> Residents:
    """With a guest page by HTTPS; some TLS server in front of it has opened what is asked here."""
    await move_page(garden, SECURE)
    return Residents(garden, staff)


async def move_page(garden: Garden, url: str) -> None:
    def act(tx: Tx) -> None:
        settings.set_addresses(tx.conn, page_url=url, slip_host=None)
        tx.reconfigure()

    await garden.demo.service.road.act(act)


class Page:
    """Of one holder, as it is opened from a mail."""

    def __init__(self, residents: Residents, made: dict[str, Any]) -> None:
        service = residents.garden.demo.service
        assert made["page"].startswith(f"{SECURE}/keys/")
        self.path = urlsplit(made["page"]).path
        self._app = Portal(service.road, service.reader, service.accounts, service._key_makers).app()

    async def ask(
        self, method: str, path: str | None = None, at: str = SECURE, **form: str
    ) -> httpx.Response:
        transport = httpx.ASGITransport(self._app, client=("127.0.0.1", 50_000))
        async with httpx.AsyncClient(transport=transport, base_url=at, headers={"Origin": at}) as http:
            return await http.request(method, path or self.path, data=form or None)

    async def get(self, lang: str = "en") -> httpx.Response:
        return await self.ask("GET", f"{self.path}?lang={lang}")

    async def press(self, act: str, **form: str) -> str:
        answer = await self.ask("POST", f"{self.path}?lang=en", act=act, **form)
        if answer.status_code != 303:
            return answer.text
        return (await self.ask("GET", answer.headers["location"])).text


async def test_it_shows_devices_and_the_passphrase_only_when_it_is_asked_for(residents: Residents) -> None:
    made = await residents.issue()
    phone = residents.bring(residents.east, made["passphrase"])
    await residents.east.join(phone)
    page = Page(residents, made)
    shown = (await page.get(lang="en")).text
    assert "Wi-Fi passphrase of Ines Harwood" in shown
    assert made["passphrase"] not in shown
    assert re.search(r"Joined \d\d:\d\d, online now\.", shown)
    assert "WLAN-Passwort von Ines Harwood" in (await page.get(lang="de")).text
    told = await page.press("show")
    assert made["passphrase"] in told
    assert "<svg" in told
    assert "viewed the passphrase of Ines Harwood" in (await residents.staff.get("/api/log")).text


async def test_a_device_is_taken_off_there_and_let_in_again(residents: Residents) -> None:
    made = await residents.issue()
    phone = residents.bring(residents.east, made["passphrase"])
    await residents.east.join(phone)
    page = Page(residents, made)
    (device,) = (await residents.full(made))["devices"]
    assert "The device has been removed." in await page.press("take_off", mac=device["mac"])
    await residents.garden.until(lambda: residents.state(phone) is not State.INSIDE)
    assert not await residents.east.join(phone)
    assert "The device can join again." in await page.press("take_on", mac=device["mac"])
    assert await residents.east.join(phone)
    for mac in ("06-77-C1-00-00-99", "nonsense", ""):
        assert "no longer exists" in await page.press("take_off", mac=mac)


async def test_a_new_passphrase_holds_beside_the_one_before(residents: Residents) -> None:
    made = await residents.issue()
    page = Page(residents, made)
    shown = await page.press("renew", overlap="3600")
    assert "You have a new passphrase." in shown
    assert "The previous passphrase works until" in shown
    assert made["passphrase"] not in await page.press("show")
    assert await residents.east.join(residents.bring(residents.east, made["passphrase"]))
    for overlap in ("-1", "7", "nonsense", "9" * 40):
        assert "That did not work" in await page.press("renew", overlap=overlap)
    for _ in range(3):
        residents.garden.clock.advance(60)
        assert "You have a new passphrase." in await page.press("renew", overlap="0")
    assert "too many new passphrases today" in await page.press("renew", overlap="0")


async def test_a_link_that_is_none_or_was_replaced_leads_nowhere(residents: Residents) -> None:
    made = await residents.issue()
    page = Page(residents, made)
    assert (await page.get()).status_code == 200
    for path in ("/keys/", "/keys/zz", "/keys/1-", "/keys/ffffffffffffffff-00", f"{page.path[:-1]}x"):
        answer = await page.ask("GET", path)
        assert answer.status_code in (302, 404), path
        assert "Ines" not in answer.text
    answer = await residents.staff.post(f"/api/passphrases/{made['id']}/link")
    assert answer.status_code == 200
    assert (await page.get()).status_code == 404
    assert (await page.ask("POST", act="show")).status_code == 404
    page.path = urlsplit(answer.json()["page"]).path
    assert (await page.get()).status_code == 200


async def test_what_was_withdrawn_has_nothing_to_show(residents: Residents) -> None:
    made = await residents.issue()
    page = Page(residents, made)
    await residents.staff.post("/api/issued/acts", json={"what": "withdraw", "issued": [made["id"]]})
    shown = (await page.get(lang="en")).text
    assert "Your passphrase has expired" in shown
    assert "Get a new one" not in shown
    assert "has been cancelled" in await page.press("renew", overlap="0")


async def test_a_name_that_is_markup_is_a_name(residents: Residents) -> None:
    made = await residents.issue("<b onload=x>Ines</b>")
    assert "<b onload" not in (await Page(residents, made).get()).text


async def test_the_mail_brings_passphrase_link_and_a_code_that_joins(residents: Residents) -> None:
    made = await residents.issue(
        send={"channel": "mail", "to": "ines@students.hollerau.example", "lang": "en"}
    )
    (mail,) = await residents.garden.demo.letters.mailbox.until(1)
    plain = mail.part("plain")
    assert made["passphrase"] in plain
    assert made["page"] in plain


async def test_by_plain_http_nothing_of_it_is_shown_or_done(residents: Residents) -> None:
    made = await residents.issue()
    page = Page(residents, made)
    led = await page.ask("GET", at=PAGE)
    assert (led.status_code, led.headers["location"]) == (307, f"{SECURE}{page.path}")
    elsewhere = await page.ask("GET", at=f"http://{SLIP_HOST}")  # only the page's own name is led there
    assert elsewhere.status_code == 403
    assert "secure connection" in elsewhere.text
    assert "Ines" not in elsewhere.text
    pressed = await page.ask("POST", at=PAGE, act="show")
    assert pressed.status_code == 403
    assert made["passphrase"] not in pressed.text


async def test_a_link_is_good_for_a_month_and_cannot_be_made_longer(residents: Residents) -> None:
    made = await residents.issue()
    page = Page(residents, made)
    number, until, mark = page.path.removeprefix("/keys/").split("-")
    later = f"/keys/{number}-{int(until, 16) + 86_400:x}-{mark}"
    assert (await page.ask("GET", later)).status_code == 404
    assert (await page.ask("GET", f"/keys/{number}-{mark}")).status_code == 404
    residents.garden.clock.advance(LINK_S - 60)
    assert (await page.get()).status_code == 200
    residents.garden.clock.advance(61)
    gone = await page.get()
    assert gone.status_code == 404
    assert "has expired or was replaced" in gone.text
    assert (await page.ask("POST", act="show")).status_code == 404
    desk = await residents.garden.staff()  # the session of before is over too
    again = await desk.post(f"/api/passphrases/{made['id']}/reveal")
    await desk.aclose()
    page.path = urlsplit(again.json()["page"]).path
    assert (await page.get()).status_code == 200


async def test_without_https_there_is_no_link_and_no_line_about_one_in_the_mail(residents: Residents) -> None:
    await move_page(residents.garden, PAGE)
    made = await residents.issue()
    assert made["page"] is None
    assert (await residents.staff.post(f"/api/passphrases/{made['id']}/reveal")).json()["page"] is None
    assert (await residents.staff.post(f"/api/passphrases/{made['id']}/link")).json() == {"page": None}
    words = await words_to(residents, made)
    assert words["passphrase"] == made["passphrase"]
    assert "link" not in words
    await move_page(residents.garden, SECURE)
    assert (await words_to(residents, made))["link"].startswith(f"{SECURE}/keys/")


async def words_to(residents: Residents, made: dict[str, Any]) -> dict[str, str]:
    """What a mail to this holder says in the places of its template."""

    def write(tx: Tx) -> dict[str, str]:
        return words_of(tx, credentials.get_issued(tx.conn, tx.keys, CredentialId(made["id"])), "en")[1]

    return await residents.garden.demo.service.road.act(write)
