"""An address is confirmed by digits or by a link: the first stay, the whole plan after it, held without it."""

import re

import httpx
import pytest

from lauschen.core.decide.standing import State
from lauschen.standins.mailbox import Mail
from tests.garden import PAGE, Garden, Guest
from tests.portal.test_registering import MAIL, at_the_page, offer, write_in

MINUTE = 60.0


async def begun(garden: Garden, staff: httpx.AsyncClient, minutes: int = 15) -> tuple[Guest, Mail]:
    """Somebody is in for a first stay, and a mail has arrived."""
    await offer(garden, staff, "confirm_mail", first_minutes=minutes)
    guest = await at_the_page(garden)
    await write_in(guest, "confirm_mail", name="Ines Harwood", mail=MAIL)
    await garden.until_state(guest, State.INSIDE)
    (mail,) = await garden.demo.letters.mailbox.until(1)
    return guest, mail


def digits_of(mail: Mail) -> str:
    found = re.search(r"Wi-Fi page: (\d{6})", mail.part("plain"))
    assert found, mail.part("plain")
    return found[1]


def link_of(mail: Mail) -> str:
    found = re.search(r"http://\S+/confirm/[0-9a-f]{32}", mail.part("plain"))
    assert found, mail.part("plain")
    return found[0]


async def type_digits(guest: Guest, digits: str) -> httpx.Response:
    await guest.open(guest.url)
    return await guest.post("confirm", {"csrf": guest.csrf(), "code": digits})


async def left_of(garden: Garden, staff: httpx.AsyncClient, guest: Guest) -> tuple[str, float]:
    shown = (await staff.get(garden.path(guest))).json()["guest"]["issued"]
    return shown["state"], shown["until"] - garden.clock.now()


async def test_digits_turn_the_first_stay_into_the_whole_plan(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    guest, mail = await begun(garden, staff)
    await guest.open(guest.url)
    assert "confirm your address by " in guest.html
    assert "i…@students.hollerau.example" in guest.html
    state, seconds = await left_of(garden, staff, guest)
    assert state == "waiting"
    assert 14 * MINUTE < seconds <= 15 * MINUTE
    garden.clock.advance(5 * MINUTE)
    await type_digits(guest, f" {digits_of(mail)[:3]} {digits_of(mail)[3:]} ")
    state, seconds = await left_of(garden, staff, guest)
    assert state == "running"
    assert 8 * 3600 - 30 < seconds <= 8 * 3600, "the whole plan, from the confirmation on"
    await garden.until_state(guest, State.INSIDE)
    log = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert "Ines Harwood confirmed the address" in log


async def test_a_browser_closed_during_the_first_stay_is_told_why_it_ends(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    guest, mail = await begun(garden, staff)
    await guest.open(guest.url)
    assert "You are online for a short time." not in guest.html, "it says so beside the field for the digits"
    await guest.open(PAGE)  # the plain address, in a browser that forgot its visit
    assert "You are online for a short time. To stay online, open the link" in guest.html
    await guest.http.post(link_of(mail), headers={"Origin": PAGE})
    await guest.open(PAGE)
    assert "You are online for a short time." not in guest.html


async def test_reading_the_link_decides_nothing_and_its_button_does(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    """A mail scanner opens links; so does a person, twice."""
    guest, mail = await begun(garden, staff)
    link = link_of(mail)
    for method in ("GET", "HEAD", "GET"):
        answer = await guest.http.request(method, link)
        assert answer.status_code == 200
    assert "Is this you?" in answer.text
    assert "06-77-" in answer.text
    assert (await left_of(garden, staff, guest))[0] == "waiting"
    pressed = await guest.http.post(link, headers={"Origin": PAGE})
    assert "Thank you. Your device stays online" in pressed.text
    assert (await left_of(garden, staff, guest))[0] == "running"
    until = (await left_of(garden, staff, guest))[1] + garden.clock.now()
    garden.clock.advance(60)
    assert "Thank you." in (await guest.http.post(link, headers={"Origin": PAGE})).text
    assert (await left_of(garden, staff, guest))[1] + garden.clock.now() == pytest.approx(until)
    assert "This address has already been confirmed." in (await guest.http.get(link)).text


async def test_never_confirmed_is_held_and_confirmed_later_lets_back_in(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    guest, mail = await begun(garden, staff)
    garden.clock.advance(16 * MINUTE)
    await garden.until_state(guest, State.HELD)
    await guest.open(guest.url)
    assert "Your address was not confirmed" in guest.html
    assert "To continue, use the link or the six digits" in guest.html
    await type_digits(guest, digits_of(mail))
    await garden.until_state(guest, State.INSIDE)
    state, seconds = await left_of(garden, staff, guest)
    assert state == "running"
    assert seconds > 7 * 3600


async def test_wrong_digits_count_as_wrong_codes_do(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, mail = await begun(garden, staff)
    wrong = "000000" if digits_of(mail) != "000000" else "000001"
    for _ in range(4):
        answer = await type_digits(guest, wrong)
        assert "These digits are not correct." in answer.text
        garden.clock.advance(1)
    answer = await type_digits(guest, wrong)
    assert "You can try again from" in answer.text
    garden.clock.advance(1)
    await guest.post("confirm", {"csrf": guest.csrf(), "code": digits_of(mail)})
    assert (await left_of(garden, staff, guest))[0] == "waiting"


async def test_only_what_was_sent_last_confirms(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, first = await begun(garden, staff)
    by = (await left_of(garden, staff, guest))[1] + garden.clock.now()
    garden.clock.advance(60)
    await guest.open(guest.url)
    await guest.post("register-again", {"csrf": guest.csrf()})
    second = (await garden.demo.letters.mailbox.until(2))[1]
    assert digits_of(first) != digits_of(second)
    assert (await left_of(garden, staff, guest))[1] + garden.clock.now() == pytest.approx(by)
    assert "This link no longer works" in (await guest.http.get(link_of(first))).text
    pressed = await guest.http.post(link_of(first), headers={"Origin": PAGE})
    assert "This link no longer works" in pressed.text
    await type_digits(guest, digits_of(first))
    assert (await left_of(garden, staff, guest))[0] == "waiting"
    await type_digits(guest, digits_of(second))
    assert (await left_of(garden, staff, guest))[0] == "running"


@pytest.mark.parametrize("what", ["late", "withdrawn"])
async def test_too_late_or_withdrawn_confirms_nothing(
    garden: Garden, staff: httpx.AsyncClient, what: str
) -> None:
    guest, mail = await begun(garden, staff)
    issued = (await staff.get(garden.path(guest))).json()["guest"]["issued"]["id"]
    if what == "withdrawn":
        await staff.post(f"/api/issued/{issued}/withdraw")
    else:
        garden.clock.advance(25 * 3600)
    other = await at_the_page(garden, 1)
    pressed = await other.http.post(link_of(mail), headers={"Origin": PAGE})
    assert "have expired" in pressed.text


async def test_nobody_else_confirms(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, mail = await begun(garden, staff)
    other = await at_the_page(garden, 1)
    answer = await other.post("confirm", {"csrf": other.csrf(), "code": digits_of(mail)})
    assert answer.status_code == 403
    assert "This link no longer works" in (await guest.http.get(link_of(mail)[:-1] + "x")).text
    assert (await left_of(garden, staff, guest))[0] == "waiting"


async def test_what_a_stranger_wrote_does_not_stand_in_the_mail(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    """Else anybody could write to anybody through the house."""
    await offer(garden, staff, "confirm_mail", "mail")
    guest = await at_the_page(garden)
    for delivery in ("confirm_mail", "mail"):
        await write_in(
            guest, delivery, name="Win at http://prize.example", mail=f"{delivery}@hollerau.example"
        )
        garden.clock.advance(1)
        await guest.open(guest.url)
    mails = await garden.demo.letters.mailbox.until(1)
    for mail in mails:
        assert "prize" not in mail.part("plain") + mail.part("html") + mail.subject
