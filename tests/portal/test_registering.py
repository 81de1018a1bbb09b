"""Guests who write themselves in: each delivery, what is missing or wrong, twice, too often, and by whom."""

import re
from typing import Any

import httpx
import pytest

from lauschen.core.decide.standing import State
from lauschen.core.limits import registering as limits
from lauschen.road.tx import Tx
from tests.api.networks.test_for_a_while import closed_now
from tests.garden import PAGE, Garden, Guest

MAIL = "ines@students.hollerau.example"
NAME_AND_MAIL = [{"key": "name", "is_required": True}, {"key": "mail"}]
DAY_VISIT = 1


async def offer(garden: Garden, staff: httpx.AsyncClient, *deliveries: str, **more: Any) -> httpx.Response:
    """The Garden offers self-registration besides vouchers."""
    way = {
        "way": "self_registration",
        "plan": DAY_VISIT,
        "fields": NAME_AND_MAIL,
        "deliveries": list(deliveries) or ["page"],
        **more,
    }
    answer = await staff.put("/api/networks/1/ways", json={"ways": [way, {"way": "voucher"}]})
    rules = [{"way_in": None, "network": None, "plan": None, "role": 2}]
    placed = await staff.put("/api/rules", json={"rules": rules, "last_role": None})
    assert placed.status_code == 200, placed.text
    return answer


async def write_in(guest: Guest, delivery: str = "page", **answers: str) -> httpx.Response:
    return await guest.post("register", {"csrf": guest.csrf(), "delivery": delivery, **answers})


async def at_the_page(garden: Garden, number: int = 0) -> Guest:
    guest = garden.guests[number]
    await garden.point.join(guest.phone)
    await guest.open()
    return guest


def shown_code(guest: Guest) -> str:
    found = re.search(r'class="code-shown">([^<]+)<', guest.html)
    assert found, guest.html
    return found[1]


async def test_the_code_on_the_page_lets_in_by_a_button_and_other_devices_by_typing(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    assert (await offer(garden, staff)).status_code == 200
    guest = await at_the_page(garden)
    assert 'name="name"' in guest.html
    await write_in(guest, name="Ines Harwood")
    code = shown_code(guest)
    assert f'<input type="hidden" name="code" value="{code}">' in guest.html
    await guest.type_code(code)
    await garden.until_state(guest, State.INSIDE)
    await guest.open(guest.url)
    assert shown_code(guest) == code
    (listed,) = [g for g in (await staff.get("/api/guests")).json()["rows"] if g["state"] == "inside"]
    assert (listed["name"], listed["way_in"]) == ("Ines Harwood, unconfirmed", "self_registration")
    log = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert any(text.endswith("registered as Ines Harwood") for text in log), log
    batch = (await staff.get("/api/desk")).json()["batches"][0]
    assert (batch["label"], batch["way"]) == ("Ines Harwood", "self_registration")


async def test_in_at_once(garden: Garden, staff: httpx.AsyncClient) -> None:
    await offer(garden, staff, "at_once")
    guest = await at_the_page(garden)
    await write_in(guest, "at_once", name="Jonas")
    await garden.until_state(guest, State.INSIDE)
    await guest.open(guest.url)
    assert guest.heading == "You are online."
    assert len(shown_code(guest)) == 11


async def test_whoever_is_not_let_in_at_once_is_told_of_no_code(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    await offer(garden, staff, "at_once")
    guest = await at_the_page(garden)
    plan = {"name": "Day visit", "seconds": 600, "devices": 1, "hours": closed_now(garden)}
    assert (await staff.put("/api/plans/1", json=plan)).status_code == 200
    await write_in(guest, "at_once", name="Jonas")
    assert 'id="fault">You cannot get online this way at this time of day.' in guest.html


async def test_by_mail_the_page_waits_for_the_code_that_arrives(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    await offer(garden, staff, "mail", "page")
    guest = await at_the_page(garden)
    await write_in(guest, "mail", name="Ines Harwood", mail=f" {MAIL} ")
    assert "We have sent your code to i…@students.hollerau.example." in guest.html
    assert 'class="code-shown"' not in guest.html
    (mail,) = await garden.demo.letters.mailbox.until(1)
    found = re.search(r"Code: (\S+)", mail.part("plain"))
    assert found
    assert found[1] not in guest.html
    await guest.type_code(found[1])
    await garden.until_state(guest, State.INSIDE)
    await guest.open(guest.url)
    assert "We have sent your code to" not in guest.html
    (row,) = garden.demo.service.reader.execute("SELECT mac, network FROM message").fetchall()
    assert tuple(row) == (guest.phone.mac, 1), "the budgets of the device count"


async def test_by_text_message_in_german(garden: Garden, staff: httpx.AsyncClient) -> None:
    await offer(garden, staff, "text", fields=[{"key": "phone"}])
    guest = await at_the_page(garden)
    await write_in(guest, "text", phone="+44 (0)7700 900123", lang="de")
    assert "Wir haben Ihren Code an +44 … 123 gesendet." in guest.html
    texts = garden.demo.letters.gateway.texts
    await garden.until(lambda: len(texts) == 1)
    assert texts[0].to == "+447700900123"
    assert "Ihr Zugangscode ist " in texts[0].text


async def test_a_code_that_was_sent_is_sent_once_more_within_its_budget(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    await offer(garden, staff, "mail", "page")
    guest = await at_the_page(garden)
    await write_in(guest, "mail", name="Ines", mail=MAIL)
    for _ in range(5):
        garden.clock.advance(1)
        await guest.post("register-again", {"csrf": guest.csrf()})
    mails = await garden.demo.letters.mailbox.until(6)
    assert len({mail.part("plain") for mail in mails}) == 1
    garden.clock.advance(1)
    await guest.post("register-again", {"csrf": guest.csrf()})
    assert "Too many messages were sent to this address today." in guest.html
    assert len((await staff.get("/api/desk")).json()["batches"]) == 1
    other = await at_the_page(garden, 1)
    nothing = await other.post("register-again", {"csrf": other.csrf()})
    assert nothing.status_code == 403


async def test_a_number_that_nobody_writes_to_may_be_of_any_country(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    await offer(garden, staff, "page", "text", fields=[{"key": "phone"}])
    guest = await at_the_page(garden)
    await write_in(guest, "text", phone="+1 202 555 0143")
    assert "send text messages to that country." in guest.html
    await write_in(guest, "page", phone="+1 202 555 0143")
    assert shown_code(guest)


@pytest.mark.parametrize(
    ("delivery", "answers", "said"),
    [
        ("page", {}, "Please fill in the highlighted fields."),
        ("page", {"name": "   "}, "Please fill in the highlighted fields."),
        ("mail", {"name": "Ines"}, "Please fill in the highlighted fields."),
        ("page", {"name": "Ines", "mail": "ines at home"}, "This is not a valid email address."),
        ("mail", {"name": "Ines", "mail": "a@b\r\nBcc: c@d.example"}, "This is not a valid email address."),
        ("text", {"name": "Ines"}, "Please choose how you would like to get your code."),
        ("carrier pigeon", {"name": "Ines"}, "Please choose how you would like to get your code."),
    ],
)
async def test_what_is_missing_or_wrong_is_said_and_what_was_typed_stays(
    garden: Garden, staff: httpx.AsyncClient, delivery: str, answers: dict[str, str], said: str
) -> None:
    await offer(garden, staff, "page", "mail")
    guest = await at_the_page(garden)
    await write_in(guest, delivery, **answers)
    assert said in guest.html
    for text in answers.values():
        if text.strip() and "\n" not in text:
            assert f'value="{text}"' in guest.html
    assert (await staff.get("/api/desk")).json()["batches"] == []


async def test_the_same_form_twice_is_one_registration(garden: Garden, staff: httpx.AsyncClient) -> None:
    await offer(garden, staff, "mail")
    guest = await at_the_page(garden)
    for _ in range(3):
        await write_in(guest, "mail", name="Ines", mail=MAIL)
    await garden.demo.letters.mailbox.until(1)
    assert len((await staff.get("/api/desk")).json()["batches"]) == 1
    await write_in(guest, "mail", name="Ines", mail="other@hollerau.example")
    assert len((await staff.get("/api/desk")).json()["batches"]) == 2


async def test_a_device_has_its_few_a_day(garden: Garden, staff: httpx.AsyncClient) -> None:
    await offer(garden, staff)
    guest, other = await at_the_page(garden), await at_the_page(garden, 1)
    for number in range(limits.DEVICE_DAY):
        await write_in(guest, name=f"Ines {number}")
        garden.clock.advance(1)
    await write_in(guest, name="Ines again")
    assert "This device has registered too often today." in guest.html
    await write_in(other, name="Jonas")
    assert shown_code(other)

    def a_day_ago(tx: Tx) -> None:
        tx.conn.execute("UPDATE registration SET at = at - ?", (limits.DAY_S,))

    await garden.road.act(a_day_ago)
    garden.clock.advance(1)
    await write_in(guest, name="Ines tomorrow")
    assert shown_code(guest)


async def test_what_the_house_does_not_offer_now_takes_nothing(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    await offer(garden, staff)
    guest = await at_the_page(garden)
    await offer(garden, staff, is_off=True)
    await write_in(guest, name="Ines")
    assert "Registration has just been closed." in guest.html
    ways = {"ways": [{"way": "voucher"}]}
    assert (await staff.put("/api/networks/1/ways", json=ways)).status_code == 200
    await write_in(guest, name="Ines")
    assert "Registration has just been closed." in guest.html
    assert (await staff.get("/api/desk")).json()["batches"] == []
    await guest.open()
    assert 'name="name"' not in guest.html


async def test_whom_the_house_barred_gets_nothing(garden: Garden, staff: httpx.AsyncClient) -> None:
    await offer(garden, staff)
    guest = await at_the_page(garden)
    assert (await staff.post(f"{garden.path(guest)}/bar")).status_code == 200
    answer = await write_in(guest, name="Ines")
    assert answer.status_code == 403
    assert (await staff.get("/api/desk")).json()["batches"] == []


async def test_without_a_mail_server_no_code_is_promised_by_mail(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    await offer(garden, staff, "mail", "page")
    await staff.delete("/api/mail")
    guest = await at_the_page(garden)
    assert "Send me a code by email" not in guest.html
    only = await offer(garden, staff, "mail")
    asked = next(stage["lines"] for stage in only.json()["stages"] if stage["name"] == "Is asked")
    assert any("no mail server or text gateway is set" in line for line in asked)
    await guest.open()
    assert 'name="name"' not in guest.html


async def test_where_no_code_is_on_paper_the_page_speaks_of_no_slip(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    await offer(garden, staff)
    beside = await at_the_page(garden)
    assert "Code from your slip" in beside.html
    alone = {"way": "self_registration", "plan": DAY_VISIT, "fields": NAME_AND_MAIL, "deliveries": ["page"]}
    assert (await staff.put("/api/networks/1/ways", json={"ways": [alone]})).status_code == 200
    guest = await at_the_page(garden, 1)
    assert ">Your code<" in guest.html
    answer = await guest.type_code("")
    assert "Please enter your code." in answer.text
    assert "your slip" not in answer.text


async def test_the_form_is_the_houses_own(garden: Garden, staff: httpx.AsyncClient) -> None:
    fields = [
        {
            "key": "own_1",
            "labels": {"en": "Your <b>instrument</b>", "de": "Geige?"},
            "helps": {"en": "Or voice."},
        },
        {"key": "room", "is_required": True},
    ]
    assert (await offer(garden, staff, fields=fields)).status_code == 200
    guest = await at_the_page(garden)
    assert "Your &lt;b&gt;instrument&lt;/b&gt;" in guest.html
    assert guest.html.index("own_1") < guest.html.index('name="room"')
    await write_in(guest, own_1="viola", room="7\u202e<script>")
    assert shown_code(guest)
    dossier = (await staff.get(garden.path(guest))).json()
    assert dossier["wrote"] == []  # not in yet: nothing is known of the device
    await guest.type_code(shown_code(guest))
    await garden.until_state(guest, State.INSIDE)
    dossier = (await staff.get(garden.path(guest))).json()
    assert [tuple(one.values()) for one in dossier["wrote"]] == [
        ("Your <b>instrument</b>", "viola"),
        ("room", "7[202E]<script>"),
    ]


@pytest.mark.parametrize(
    ("more", "code"),
    [
        ({"fields": []}, "fields"),
        ({"fields": [{"key": "name"}, {"key": "name"}]}, "fields"),
        ({"fields": [{"key": "shoe_size"}]}, "field_key"),
        ({"fields": [{"key": "own_1"}]}, "field_label"),
        ({"deliveries": []}, "deliveries"),
        ({"deliveries": ["page", "page"]}, "deliveries"),
        ({"deliveries": ["mail"], "fields": [{"key": "name"}]}, "delivery_field"),
        ({"deliveries": ["text"], "fields": [{"key": "mail"}]}, "delivery_field"),
    ],
)
async def test_forms_that_cannot_be(
    garden: Garden, staff: httpx.AsyncClient, more: dict[str, Any], code: str
) -> None:
    refused = await offer(garden, staff, **more)
    assert (refused.status_code, refused.json()["code"]) == (422, code)


async def test_another_devices_page_and_no_form_value_take_nothing(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    await offer(garden, staff)
    guest = await at_the_page(garden)
    other = garden.guests[1]
    await garden.point.join(other.phone)
    await other.open()
    stolen = await other.http.post(
        f"{guest.url}/register",
        data={"csrf": guest.csrf(), "delivery": "page", "name": "x"},
        headers={"Origin": PAGE},
    )
    assert stolen.status_code == 403
    bare = await guest.post("register", {"delivery": "page", "name": "Ines"})
    assert bare.status_code == 403
    assert (await staff.get("/api/desk")).json()["batches"] == []


def test_answers_get_slow_and_nobody_is_locked_out() -> None:
    assert limits.slow_down(limits.SOURCE_WINDOW, limits.NETWORK_WINDOW) == 0.0
    assert limits.slow_down(limits.SOURCE_WINDOW + 1, 0) == pytest.approx(0.1)
    assert limits.slow_down(0, limits.NETWORK_WINDOW + 10) == pytest.approx(1.0)
    assert limits.slow_down(10**6, 10**6) == limits.SLOWEST_S
    assert not limits.is_used_up(limits.DEVICE_DAY - 1)
    assert limits.is_used_up(limits.DEVICE_DAY)
