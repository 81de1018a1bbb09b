"""Asking for a host amiss: forged, too often, too many, for somebody elsewhere, and with something that raises."""

import asyncio
import re
from typing import Any

import httpx
import pytest

from lauschen.acts.hosts import waiting as waiting_acts
from lauschen.core.decide.standing import State
from lauschen.core.messages import budgets
from lauschen.core.ways.sponsor import MOST_LISTED
from lauschen.road.tx import Tx
from lauschen.store.hosts.vouchings import Vouching
from tests.garden import PAGE, Garden
from tests.portal.test_hosts import (
    ADA,
    BEN,
    MINUTE,
    answer,
    ask,
    begun,
    host_page,
    link_of,
    mails,
    offer,
    waiting,
)
from tests.portal.test_registering import at_the_page


async def test_what_guests_write_reaches_hosts_as_text(garden: Garden, staff: httpx.AsyncClient) -> None:
    ada, _ = await offer(garden, staff)
    guest = await at_the_page(garden)
    bad = "<b>Ines</b>\r\nBcc: all@hollerau.example\u202e =1+1"
    await guest.post(
        "ask-host", {"csrf": guest.csrf(), "host": str(ada), "name": bad, "reason": "<script>x</script>"}
    )
    (mail,) = await mails(garden, 1)
    assert mail.parsed["Bcc"] is None
    assert "<b>Ines" not in mail.part("html")
    page = await host_page(guest, link_of(mail))
    assert "<b>Ines" not in page
    assert "<script>" not in page
    assert "\u202e" not in page


async def test_asking_is_bounded_for_a_device(garden: Garden, staff: httpx.AsyncClient) -> None:
    ada, ben = await offer(garden, staff)
    guest = await at_the_page(garden)
    for number in range(5):
        await ask(guest, ada if number % 2 else ben)
        garden.clock.advance(1)
        await guest.post("ask-nobody", {"csrf": guest.csrf()})
        garden.clock.advance(1)
    await ask(guest, ada)
    assert "too many requests today" in guest.html


async def test_the_same_question_sent_twice_is_one(garden: Garden, staff: httpx.AsyncClient) -> None:
    ada, _ = await offer(garden, staff)
    guest = await at_the_page(garden)
    form = {"csrf": guest.csrf(), "host": str(ada), "name": "Ines Harwood"}
    await asyncio.gather(guest.post("ask-host", form), guest.post("ask-host", form))
    await mails(garden, 1)
    assert len(await waiting(staff)) == 1


@pytest.mark.parametrize("host", ["", "999", "x", "1" * 400])
async def test_nobody_is_asked_by_a_forged_choice(
    garden: Garden, staff: httpx.AsyncClient, host: str
) -> None:
    await offer(garden, staff)
    guest = await at_the_page(garden)
    await ask(guest, host)
    for one in await waiting(staff):
        assert one["asked"] == []
    assert garden.demo.letters.mailbox.mails == []


async def test_a_link_that_nobody_was_sent_leads_nowhere(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, link = await begun(garden, staff)
    for bad in (f"{link[:-1]}x", "/host/", f"/host/{'a' * 500}", f"/hosts/{link[6:]}"):
        assert (await guest.http.get(PAGE + bad)).status_code == 404
        assert (await guest.http.post(PAGE + bad, data={"answer": "yes"})).status_code in (404, 403, 405)
        garden.clock.advance(1)
    assert (await waiting(staff))[0]["state"] == "waiting"


async def test_who_is_on_the_list_for_another_network_is_nobody_here(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    """Also where any address of the house would do: the list says where they may vouch."""
    ada, _ = await offer(garden, staff, "domain", domains=["hollerau.example"])
    assert (await staff.put(f"/api/hosts/{ada}", json={**ADA, "networks": [2]})).status_code == 200
    guest = await at_the_page(garden)
    await ask(guest, ADA["mail"])
    await garden.until(lambda: _asked_about(garden))
    (one,) = await waiting(staff)
    assert one["asked"] == []
    refused = await staff.post(f"/api/vouchings/{one['id']}/ask", json={"host": ada})
    assert refused.json()["detail"] == "Ada Lindqvist may not vouch on this network."
    assert garden.demo.letters.mailbox.mails == []


def _asked_about(garden: Garden) -> bool:
    row = garden.demo.service.reader.execute("SELECT count(*) FROM vouching WHERE ask_at IS NULL").fetchone()
    return int(row[0]) > 0


async def test_asking_somebody_else_takes_the_question_before_back(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    guest, first = await begun(garden, staff)
    csrf = guest.csrf()
    ben = (await staff.get("/api/hosts")).json()[1]["id"]
    form = {"csrf": csrf, "host": str(ben), "name": "Ines Harwood"}
    await guest.post("ask-host", form)
    second = link_of((await mails(garden, 2))[1])
    assert len(await waiting(staff)) == 1
    assert "is no longer asking" in await answer(guest, first)
    assert "Ines Harwood can get online" in await answer(guest, second)


async def test_a_guest_who_is_in_by_now_stays_in_by_that(garden: Garden, staff: httpx.AsyncClient) -> None:
    """A yes that comes after the guest found another way is a code for later."""
    guest, link = await begun(garden, staff)
    made = (await staff.post("/api/batches", json={"plan": 2, "count": 1})).json()
    await guest.post("by/code", {"csrf": guest.csrf(), "code": made["issued"][0]["code"]})
    await garden.until_state(guest, State.INSIDE)
    await answer(guest, link)
    shown = (await staff.get(garden.path(guest))).json()["guest"]
    assert shown["issued"]["code"] == made["issued"][0]["code"]


async def test_nothing_but_the_buttons_of_the_page_answers(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, link = await begun(garden, staff)
    for fields in (
        {"answer": "perhaps"},
        {"word": "x"},
        {"answer": "yes"},
        {"answer": "yes", "length": "9-9"},
    ):
        await host_page(guest, link, **fields)
        garden.clock.advance(1)
    assert (await waiting(staff))[0]["state"] == "waiting"


async def test_without_a_mail_server_nobody_can_be_asked(garden: Garden, staff: httpx.AsyncClient) -> None:
    await offer(garden, staff)
    assert (await staff.delete("/api/mail")).status_code == 204
    guest = await at_the_page(garden)
    assert "Who is your host?" not in guest.html


async def test_a_host_who_had_all_mails_of_the_day_has_the_question_waiting(
    garden: Garden, staff: httpx.AsyncClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(budgets, "HOST_DAY", 1)
    ada, _ = await offer(garden, staff)
    first, second = await at_the_page(garden, 0), await at_the_page(garden, 1)
    await ask(first, ada)
    await mails(garden, 1)
    await ask(second, ada)
    conn = garden.demo.service.reader
    await garden.until(lambda: conn.execute("SELECT count(*) FROM question").fetchone()[0] == 2)
    said = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert sum("No message with" in text for text in said) == 1
    assert len(garden.demo.letters.mailbox.mails) == 1


async def test_one_that_raises_holds_up_no_other(
    garden: Garden, staff: httpx.AsyncClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    ada, ben = await offer(garden, staff)
    put = waiting_acts.put_question

    def raise_once(tx: Tx, vouching: Vouching, *others: Any) -> None:
        if vouching.answers["name"] == "Ill Fated":
            raise RuntimeError("made to raise")
        put(tx, vouching, *others)

    monkeypatch.setattr(waiting_acts, "put_question", raise_once)
    first, second = await at_the_page(garden, 0), await at_the_page(garden, 1)
    await ask(first, ada, name="Ill Fated")
    await ask(second, ben)
    (mail,) = await mails(garden, 1)
    assert mail.to == BEN["mail"]
    fault = garden.road.faults.shown(0.0)["vouching"]
    assert re.fullmatch(r"request \d+: RuntimeError: made to raise", fault.reason)
    monkeypatch.undo()
    garden.clock.advance(11 * MINUTE)
    assert ADA["mail"] in {one.to for one in await mails(garden, 3)}


async def test_more_hosts_than_a_phone_lists_are_named_by_typing(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    await offer(garden, staff)
    lines = "\n".join(f"Tutor Number{n};tutor{n}@hollerau.example" for n in range(MOST_LISTED))
    taken = (await staff.post("/api/hosts/lines", json={"text": lines})).json()
    assert taken["added"] == MOST_LISTED
    guest = await at_the_page(garden)
    assert "<select" not in guest.html
    assert len(guest.html) < 30_000
    await ask(guest, "tutor number7")
    (mail,) = await mails(garden, 1)
    assert mail.to == "tutor7@hollerau.example"
