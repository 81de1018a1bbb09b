"""The lines that are kept in memory are those that a fresh reading gives, whatever was done."""

import asyncio
import sqlite3
from collections.abc import Awaitable, Callable
from contextlib import closing
from typing import Any

import httpx
import pytest

from lauschen.api.guests import kept
from lauschen.api.guests.kept import HERE, Kept
from lauschen.core.decide.standing import State
from lauschen.core.ids import NetworkId
from lauschen.core.words.codes import make_code
from lauschen.road import touched
from lauschen.store.db import DATABASE_NAME
from tests.garden import Garden
from tests.portal.test_registering import offer, write_in

Seen = tuple[list[Any], dict[State, int], int]
DAY_VISIT, GARDEN = 1, NetworkId(1)


class Watched:
    """The office's lines, and what they say before and after they are read anew."""

    def __init__(self, garden: Garden) -> None:
        self.garden = garden
        self.kept: Kept = garden.demo.service._office.kept
        self.before: Seen = ([], {}, 0)

    async def seen(self) -> Seen:
        await self.kept.bring_up_to_date()
        networks = list(self.garden.road.config.networks)
        found = sorted(self.kept.here(HERE, networks), key=lambda one: one.key)
        shown = [
            (one.line, one.name, one.words, one.left and (one.left.until, one.left.octets)) for one in found
        ]
        return shown, self.kept.counts(networks), len(self.kept._lines.keys_of)

    async def after(self, what: str, act: Callable[[], Awaitable[object]]) -> None:
        """Something is done: the lines follow, and are those of the database."""
        await act()
        road = self.garden.road
        while True:
            followed, revision = await self.seen(), road.feed.revision
            road.touched.lose()
            if await self.seen() == followed:
                break
            assert road.feed.revision != revision, f"after {what} the lines are not those of the database"
        assert followed != self.before, f"{what} changes nothing that is shown"
        self.before = followed


async def issued(staff: httpx.AsyncClient) -> tuple[int, str]:
    batch = (await staff.post("/api/batches", json={"plan": DAY_VISIT, "count": 1, "label": "Zora"})).json()
    return batch["issued"][0]["id"], batch["issued"][0]["code"]


async def posted(staff: httpx.AsyncClient, path: str, body: dict[str, object] | None = None) -> None:
    answer = await staff.post(path, json=body or {})
    assert answer.status_code == 200, answer.text


async def test_the_lines_follow_whatever_is_done(
    garden: Garden, staff: httpx.AsyncClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(kept, "SLICE", 2)
    watched, guest, other = Watched(garden), garden.guests[0], garden.guests[1]
    number, code = await issued(staff)
    path = garden.path(guest)

    async def barred() -> None:
        await posted(staff, f"{path}/bar")
        await garden.until_state(guest, State.BARRED)

    async def let_in() -> None:
        await garden.let_in(guest, code)

    async def reported() -> None:
        garden.clock.advance(60)
        await garden.point.report_now(guest.phone)

    async def paused() -> None:
        await posted(staff, f"/api/issued/{number}/pause")
        await garden.until_state(guest, State.HELD)

    async def resumed() -> None:
        await posted(staff, f"/api/issued/{number}/resume")
        await garden.until_state(guest, State.INSIDE)

    async def wrong_codes() -> None:
        await other.open()
        for number in range(5):
            garden.clock.advance(2)
            await other.type_code(make_code(number))

    async def left() -> None:
        await garden.point.leave(other.phone)
        await garden.until_state(other, State.LEFT)

    async def ended() -> None:
        await posted(staff, f"{path}/end-stay")
        await garden.until_state(guest, State.AT_DOOR)

    async def shorter() -> None:
        answer = await staff.put(f"/api/plans/{DAY_VISIT}", json={"name": "Day visit", "seconds": 6 * 3600})
        assert answer.status_code == 200, answer.text

    async def next_day() -> None:
        garden.clock.advance(86_400)

    await watched.seen()
    await watched.after("a device that comes", lambda: garden.point.join(guest.phone))
    await watched.after("a code", let_in)
    await watched.after("a report", reported)
    await watched.after("another device", lambda: garden.point.join(other.phone))
    await watched.after("wrong codes", wrong_codes)
    await watched.after("that typing again", lambda: posted(staff, f"{garden.path(other)}/let-try-again"))
    await watched.after("time", lambda: posted(staff, f"{path}/give-time", {"seconds": 3600}))
    send = {"channel": "mail", "to": "zora@hollerau.example", "lang": "en"}
    await watched.after("a mail", lambda: posted(staff, f"/api/issued/{number}/send", send))
    await watched.after("a plan", shorter)
    await watched.after("a pause", paused)
    await watched.after("its end", resumed)
    await watched.after("a bar", barred)
    await watched.after("letting try again", lambda: posted(staff, f"{path}/let-try-again"))
    await watched.after("the code again", let_in)
    await watched.after("leaving", left)
    await watched.after("the end of a stay", ended)
    await watched.after("the next day", next_day)


async def test_an_act_that_another_process_did_is_seen(garden: Garden, staff: httpx.AsyncClient) -> None:
    watched = Watched(garden)
    await garden.point.join(garden.guests[0].phone)
    assert [line.typing_barred_until for line, *_ in (await watched.seen())[0]] == [None]
    with closing(sqlite3.connect(garden.demo.data / DATABASE_NAME)) as other, other:
        other.execute("UPDATE device SET typing_barred_until = 4e9")
    await garden.road.act(lambda _: None)
    assert [line.typing_barred_until for line, *_ in (await watched.seen())[0]] == [4e9]


async def test_what_was_taken_and_not_read_is_read_by_the_next_who_asks(
    garden: Garden, monkeypatch: pytest.MonkeyPatch
) -> None:
    watched = Watched(garden)
    await watched.seen()
    await garden.point.join(garden.guests[0].phone)
    with monkeypatch.context() as patched:
        patched.setattr(kept.lines, "guest_line", lambda *_: 1 / 0)
        with pytest.raises(ZeroDivisionError):
            await watched.kept.bring_up_to_date()
    assert len((await watched.seen())[0]) == 1


async def test_too_much_for_one_look_is_read_anew(
    garden: Garden, staff: httpx.AsyncClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(touched, "MOST", 1)
    watched = Watched(garden)
    await watched.seen()
    for guest in garden.guests[:3]:
        await garden.point.join(guest.phone)
    assert garden.road.touched.take() is None
    garden.road.touched.lose()
    assert len((await watched.seen())[0]) == 3


async def test_a_change_that_is_not_committed_is_not_told(garden: Garden) -> None:
    await garden.point.join(garden.guests[0].phone)
    garden.road.touched.take()

    def undone(tx: Any) -> None:
        tx.conn.execute("UPDATE standing SET state = 'held'")
        assert garden.road.touched.take() == set()
        raise KeyError("undone")

    with pytest.raises(KeyError):
        await garden.road.act(undone)
    assert garden.road.touched.take() in (set(), {("standing", garden.guests[0].phone.mac, 1)})


async def test_lists_at_the_same_time_read_once_and_see_the_same(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    for guest in garden.guests[:3]:
        await garden.point.join(guest.phone)
    answers = await asyncio.gather(
        *(staff.get(f"/api/guests?sort={sort}") for sort in ("since", "who", "rate"))
    )
    assert [answer.json()["total"] for answer in answers] == [3, 3, 3]


async def test_somebody_is_found_by_what_they_wrote_and_where_it_was_sent(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    fields = [{"key": "name", "is_required": True}, {"key": "mail"}, {"key": "room"}]
    await offer(garden, staff, "at_once", fields=fields)
    guest = garden.guests[0]
    await garden.point.join(guest.phone)
    await guest.open()
    await write_in(
        guest, "at_once", name="Ines Harwood", mail="ines@students.hollerau.example", room="Attic 12"
    )
    await garden.until_state(guest, State.INSIDE)
    number, code = await issued(staff)
    await garden.let_in(garden.guests[1], code)
    await posted(
        staff, f"/api/issued/{number}/send", {"channel": "mail", "to": "zora@hollerau.example", "lang": "en"}
    )
    for find, name in (
        ("ines@students", "Ines Harwood, unconfirmed"),
        ("attic 12", "Ines Harwood, unconfirmed"),
        ("zora@hollerau.example", "Zora"),
    ):
        rows = (await staff.get("/api/guests", params={"find": find})).json()["rows"]
        assert [one["name"] for one in rows] == [name], find
    # What cannot be unsealed any more takes nobody else along.
    await garden.road.act(lambda tx: tx.conn.execute("UPDATE registration SET sealed = zeroblob(60)"))
    await garden.road.act(lambda tx: tx.conn.execute("UPDATE message SET sealed = zeroblob(60)"))
    garden.road.touched.lose()
    listed = (await staff.get("/api/guests")).json()["rows"]
    assert sorted(one["name"] for one in listed) == ["Ines Harwood, unconfirmed", "Zora"]
    assert (await staff.get("/api/guests", params={"find": "attic 12"})).json()["total"] == 0
