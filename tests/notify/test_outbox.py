"""The outbox: written with the act, sent by real SMTP, tried again with patience, never lost and never mixed up."""

import asyncio
import sqlite3

import httpx
import pytest

from lauschen.core.config.config import Config
from lauschen.core.ids import CredentialId, MessageId
from lauschen.core.messages.message import About, Channel, Draft, Kind, Message, MessageState
from lauschen.notify import outbox as outbox_module
from lauschen.notify.answer import Answer
from lauschen.notify.carriers import Parcel
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.standins.mailbox import Habit
from lauschen.store.config import channels as stored
from lauschen.store.messages import outbox
from lauschen.store.upkeep.keeping import KEPT, forget
from tests.garden import Garden

PASS = {
    "plan": 4,
    "label": "Ines Harwood",
    "send": {"channel": "mail", "to": "ines@students.hollerau.example"},
}


async def written(garden: Garden, kind: Kind = Kind.TEST, to: str = "a@hollerau.example") -> MessageId:
    def write(tx: Tx) -> MessageId:
        tx.has_messages = True
        draft = Draft(Channel.MAIL, kind, "en", to, {"site": "Hollerau"})
        return outbox.add_message(tx.conn, tx.keys, draft, mark=tx.chance.name(12), now=tx.now)

    return await garden.road.act(write)


def read(garden: Garden, message: MessageId) -> Message:
    found = outbox.get_message(garden.demo.service.reader, garden.road.keys, message)
    assert found is not None
    return found


async def newest(garden: Garden, staff: httpx.AsyncClient) -> Message:
    answer = await staff.post("/api/passes", json=PASS)
    assert answer.status_code == 201, answer.text
    return read(garden, MessageId(answer.json()["issued"][0]["sent"]["message"]))


async def test_a_pass_is_issued_and_arrives(garden: Garden, staff: httpx.AsyncClient) -> None:
    batch = (await staff.post("/api/passes", json=PASS)).json()
    code = batch["issued"][0]["code"]
    (mail,) = await garden.demo.letters.mailbox.until(1)
    assert mail.to == PASS["send"]["to"]  # type: ignore[index]
    assert mail.subject == "Your Wi-Fi access at Hollerau Summer Academy"
    text = mail.part("plain")
    for said in (
        "Hello Ines Harwood,",
        f"Code: {code}",
        "Wi-Fi: Hollerau Ensemble",
        "welcome.hollerau.example",
    ):
        assert said in text
    assert code in mail.part("html")
    message = MessageId(batch["issued"][0]["sent"]["message"])
    await garden.until(lambda: read(garden, message).state is MessageState.SENT)
    sent = read(garden, message)
    assert (sent.words, sent.to, sent.tries, sent.next_at) == ({}, mail.to, 1, None)
    assert mail.mark == f"<{sent.mark}@hollerau.example>"
    log = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert "gatehouse is sending a code for Ines Harwood by email" in log
    assert "The email with a code for Ines Harwood was accepted by the receiving server" in log


async def test_what_the_database_keeps_opens_no_door(garden: Garden, staff: httpx.AsyncClient) -> None:
    garden.demo.letters.mailbox.habit = Habit.GREYLISTS
    message = await newest(garden, staff)
    code = message.words["code"]
    for row in garden.demo.service.reader.execute("SELECT * FROM message").fetchall():
        assert not any(code in str(cell) or "ines@" in str(cell) for cell in row)


async def test_a_server_that_asks_strangers_to_come_again_gets_it_once(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    box = garden.demo.letters.mailbox
    box.habit = Habit.GREYLISTS
    message = await newest(garden, staff)
    await garden.until(lambda: read(garden, message.id).tries == 1)
    waits = read(garden, message.id)
    assert waits.state is MessageState.WAITING
    assert waits.answer is not None
    assert "Greylisted" in waits.answer
    assert waits.next_at is not None
    garden.clock.advance(waits.next_at - garden.clock.now() + 1)
    (mail,) = await box.until(1)
    await garden.until(lambda: read(garden, message.id).state is MessageState.SENT)
    assert box.tries[mail.to] == 2


async def test_an_address_that_there_is_not_is_given_up_at_once_and_sent_again_by_hand(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    box = garden.demo.letters.mailbox
    box.habit = Habit.REFUSES
    message = await newest(garden, staff)
    await garden.until(lambda: read(garden, message.id).state is MessageState.FAILED)
    listed = (await staff.get("/api/messages?state=failed")).json()
    assert listed["failed"] == 1
    (shown,) = listed["messages"]
    assert (shown["about"], shown["can_go_again"]) == ("a pass or voucher for Ines Harwood", True)
    assert "No such mailbox" in shown["answer"]
    box.habit = Habit.GOOD
    again = (await staff.post(f"/api/messages/{message.id}/send-again")).json()
    assert again["id"] != message.id
    await box.until(1)
    await garden.until(lambda: read(garden, MessageId(again["id"])).state is MessageState.SENT)
    refused = await staff.post(f"/api/messages/{again['id']}/send-again")
    assert (refused.status_code, refused.json()["code"]) == (422, "message_gone")


async def test_after_a_crash_between_sending_and_noting_it_goes_again_under_the_same_mark(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    """The receiver can tell by it that it came twice."""
    box = garden.demo.letters.mailbox
    box.habit = Habit.CLOSES_LATE
    message = await newest(garden, staff)
    await garden.until(lambda: read(garden, message.id).tries == 1)
    box.habit = Habit.GOOD
    garden.clock.advance(11)
    one, two = await box.until(2)
    assert one.mark == two.mark


async def test_a_day_without_an_answer_is_enough(garden: Garden, staff: httpx.AsyncClient) -> None:
    garden.demo.letters.mailbox.habit = Habit.CLOSES
    message = await newest(garden, staff)
    for _ in range(40):
        now = read(garden, message.id)
        if now.state is MessageState.FAILED:
            break
        tries = now.tries
        await garden.until(lambda tries=tries: read(garden, message.id).tries > tries)  # type: ignore[misc]
        later = read(garden, message.id).next_at
        if later is not None:
            garden.clock.advance(later - garden.clock.now() + 0.1)
    assert read(garden, message.id).state is MessageState.FAILED
    assert 80_000 < read(garden, message.id).answer_at - message.written_at <= 86_400 + 60  # type: ignore[operator]
    next_day = await garden.staff()
    log = [line["text"] for line in (await next_day.get("/api/log")).json()]
    await next_day.aclose()
    assert any(
        text.startswith("The email with a code for Ines Harwood could not be delivered: ") for text in log
    )


async def test_one_that_cannot_be_made_ready_holds_up_no_other(
    garden: Garden, monkeypatch: pytest.MonkeyPatch
) -> None:
    usual = outbox_module.pack

    def pack(house: Config, message: Message) -> tuple[Parcel | None, str]:
        if message.to.startswith("bad"):
            raise RuntimeError("boom")
        return usual(house, message)

    monkeypatch.setattr(outbox_module, "pack", pack)
    bad, good = await written(garden, to="bad@hollerau.example"), await written(garden)
    await garden.until(lambda: read(garden, good).state is MessageState.SENT)
    await garden.until(lambda: read(garden, bad).tries == 1)
    assert read(garden, bad).answer == "It could not be made ready."
    assert "message" in garden.road.faults.shown(0.0)


async def test_what_raises_while_it_is_carried_is_noted_and_tried_again(
    garden: Garden, monkeypatch: pytest.MonkeyPatch
) -> None:
    async def explode(parcel: Parcel) -> Answer:
        raise RuntimeError("boom")

    with monkeypatch.context() as patch:
        patch.setattr(garden.demo.service.carriers, "carry", explode)
        message = await written(garden)
        await garden.until(lambda: read(garden, message).tries == 1)
    assert read(garden, message).answer == "It could not be sent."
    garden.clock.advance(11)
    await garden.until(lambda: read(garden, message).state is MessageState.SENT)


async def test_without_a_server_it_waits_for_one(garden: Garden, staff: httpx.AsyncClient) -> None:
    server = garden.road.config.channels.mail
    assert server is not None
    await garden.road.act(lambda tx: stored.remove_only(tx.conn, Channel.MAIL))
    await garden.demo.service.reload()
    message = await written(garden)
    await garden.until(lambda: read(garden, message).tries == 1)
    assert read(garden, message).answer == "No mail server is set."
    refused = await staff.post("/api/passes", json=PASS)
    assert (refused.status_code, refused.json()["code"]) == (422, "no_mail")
    await garden.road.act(lambda tx: stored.save_only(tx.conn, tx.keys, Channel.MAIL, server))
    await garden.demo.service.reload()
    garden.clock.advance(11)
    await garden.until(lambda: read(garden, message).state is MessageState.SENT)


async def test_no_more_than_four_are_on_their_way_together(
    garden: Garden, monkeypatch: pytest.MonkeyPatch
) -> None:
    under_way, most = 0, 0
    carry = garden.demo.service.carriers.carry

    async def watched(parcel: Parcel) -> Answer:
        nonlocal under_way, most
        under_way += 1
        most = max(most, under_way)
        try:
            return await carry(parcel)
        finally:
            under_way -= 1

    monkeypatch.setattr(garden.demo.service.carriers, "carry", watched)
    messages = [await written(garden, to=f"n{number}@hollerau.example") for number in range(15)]
    await garden.until(lambda: all(read(garden, m).state is MessageState.SENT for m in messages))
    assert len(garden.demo.letters.mailbox.mails) == 15
    assert most <= outbox_module.AT_ONCE


async def test_budgets_of_an_address(garden: Garden, staff: httpx.AsyncClient) -> None:
    for _ in range(10):
        assert (await staff.post("/api/passes", json=PASS)).status_code == 201
    refused = await staff.post("/api/passes", json=PASS)
    assert (refused.status_code, refused.json()["code"]) == (422, "messages_many")
    assert "within a day" in refused.json()["detail"]
    issued = (await staff.get("/api/desk")).json()["batches"]
    assert len(issued) == 10, "what could not be sent was not issued either"
    upper = {**PASS, "send": {"channel": "mail", "to": "INES@students.hollerau.example"}}
    assert (await staff.post("/api/passes", json=upper)).status_code == 422
    other = {**PASS, "send": {"channel": "mail", "to": "jonas@students.hollerau.example"}}
    assert (await staff.post("/api/passes", json=other)).status_code == 201


async def test_an_account_is_sent_with_its_password_and_again_without(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    wish = {
        "plan": 4, "label": "Mirela Quist", "name": "mirela",
        "send": {"channel": "text", "to": "+1 202 555 0143", "lang": "de"},
    }  # fmt: skip
    assert (await staff.post("/api/accounts", json=wish)).json()["code"] == "phone_country"
    wish["send"]["to"] = "+44 7700 900123"  # type: ignore[index]
    made = await staff.post("/api/accounts", json=wish)
    assert made.status_code == 201, made.text
    texts = garden.demo.letters.gateway.texts
    await garden.until(lambda: len(texts) == 1)
    assert texts[0].to == "+447700900123"
    assert f"Ihr Konto ist mirela\nPasswort: {made.json()['password']}\n" in texts[0].text
    issued = made.json()["batch"]["issued"][0]
    again = {"channel": "mail", "to": "mirela@hollerau.example"}
    assert (await staff.post(f"/api/issued/{issued['id']}/send", json=again)).json()["sent"][
        "channel"
    ] == "mail"
    (mail,) = await garden.demo.letters.mailbox.until(1)
    assert "Name: mirela" in mail.part("plain")
    assert "Password:" not in mail.part("plain")


async def test_what_was_withdrawn_is_not_sent(garden: Garden, staff: httpx.AsyncClient) -> None:
    batch = (await staff.post("/api/passes", json={"plan": 4, "label": "Ines"})).json()
    issued = batch["issued"][0]["id"]
    await staff.post(f"/api/issued/{issued}/withdraw")
    refused = await staff.post(f"/api/issued/{issued}/send", json=PASS["send"])
    assert (refused.status_code, refused.json()["code"]) == (422, "withdrawn")


async def test_messages_about_one_are_found(garden: Garden) -> None:
    def write(tx: Tx) -> MessageId:
        draft = Draft(Channel.MAIL, Kind.TEST, "en", "x@y.example", {}, About(credential=CredentialId(1)))
        return outbox.add_message(tx.conn, tx.keys, draft, mark="m", now=tx.now)

    await garden.demo.issue("Day visit", 1)
    message = await garden.road.act(write)
    reader, keys = garden.demo.service.reader, garden.road.keys
    assert [m.id for m in outbox.of_credential(reader, keys, CredentialId(1), 5)] == [message]
    assert outbox.of_credential(reader, keys, CredentialId(2), 5) == []


async def test_now_says_what_does_not_arrive(garden: Garden, staff: httpx.AsyncClient) -> None:
    box = garden.demo.letters.mailbox
    box.habit = Habit.CLOSES
    message = await newest(garden, staff)
    await garden.until(lambda: read(garden, message.id).tries == 1)

    async def said() -> list[tuple[str, bool]]:
        found = (await staff.get("/api/now")).json()["attention"]
        return [(one["text"], one["grave"]) for one in found if one["kind"] == "messages"]

    ((text, is_grave),) = await said()
    assert text.startswith("One email cannot be sent since ")
    assert text.endswith(": 127.0.0.1 closed the connection.")
    assert not is_grave
    box.habit = Habit.REFUSES
    garden.clock.advance(700)
    await garden.until(lambda: read(garden, message.id).state is MessageState.FAILED)
    ((text, is_grave),) = await said()
    assert text == "One email of the last day given up: 127.0.0.1 answered: 550 5.1.1 No such mailbox here"


async def test_messages_are_forgotten_after_thirty_days_but_those_that_wait(garden: Garden) -> None:
    await written(garden)
    await garden.demo.letters.mailbox.until(1)
    reader = garden.demo.service.reader
    await garden.until(lambda: outbox.count_in(reader, MessageState.SENT) == 1)
    garden.demo.letters.mailbox.habit = Habit.CLOSES
    waits = await written(garden)
    await garden.until(lambda: read(garden, waits).tries == 1)
    kept = next(one for one in KEPT if one.table == "message")
    gone, _ = await garden.road.act(lambda tx: forget(tx.conn, kept, tx.now + 1, 0, 200))
    assert gone == 1
    assert read(garden, waits).state is MessageState.WAITING


async def test_the_text_messages_of_a_day_are_counted(garden: Garden, staff: httpx.AsyncClient) -> None:
    text = (await staff.get("/api/settings")).json()["text"]
    await staff.put("/api/text", json={k: v for k, v in text.items() if k != "has_secret"} | {"texts_day": 2})
    for number in range(3):
        to = {"channel": "text", "to": f"+44 7700 90012{number}"}
        answer = await staff.post("/api/passes", json={"plan": 4, "label": "Ines", "send": to})
        assert answer.status_code == (201 if number < 2 else 422)
    assert answer.json()["code"] == "messages_many"
    garden.clock.advance(86_401)
    next_day = await garden.staff()
    answer = await next_day.post("/api/passes", json={"plan": 4, "label": "Ines", "send": to})
    await next_day.aclose()
    assert answer.status_code == 201


async def test_many_go_at_a_pace_that_leaves_the_loop_to_packets(garden: Garden) -> None:
    count = outbox_module.BURST + 6
    messages = [await written(garden, to=f"n{number}@hollerau.example") for number in range(count)]
    begun = garden.clock.monotonic()
    await garden.until(lambda: all(read(garden, m).state is MessageState.SENT for m in messages))
    assert garden.clock.monotonic() - begun >= 5 / outbox_module.PACE


async def test_while_packets_wait_for_each_other_messages_go_one_by_one(
    garden: Garden, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(Road, "is_pressed", property(lambda _: True))
    messages = [await written(garden, to=f"n{number}@hollerau.example") for number in range(3)]
    begun = garden.clock.monotonic()
    await garden.until(lambda: all(read(garden, m).state is MessageState.SENT for m in messages))
    assert garden.clock.monotonic() - begun >= 2 / outbox_module.PRESSED_PACE - 0.1


async def test_after_one_commit_that_failed_all_that_waits_is_sent(
    garden: Garden, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The disk was full for a moment, while eight were taken to be sent."""
    usual, failed = garden.road._commits.on_loop, asyncio.Event()
    taken = "SELECT count(*) FROM message WHERE next_at > ?"

    def on_loop() -> None:
        now = garden.road.clock.now()
        if not failed.is_set() and garden.road._conn.execute(taken, (now + 60,)).fetchone()[0]:
            failed.set()
            error = sqlite3.OperationalError("database or disk is full")
            error.sqlite_errorname = "SQLITE_FULL"
            raise error
        usual()

    monkeypatch.setattr(garden.road._commits, "on_loop", on_loop)

    def write(tx: Tx) -> list[MessageId]:
        tx.has_messages = True
        drafts = [
            Draft(Channel.MAIL, Kind.TEST, "en", f"n{number}@hollerau.example", {"site": "H"})
            for number in range(8)
        ]
        return [outbox.add_message(tx.conn, tx.keys, d, mark=tx.chance.name(12), now=tx.now) for d in drafts]

    messages = await garden.road.act(write)
    await asyncio.wait_for(failed.wait(), 30)
    for _ in range(20):
        garden.clock.advance(90)
        await garden.road.act(lambda tx: tx.log("note"))
    await garden.until(lambda: all(read(garden, m).state is MessageState.SENT for m in messages))
    assert len(garden.demo.letters.mailbox.mails) == 8
