"""A guest is told what becomes of their words, and may be written to only after ticking a box of its own."""

import csv
import io
import re

import httpx

from lauschen.core.decide.standing import State
from tests.garden import PAGE, Garden, Guest
from tests.portal import test_hosts as hosts
from tests.portal.test_registering import MAIL, at_the_page, offer, write_in

WORDS = {"en": "You may write to me about <b>concerts</b>.", "de": "Sie dürfen mir schreiben."}


async def asks(garden: Garden, staff: httpx.AsyncClient, *deliveries: str) -> Guest:
    assert (await staff.put("/api/privacy/consent", json={"texts": WORDS})).status_code == 200
    assert (await offer(garden, staff, *deliveries, asks_consent=True)).status_code == 200
    return await at_the_page(garden)


def box(guest: Guest) -> re.Match[str]:
    found = re.search(r'<input type="checkbox" name="consent" value="(\d+)"( checked)?>', guest.html)
    assert found, guest.html
    return found


async def proofs(staff: httpx.AsyncClient) -> list[dict[str, str]]:
    text = (await staff.get("/api/consents.csv")).text
    return list(csv.DictReader(io.StringIO(text)))


async def test_the_box_is_never_ticked_before_the_guest_does(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    guest = await asks(garden, staff)
    assert box(guest)[2] is None
    assert "You may write to me about &lt;b&gt;concerts&lt;/b&gt;." in guest.html
    await write_in(guest, name="Ines Harwood", mail=MAIL)
    assert await proofs(staff) == [], "not ticked, not agreed"


async def test_ticked_it_is_kept_with_version_language_time_and_device(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    guest = await asks(garden, staff, "at_once")
    version = box(guest)[1]
    await write_in(guest, "at_once", name="=Ines", mail=MAIL, consent=version)
    await garden.until_state(guest, State.INSIDE)
    (kept,) = await proofs(staff)
    assert (kept["name"], kept["mail"], kept["address confirmed"]) == ("'=Ines", MAIL, "no")
    assert (kept["version"], kept["language"], kept["network"]) == (version, "en", "Garden")
    assert kept["device"].startswith("06-77-")
    dossier = (await staff.get(garden.path(guest))).json()
    assert f"version {version} of the words, in English; nobody has confirmed" in dossier["consents"][0]
    stored = garden.demo.service.reader.execute("SELECT sealed FROM consent").fetchone()[0]
    assert MAIL.encode() not in stored


async def test_words_that_were_changed_meanwhile_were_not_agreed_to(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    guest = await asks(garden, staff)
    version = box(guest)[1]
    changed = await staff.put("/api/privacy/consent", json={"texts": {"en": "About everything."}})
    assert changed.json()["consent"]["version"] == int(version) + 1
    await write_in(guest, name="Ines Harwood", mail=MAIL, consent=version)
    assert await proofs(staff) == []


async def test_without_an_address_there_is_nothing_to_agree_to(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    guest = await asks(garden, staff)
    await write_in(guest, name="Ines Harwood", consent=box(guest)[1])
    assert await proofs(staff) == []


async def test_the_tick_survives_a_mistake(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest = await asks(garden, staff)
    await write_in(guest, name="", mail=MAIL, consent=box(guest)[1])
    assert "Please fill in the highlighted fields." in guest.html
    assert box(guest)[2] == " checked"
    await write_in(guest, name="", mail=MAIL)
    assert box(guest)[2] is None


async def test_who_asks_a_host_may_agree_too(garden: Garden, staff: httpx.AsyncClient) -> None:
    await staff.put("/api/privacy/consent", json={"texts": WORDS})
    ada, _ = await hosts.offer(garden, staff, asks_consent=True)
    guest = await at_the_page(garden)
    await hosts.ask(guest, ada, mail=MAIL, consent=box(guest)[1])
    assert [kept["mail"] for kept in await proofs(staff)] == [MAIL]


async def test_the_privacy_notice_is_one_tap_away_in_each_language(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    written = await staff.put(
        "/api/privacy/privacy",
        json={"texts": {"en": "We keep little.\n\nWe sell <i>nothing</i>.", "de": "Wenig."}},
    )
    guest = await at_the_page(garden)
    found = re.search(r'href="(/privacy\?lang=en)"', guest.html)
    assert found
    page = (await guest.http.get(PAGE + found[1])).text
    assert "<p>We keep little.</p>\n<p>We sell &lt;i&gt;nothing&lt;/i&gt;.</p>" in page
    assert f"Version {written.json()['privacy']['version']}." in page
    assert "Wenig." in (await guest.http.get(f"{PAGE}/privacy?lang=de")).text
    await staff.put("/api/privacy/privacy", json={"texts": {}})
    await guest.open(guest.url)
    assert "/privacy" not in guest.html
    log = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert any("changed the privacy notice (version" in text for text in log)
