"""A guest asks for a host: the three ways to name one, the mail, yes and no, silence, and who answers first."""

import asyncio
import re
from typing import Any

import httpx
import pytest

from lauschen.core.decide.standing import State
from lauschen.core.messages import budgets
from lauschen.demo import site
from lauschen.standins.mailbox import Mail
from tests.garden import PAGE, Garden, Guest
from tests.portal.test_registering import DAY_VISIT, at_the_page

ADA = {"name": "Ada Lindqvist", "mail": "ada.lindqvist@hollerau.example", "department": "Strings"}
BEN = {"name": "Ben Okafor", "mail": "ben.okafor@hollerau.example"}
MINUTE = 60.0


async def offer(garden: Garden, staff: httpx.AsyncClient, naming: str = "list", **more: Any) -> list[int]:
    """The Garden takes guests by a host, besides vouchers; the ids of both hosts."""
    for host in (await staff.get("/api/hosts")).json():
        assert (await staff.delete(f"/api/hosts/{host['id']}")).status_code == 204
    ids = []
    for host in (ADA, BEN):
        answer = await staff.post("/api/hosts", json=host)
        assert answer.status_code == 201, answer.text
        ids.append(answer.json()["id"])
    way = {
        "way": "sponsor",
        "plan": DAY_VISIT,
        "fields": [{"key": "name", "is_required": True}, {"key": "mail"}, {"key": "reason"}],
        "naming": naming,
        "wait_minutes": 30,
        "remind_minutes": 10,
        **more,
    }
    answer = await staff.put("/api/networks/1/ways", json={"ways": [way, {"way": "voucher"}]})
    assert answer.status_code == 200, answer.text
    rules = [{"way_in": None, "network": None, "plan": None, "role": 2}]
    placed = await staff.put("/api/rules", json={"rules": rules, "last_role": None})
    assert placed.status_code == 200, placed.text
    return ids


async def ask(guest: Guest, host: object, **answers: str) -> httpx.Response:
    return await guest.post(
        "ask-host", {"csrf": guest.csrf(), "host": str(host), "name": "Ines Harwood", **answers}
    )


async def mails(garden: Garden, count: int) -> list[Mail]:
    return list(await garden.demo.letters.mailbox.until(count))


def link_of(mail: Mail, kind: str = "host") -> str:
    found = re.search(rf"http://\S+(/{kind}/[0-9a-f]{{32}})", mail.part("plain"))
    assert found, mail.part("plain")
    return found[1]


async def host_page(browser: Guest, link: str, **fields: str) -> str:
    """What the page behind a link shows, or answers when a button is pressed."""
    if fields:
        answer = await browser.http.post(
            PAGE + link, data=fields, headers={"Origin": PAGE}, follow_redirects=True
        )
    else:
        answer = await browser.http.get(PAGE + link)
    return answer.text


async def test_nothing_that_a_guest_writes_is_a_link_in_the_mail(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    ada, _ = await offer(garden, staff)
    guest = await at_the_page(garden)
    await ask(
        guest,
        ada,
        name="Ines evil.example",
        mail="ines@students.hollerau.example",
        reason="http://evil.example/a",
    )
    (mail,) = await mails(garden, 1)
    for part in ("plain", "html"):
        assert "evil.example" not in mail.part(part)
        assert "http://evil" not in mail.part(part)
        assert "ines@students.hollerau.example" in mail.part(part)
    assert "evil.example" in await host_page(guest, link_of(mail))


async def test_a_yes_lets_the_waiting_device_in_by_itself(garden: Garden, staff: httpx.AsyncClient) -> None:
    ada, _ = await offer(garden, staff)
    guest = await at_the_page(garden)
    assert f'<option value="{ada}">Ada Lindqvist · Strings</option>' in guest.html
    answer = await ask(guest, ada, mail="ines@students.hollerau.example", reason="viola lesson")
    assert "We asked Ada Lindqvist at " in guest.html
    assert answer.headers["refresh"] == "5"
    (mail,) = await mails(garden, 1)
    assert mail.to == ADA["mail"]
    assert "Ines Harwood would like to get online" in mail.part("plain")
    assert "Reason: viola lesson" in mail.part("plain")
    page = await host_page(guest, link_of(mail))
    assert "Ines Harwood would like to get online" in page
    assert "viola lesson" in page
    assert garden.state(guest)[0] is State.AT_DOOR, "who reads it decides nothing"
    done = await host_page(
        guest, link_of(mail), answer="yes", length=f"{DAY_VISIT}-0", word="See you at four"
    )
    assert "Ines Harwood can get online" in done
    await garden.until_state(guest, State.INSIDE)
    await guest.open(guest.url)
    assert guest.heading == "You are online."
    assert "Your host said yes. Message from your host: See you at four" in guest.html
    sent = (await mails(garden, 2))[1]
    assert sent.to == "ines@students.hollerau.example"


async def begun(garden: Garden, staff: httpx.AsyncClient, **more: Any) -> tuple[Guest, str]:
    """Somebody waits for Ada; the link that she got."""
    ada, _ = await offer(garden, staff, **more)
    guest = await at_the_page(garden)
    await ask(guest, ada, mail="ines@students.hollerau.example")
    (mail,) = await mails(garden, 1)
    return guest, link_of(mail)


async def answer(guest: Guest, link: str, what: str = "yes", **more: str) -> str:
    return await host_page(guest, link, answer=what, **{"length": f"{DAY_VISIT}-0", **more})


async def waiting(staff: httpx.AsyncClient) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = (await staff.get("/api/vouchings")).json()
    return found


async def wait_for(garden: Garden, staff: httpx.AsyncClient, count: int) -> dict[str, Any]:
    """The only one who waits, once so many were asked."""
    async with asyncio.timeout(10):
        while True:
            (one,) = await waiting(staff)
            if len(one["asked"]) >= count:
                return one
            await garden.road.feed.changed.wait()


async def test_a_scanner_that_opens_links_decides_nothing_and_the_first_answer_counts(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    guest, link = await begun(garden, staff)
    for method in ("GET", "HEAD", "GET"):
        assert (await guest.http.request(method, PAGE + link)).status_code == 200
    assert (await waiting(staff))[0]["state"] == "waiting"
    assert "Ines Harwood was turned down" in await answer(guest, link, "no", word="Please ask the desk")
    again = await answer(guest, link)
    assert "Turned down by " in again
    assert "by you " in again
    await guest.open(guest.url)
    assert "Your host said no this time" in guest.html
    assert "Message from your host: Please ask the desk" in guest.html
    assert garden.state(guest)[0] is State.AT_DOOR
    told = (await mails(garden, 2))[1]
    assert "Please ask the desk" in told.part("plain")


async def test_a_typed_name_is_answered_alike_whether_there_is_such_a_host_or_not(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    await offer(garden, staff, "name")
    pages = []
    for number, name in ((0, "lindqvist ADA"), (1, "Nobody Atall")):
        guest = await at_the_page(garden, number)
        answer = await ask(guest, name)
        assert answer.headers["refresh"] == "5"
        pages.append(re.sub(r"/visit/[\w-]+|value=\"\w{32}\"|[0-9A-F-]{17}|\d\d:\d\d", "", guest.html))
    assert pages[0] == pages[1]
    assert "Lindqvist" not in pages[0]
    (mail,) = await mails(garden, 1)
    assert mail.to == ADA["mail"]
    unknown = next(one for one in await waiting(staff) if not one["asked"])
    assert unknown["named"] == "Nobody Atall"
    garden.clock.advance(31 * MINUTE)
    for number in (0, 1):
        await garden.guests[number].open(garden.guests[number].url)
    log = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert "Ines Harwood named Nobody Atall as host, but no single host has that name" in log


@pytest.mark.parametrize(
    ("typed", "whose"),
    [("ada.lindqvist@HOLLERAU.example", ADA["mail"]), ("kai@hollerau.example", "kai@hollerau.example")],
)
async def test_an_address_in_the_houses_domain_need_not_be_on_the_list(
    garden: Garden, staff: httpx.AsyncClient, typed: str, whose: str
) -> None:
    await offer(garden, staff, "domain", domains=["Hollerau.example"])
    guest = await at_the_page(garden)
    assert "It ends with @hollerau.example." in guest.html
    await ask(guest, "kai@elsewhere.example")
    assert "Only people who work here can be asked" in guest.html
    await ask(guest, typed)
    (mail,) = await mails(garden, 1)
    assert mail.to == whose
    await answer(guest, link_of(mail))
    await garden.until_state(guest, State.INSIDE)


async def test_reminded_then_a_stand_in_then_over(garden: Garden, staff: httpx.AsyncClient) -> None:
    ada, ben = await offer(garden, staff)
    ways = (await staff.get("/api/networks")).json()["networks"][0]["ways"]
    ways[0]["stand_in"] = ben
    assert (await staff.put("/api/networks/1/ways", json={"ways": ways})).status_code == 200
    guest = await at_the_page(garden)
    await ask(guest, ada)
    await mails(garden, 1)
    garden.clock.advance(11 * MINUTE)
    first, reminder = await mails(garden, 2)
    assert reminder.subject == "Ines Harwood is still waiting for your answer"
    assert link_of(reminder) == link_of(first)
    garden.clock.advance(20 * MINUTE)
    third = (await mails(garden, 3))[2]
    assert third.to == BEN["mail"]
    await guest.open(guest.url)
    assert guest.heading == "Waiting for your host", "the guest waits on"
    garden.clock.advance(11 * MINUTE)
    await mails(garden, 4)
    garden.clock.advance(20 * MINUTE)
    await garden.until(lambda: "over" in _states(garden))
    await guest.open(guest.url)
    assert "Nobody answered." in guest.html
    late = await answer(guest, link_of(third))
    assert "This request has expired" in late
    assert garden.state(guest)[0] is State.AT_DOOR


def _states(garden: Garden) -> list[str]:
    return [row[0] for row in garden.demo.service.reader.execute("SELECT state FROM vouching")]


async def test_two_hosts_answer_and_the_first_one_counts(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, link = await begun(garden, staff)
    (one,) = await waiting(staff)
    ben = (await staff.get("/api/hosts")).json()[1]["id"]
    assert (await staff.post(f"/api/vouchings/{one['id']}/ask", json={"host": ben})).status_code == 204
    other = link_of((await mails(garden, 2))[1])
    await asyncio.gather(answer(guest, other), answer(guest, link, "no"))
    answered = [await host_page(guest, one) for one in (link, other)]
    assert sum("by you " in page for page in answered) == 1
    assert len({"Approved" in page for page in answered}) == 1


async def test_the_guest_asks_somebody_else(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, link = await begun(garden, staff)
    await guest.post("ask-nobody", {"csrf": guest.csrf()})
    assert "Who is your host?" in guest.html
    assert "Ines Harwood is no longer asking" in await answer(guest, link)
    assert garden.state(guest)[0] is State.AT_DOOR
    assert await waiting(staff) == []
    said = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert "The guest no longer waits for a host" in said


async def test_the_desk_decides_in_the_hosts_stead(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, link = await begun(garden, staff)
    (one,) = await waiting(staff)
    assert (one["name"], one["named"]) == ("Ines Harwood", "Ada Lindqvist")
    assert [asked["name"] for asked in one["asked"]] == ["Ada Lindqvist"]
    hour = next(length["key"] for length in one["lengths"] if length["words"].startswith("1 h"))
    path = f"/api/vouchings/{one['id']}/answer"
    assert (await staff.post(path, json={"length": hour, "word": "until five"})).status_code == 204
    await garden.until_state(guest, State.INSIDE)
    shown = (await staff.get(garden.path(guest))).json()["guest"]
    assert 3500 < shown["issued"]["until"] - garden.clock.now() <= 3600
    assert "by the desk " in await host_page(guest, link)
    assert (await staff.post(path, json={"length": None})).status_code == 422, "it was answered"
    trace = str((await staff.get(garden.path(guest))).json())
    assert "the desk, in the host's stead, said yes at " in trace


async def test_the_code_follows_by_text_message_where_that_is_what_they_left(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    fields = [{"key": "name", "is_required": True}, {"key": "phone"}]
    ada, _ = await offer(garden, staff, fields=fields)
    guest = await at_the_page(garden)
    await ask(guest, ada, phone="0664 123456")
    assert "We will also send you the answer" in guest.html
    (mail,) = await mails(garden, 1)
    await answer(guest, link_of(mail))
    texts = garden.demo.letters.gateway.texts
    await garden.until(lambda: bool(texts))
    (text,) = texts
    assert text.to == "+43664123456"
    assert "your code is " in text.text


@pytest.mark.parametrize("what", ["yes", "no"])
async def test_an_answer_that_cannot_be_mailed_holds_up_nothing_and_is_logged(
    garden: Garden, staff: httpx.AsyncClient, monkeypatch: pytest.MonkeyPatch, what: str
) -> None:
    monkeypatch.setattr(budgets, "ADDRESS_DAY", 0)
    guest, link = await begun(garden, staff)
    said = {"yes": "Approved by", "no": "Turned down by"}[what]
    assert said in await answer(guest, link, what)
    if what == "yes":
        await garden.until_state(guest, State.INSIDE)
    said = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert sum("No message with" in text for text in said) == 1


async def test_what_a_host_may_give_binds_them(garden: Garden, staff: httpx.AsyncClient) -> None:
    ada, _ = await offer(garden, staff)
    bound = {**ADA, "longest_minutes": 120, "at_once": 1}
    changed = await staff.put(f"/api/hosts/{ada}", json=bound)
    assert (
        changed.json()["sentence"] == "Everywhere: what the way in gives, at most 2 h, to one guest at once"
    )
    first, second = await at_the_page(garden, 0), await at_the_page(garden, 1)
    await ask(first, ada)
    await ask(second, ada)
    links = [link_of(mail) for mail in await mails(garden, 2)]
    page = await host_page(first, links[0])
    assert re.findall(r'<option value="([^"]+)"', page) == [f"{DAY_VISIT}-7200", f"{DAY_VISIT}-3600"]
    assert "Please choose one of the lengths" in await answer(first, links[0])
    await answer(first, links[0], length=f"{DAY_VISIT}-7200")
    full = await answer(first, links[1], length=f"{DAY_VISIT}-3600")
    assert "your maximum number of guests" in full
    assert (await staff.delete(f"/api/hosts/{ada}")).status_code == 204
    assert "no longer on the list" in await answer(first, links[1], length=f"{DAY_VISIT}-3600")


async def test_a_yes_after_the_guest_has_left_is_a_code_by_mail(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    guest, link = await begun(garden, staff)
    await garden.point.leave(guest.phone)
    await garden.until_state(guest, State.LEFT)
    base = f"http://127.0.0.1:{garden.demo.service.ports['portal']}"
    async with httpx.AsyncClient(base_url=base, headers={"Host": site.PAGE_HOST}) as phone_of_ada:
        assert "Their device is no longer here" in (await phone_of_ada.get(link)).text
        await phone_of_ada.post(link, data={"answer": "yes", "length": f"{DAY_VISIT}-0"})
    sent = (await mails(garden, 2))[1]
    assert sent.to == "ines@students.hollerau.example"
    assert "Code: " in sent.part("plain")
