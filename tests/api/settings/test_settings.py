"""The room House: servers set and tried, words changed, what was sent and what it cost."""

from typing import Any

import httpx
import pytest

from lauschen.standins.mailbox import Habit
from tests.garden import Garden


async def house(staff: httpx.AsyncClient) -> dict[str, Any]:
    found: dict[str, Any] = (await staff.get("/api/settings")).json()
    return found


def as_typed(shown: dict[str, Any], **changes: Any) -> dict[str, Any]:
    """A form that was opened and is sent back."""
    return {k: v for k, v in shown.items() if not k.startswith("has_")} | changes


async def test_a_test_of_mail_shows_the_servers_answer_and_costs_nothing(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    mail = (await house(staff))["mail"]
    assert (mail["password"], mail["has_password"]) == (None, True)
    wish = {"server": as_typed(mail), "to": "desk@hollerau.example"}
    tried = (await staff.post("/api/mail/test", json=wish)).json()
    assert tried == {"is_sent": True, "answer": "2.0.0 OK: kept as number 1"}
    assert garden.demo.letters.mailbox.mails[0].subject == "Test message from Hollerau Summer Academy"
    garden.demo.letters.mailbox.habit = Habit.REFUSES
    tried = (await staff.post("/api/mail/test", json=wish)).json()
    assert (tried["is_sent"], "550 5.1.1" in tried["answer"]) == (False, True)
    (cost,) = (await house(staff))["costs"]
    assert (cost["channel"], cost["count"], cost["price"]) == ("mail", 1, "")


async def test_a_test_of_what_is_not_saved_yet(garden: Garden, staff: httpx.AsyncClient) -> None:
    mail = (await house(staff))["mail"]
    wish = {"server": as_typed(mail, password="wrong"), "to": "desk@hollerau.example"}
    tried = (await staff.post("/api/mail/test", json=wish)).json()
    assert tried["answer"].startswith("It refuses our name and password.")
    wish = {
        "server": as_typed(mail, host="mail.internal.hollerau.example", password="typed"),
        "to": "desk@hollerau.example",
    }
    tried = (await staff.post("/api/mail/test", json=wish)).json()
    assert tried == {"is_sent": False, "answer": "mail.internal.hollerau.example leads nowhere now."}
    wish = {"server": as_typed(mail, port=1, password="typed"), "to": "desk@hollerau.example"}
    tried = (await staff.post("/api/mail/test", json=wish)).json()
    assert "may not be reached from here" in tried["answer"], "only the listed port of that address"
    assert (await house(staff))["mail"]["port"] == garden.demo.letters.mailbox.port


async def test_a_test_of_texts_shows_the_gateways_answer_without_our_secret(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    text = (await house(staff))["text"]
    wish = {"gateway": as_typed(text), "to": "+44 7700 900123"}
    tried = (await staff.post("/api/text/test", json=wish)).json()
    assert tried == {"is_sent": True, "answer": 'status 200: {"result":"taken","number":1}'}
    garden.demo.letters.gateway.fails = True
    tried = (await staff.post("/api/text/test", json=wish)).json()
    assert not tried["is_sent"]
    assert tried["answer"].startswith("its answer lacks the text that means success, status 200: ")
    assert "no credit left" in tried["answer"]
    (cost,) = (await house(staff))["costs"]
    assert (cost["count"], cost["price"]) == (1, "0.07 EUR")


async def test_a_password_that_nobody_typed_stays(garden: Garden, staff: httpx.AsyncClient) -> None:
    shown = await house(staff)
    saved = await staff.put("/api/mail", json=as_typed(shown["mail"], sender_name="Gatehouse"))
    assert (saved.status_code, saved.json()["sender_name"]) == (200, "Gatehouse")
    channels = garden.road.config.channels
    assert channels.mail is not None
    assert channels.mail.password == "outgoing-hollerau-mail"
    await staff.put("/api/text", json=as_typed(shown["text"], price=0.085, countries=["at", "AT", "de"]))
    channels = garden.road.config.channels
    assert channels.text is not None
    assert (channels.text.secret, channels.text.price) == ("outgoing-hollerau-texts", 85)
    assert channels.text.countries == ("AT", "DE")


@pytest.mark.parametrize(
    "changes",
    [{"host": "mail.example"}, {"port": 465}, {"security": "tls"}],
    ids=["host", "port", "security"],
)
async def test_a_kept_password_goes_nowhere_else(
    garden: Garden, staff: httpx.AsyncClient, changes: dict[str, Any]
) -> None:
    """Whoever may set the address could read it there."""
    shown = as_typed((await house(staff))["mail"])
    for method, path, wish in (
        ("PUT", "/api/mail", {**shown, **changes}),
        ("POST", "/api/mail/test", {"server": {**shown, **changes}, "to": "ines@students.hollerau.example"}),
    ):
        answer = await staff.request(method, path, json=wish)
        assert (answer.status_code, answer.json()["code"]) == (422, "kept_for_another"), path
        assert answer.json()["field"] == "password"
    typed = {**shown, **changes, "password": "typed-again-for-it"}
    assert (await staff.put("/api/mail", json=typed)).status_code == 200
    assert garden.road.config.channels.mail is not None
    assert garden.road.config.channels.mail.password == "typed-again-for-it"


async def test_nor_do_kept_secrets_of_gateways_and_webhooks(staff: httpx.AsyncClient) -> None:
    gateway = as_typed((await house(staff))["text"])
    gateway["call"] = {**gateway["call"], "url": "https://elsewhere.example/texts"}
    for method, path, wish in (
        ("PUT", "/api/text", gateway),
        ("POST", "/api/text/test", {"gateway": gateway, "to": "+44 7700 900123"}),
    ):
        answer = await staff.request(method, path, json=wish)
        assert (answer.status_code, answer.json()["field"]) == (422, "secret"), path
    hook = {"name": "Rooms", "url": "https://rooms.hollerau.example/a", "hears": ["registered"]}
    made = (await staff.post("/api/webhooks", json=hook)).json()["id"]
    moved = {**hook, "url": "https://elsewhere.example/a"}
    refused = await staff.put(f"/api/webhooks/{made}", json=moved)
    assert (refused.status_code, refused.json()["code"]) == (422, "kept_for_another")
    assert refused.json()["detail"].startswith("It was typed for rooms.hollerau.example.")
    for same in (
        {**hook, "url": "https://rooms.hollerau.example/b"},
        {**moved, "secret": "another-secret-of-it"},
    ):
        assert (await staff.put(f"/api/webhooks/{made}", json=same)).status_code == 200


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"host": "a b"}, "host"),
        ({"port": 0}, "port"),
        ({"sender": "nobody"}, "sender"),
        ({"sender_name": "Desk\r\nBcc: x"}, "sender_name"),
        ({"authority": "no certificate"}, "authority"),
        ({"security": "none"}, "security"),
        ({"host": "x" * 254}, "host"),
    ],
)
async def test_mail_servers_that_cannot_be(
    garden: Garden, staff: httpx.AsyncClient, changes: dict[str, Any], field: str
) -> None:
    refused = await staff.put("/api/mail", json=as_typed((await house(staff))["mail"], **changes))
    assert (refused.status_code, refused.json()["field"]) == (422, field)


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"countries": []}, "countries"),
        ({"countries": ["XX"]}, "countries"),
        ({"price": -1}, "price"),
        ({"currency": "euro"}, "currency"),
        ({"texts_day": 0}, "texts_day"),
    ],
)
async def test_gateways_that_cannot_be(
    garden: Garden, staff: httpx.AsyncClient, changes: dict[str, Any], field: str
) -> None:
    refused = await staff.put("/api/text", json=as_typed((await house(staff))["text"], **changes))
    assert (refused.status_code, refused.json()["field"]) == (422, field)


async def test_what_waits_goes_as_soon_as_the_server_is_mended(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    box, shown = garden.demo.letters.mailbox, (await house(staff))["mail"]
    box.habit = Habit.CLOSES
    wish = {"plan": 4, "label": "Ines", "send": {"channel": "mail", "to": "ines@hollerau.example"}}
    assert (await staff.post("/api/passes", json=wish)).status_code == 201
    reader = garden.demo.service.reader
    await garden.until(lambda: reader.execute("SELECT tries FROM message").fetchone()[0] == 1)
    box.habit = Habit.GOOD
    await staff.put("/api/mail", json=as_typed(shown))
    await box.until(1)


async def test_servers_are_taken_away_and_said_in_the_log(garden: Garden, staff: httpx.AsyncClient) -> None:
    for channel in ("mail", "text"):
        assert (await staff.delete(f"/api/{channel}")).status_code == 204
        assert (await staff.delete(f"/api/{channel}")).status_code == 404
    shown = await house(staff)
    assert (shown["mail"], shown["text"]) == (None, None)
    assert (await staff.get("/api/desk")).json()["sends"] == []
    log = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert "gatehouse removed the mail server" in log
    assert "gatehouse removed the text gateway" in log


async def test_the_house_has_its_own_words_and_ours_come_back(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    path = "/api/templates/pass/mail/de"
    wish = {"subject": " Willkommen ", "body": "Guten Tag {name}: {code}"}
    saved = (await staff.put(path, json=wish)).json()
    assert (saved["subject"], saved["is_ours"]) == ("Willkommen", False)
    send = {"channel": "mail", "to": "ines@hollerau.example", "lang": "de"}
    await staff.post("/api/passes", json={"plan": 4, "label": "Ines", "send": send})
    (mail,) = await garden.demo.letters.mailbox.until(1)
    assert mail.subject == "Willkommen"
    assert mail.part("plain").startswith("Guten Tag Ines: ")
    back = (await staff.delete(path)).json()
    assert (back["subject"], back["is_ours"]) == ("Ihr WLAN-Zugang: {site}", True)
    refused = await staff.put(path, json={"subject": "x", "body": "{mac}"})
    assert (refused.status_code, refused.json()["code"]) == (422, "template_word")
    assert (await staff.put("/api/templates/pass/syslog/de", json=wish)).status_code == 404


async def test_a_preview_is_what_would_be_sent(garden: Garden, staff: httpx.AsyncClient) -> None:
    mail = (await house(staff))["mail"]
    await staff.put("/api/mail", json=as_typed(mail, code_in_subject=True))
    wish = {"subject": "For you", "body": "Hello {name}: {code}"}
    shown = (await staff.post("/api/templates/pass/mail/en/preview", json=wish)).json()
    assert shown["subject"] == "For you: 3N2D5-98EEV"
    assert shown["plain"] == "Hello Ines Harwood: 3N2D5-98EEV\n"
    wish = {"body": "{code}" + "ş" * 70}
    shown = (await staff.post("/api/templates/pass/text/en/preview", json=wish)).json()
    assert (shown["subject"], shown["parts"]) == ("", 2)


async def test_the_outbox_is_read_in_pages(garden: Garden, staff: httpx.AsyncClient) -> None:
    for number in range(3):
        send = {"channel": "mail", "to": f"n{number}@hollerau.example"}
        await staff.post("/api/passes", json={"plan": 4, "label": f"Guest {number}", "send": send})
    await garden.demo.letters.mailbox.until(3)
    whole = (await staff.get("/api/messages")).json()["messages"]
    assert [one["to"] for one in whole] == [f"n{n}@hollerau.example" for n in (2, 1, 0)]
    rest = (await staff.get(f"/api/messages?before={whole[1]['id']}")).json()["messages"]
    assert [one["id"] for one in rest] == [whole[2]["id"]]
    assert (await staff.get("/api/messages?state=lost")).status_code == 422
    assert (await staff.post(f"/api/messages/{2**52}/send-again")).json()["code"] == "message_not_there"
