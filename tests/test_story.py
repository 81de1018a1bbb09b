"""The story from end to end: real packets, real pages, a real database; only the access device is a stand-in."""

import asyncio

import pytest

from lauschen.core.decide.standing import State
from lauschen.core.words.codes import make_code
from lauschen.core.words.mac import spell_mac
from lauschen.radius.wire.numbers import Code, Kind
from lauschen.store import stays
from tests.garden import FIRST_STOP, PAGE, Garden


async def test_a_voucher_takes_a_guest_through_the_door(garden: Garden) -> None:
    guest, (code,) = garden.guests[0], await garden.demo.issue("Day visit", 1)
    await garden.point.join(guest.phone)
    session = guest.phone.session
    assert session is not None
    assert (session.placement.vlan, session.placement.filter_name) == ("310", "doorstep")

    first = await guest.http.get(FIRST_STOP)
    assert first.status_code == 302
    assert first.headers["cache-control"] == "no-store"
    assert first.headers["location"].startswith("http://welcome.hollerau.example/?t=")
    await guest.open()
    await guest.type_code(code[:5].lower() + " - " + code[5:])
    await garden.until_filter(guest, "visitor")

    assert guest.phone.session is session  # the same association: no new address, no new session
    assert (session.placement.vlan, session.placement.session_timeout) == ("310", 8 * 3600 - 1)
    assert session.placement.idle_timeout == 1800
    assert session.placement.class_ == session.placement.user
    await garden.until_state(guest, State.INSIDE)
    await guest.open(guest.url)
    assert guest.heading == "You are online."
    assert 'href="http://score-of-the-day.example/"' in guest.html
    assert "Today: a trio" in (await guest.get(FIRST_STOP)).text


async def test_at_the_door_only_the_page_can_be_reached(garden: Garden) -> None:
    guest = garden.guests[0]
    await garden.point.join(guest.phone)
    posted = await guest.http.post(FIRST_STOP, data={"a": "b"})
    assert posted.status_code == 511
    assert posted.headers["cache-control"] == "no-store"
    with pytest.raises(Exception, match="403"):
        await guest.http.get("https://score-of-the-day.example/")
    assert (await guest.http.head(FIRST_STOP)).status_code == 302


async def test_a_slip_scanned_at_the_door_fills_in_the_code(garden: Garden) -> None:
    guest, (code,) = garden.guests[0], await garden.demo.issue("Day visit", 1)
    await garden.point.join(guest.phone)
    await guest.open(f"http://slip.hollerau.example/{code}")
    assert f'value="{code[:5]}-{code[5:]}"' in guest.html
    await guest.type_code(code)
    await garden.until_state(guest, State.INSIDE)
    inside = await guest.open("http://slip.hollerau.example/" + code)
    assert str(inside.url).startswith(f"{PAGE}/visit/")  # it is known by its address
    assert guest.heading == "You are online."


async def test_used_data_ends_the_stay_and_another_code_works(garden: Garden) -> None:
    guest = garden.guests[0]
    (code,), (another,) = await garden.demo.issue("Postcard", 1), await garden.demo.issue("Day visit", 1)
    await garden.let_in(guest, code)
    assert len((await guest.get("http://big-files.example/bytes/6000000")).content) == 6_000_000
    await garden.point.report_now(guest.phone)
    await garden.until_state(guest, State.HELD)
    await garden.until_filter(guest, "doorstep")
    ended = stays.stays_of(garden.demo.service.reader, guest.phone.mac, 9)[-1]
    assert ended.end_cause == "admin_reset"
    assert ended.octets_out.total > 6_000_000

    await guest.open()
    assert guest.heading == "Your access has ended"
    assert "Your data has run out" in guest.html
    refused = await guest.type_code(code)
    assert "The data on this code is used up" in refused.text
    await guest.type_code(another)
    await garden.until_state(guest, State.INSIDE)


async def test_used_time_ends_the_stay_and_time_given_lets_in_again(garden: Garden) -> None:
    guest, (code,) = garden.guests[0], await garden.demo.issue("Postcard", 1)
    await garden.let_in(guest, code)
    for seconds in (1700, 1700, 205):
        await guest.get(FIRST_STOP)  # who uses the net is not idle
        garden.clock.advance(seconds)
    await garden.until_state(guest, State.HELD)
    staff = await garden.staff()
    voucher = (await staff.get(garden.path(guest))).json()["guest"]["issued"]["id"]
    assert (await staff.post(f"/api/issued/{voucher}/give-time", json={"seconds": 1800})).status_code == 200
    await garden.until_state(guest, State.INSIDE)
    assert guest.phone.session is not None
    assert (guest.phone.session.placement.session_timeout or 0) <= 1800
    await staff.aclose()


async def test_who_walks_away_comes_back_without_the_page(garden: Garden) -> None:
    guest, (code,) = garden.guests[0], await garden.demo.issue("Day visit", 1)
    await garden.let_in(guest, code)
    await garden.point.leave(guest.phone)
    await garden.until_state(guest, State.LEFT)
    garden.clock.advance(600)
    await garden.point.join(guest.phone)
    await garden.until_filter(guest, "visitor")
    assert "Today: a trio" in (await guest.get(FIRST_STOP)).text


async def test_a_second_device_is_refused_and_let_in_after_the_first_logged_out(garden: Garden) -> None:
    one, two = garden.guests[:2]
    (code,) = await garden.demo.issue("Day visit", 1)
    await garden.let_in(one, code)
    await garden.point.join(two.phone)
    await two.open()
    for _ in range(6):
        garden.clock.advance(1)
        assert "in use on its maximum number of devices" in (await two.type_code(code)).text
    await one.log_out()
    await garden.until_state(one, State.AT_DOOR)
    await two.type_code(code)
    await garden.until_state(two, State.INSIDE)


async def test_five_wrong_codes_bar_and_staff_let_try_again(garden: Garden) -> None:
    guest, (code,) = garden.guests[0], await garden.demo.issue("Day visit", 1)
    await garden.point.join(guest.phone)
    await guest.open()
    for number in range(5):
        garden.clock.advance(2)
        await guest.type_code(make_code(number))
    assert "You can try again from" in guest.html
    await guest.open(guest.url)
    assert guest.heading == "Please wait a little"
    staff = await garden.staff()
    assert (await staff.post(garden.path(guest) + "/let-try-again")).status_code == 200
    await guest.open(guest.url)
    await guest.type_code(code)
    await garden.until_state(guest, State.INSIDE)
    await staff.aclose()


async def test_staff_end_bar_and_withdraw_reach_the_device(garden: Garden) -> None:
    guest = garden.guests[0]
    codes = await garden.demo.issue("Day visit", 2)
    staff = await garden.staff()
    await garden.let_in(guest, codes[0])
    assert (await staff.post(garden.path(guest) + "/end-stay")).status_code == 200
    await garden.until_state(guest, State.AT_DOOR)
    await guest.open()
    assert "The desk disconnected you" in guest.html
    await garden.let_in(guest, codes[0])
    voucher = (await staff.get(garden.path(guest))).json()["guest"]["issued"]["id"]
    assert (await staff.post(f"/api/issued/{voucher}/withdraw")).json()["state"] == "withdrawn"
    await garden.until_state(guest, State.AT_DOOR)
    await garden.let_in(guest, codes[1])
    await staff.post(garden.path(guest) + "/bar")
    await garden.until_state(guest, State.BARRED)
    await guest.open()
    assert guest.heading == "Please ask the desk"
    await staff.aclose()


@pytest.mark.parametrize(("manner", "words"), [("nak", "Error-Cause 504"), ("silence", "no answer")])
async def test_a_nak_or_silence_is_shown_and_retried(garden: Garden, manner: str, words: str) -> None:
    guest, (code,) = garden.guests[0], await garden.demo.issue("Day visit", 1)
    await garden.let_in(guest, code)
    staff = await garden.staff()
    garden.point.radio.manners.answer = manner
    before = len(garden.point.radio.changes_heard)
    await staff.post(garden.path(guest) + "/end-stay")

    async def told() -> str:
        return str((await staff.get("/api/now")).json()["attention"])

    while words not in await told():
        garden.clock.advance(16)
    assert garden.state(guest) == (State.INSIDE, State.AT_DOOR)
    heard = garden.point.radio.changes_heard
    if manner == "silence":  # one attempt: the same octets, five times
        assert len({(p.id, p.authenticator) for p in heard[before:]}) == 1
        assert len(heard) - before == 5
    garden.point.radio.manners.answer = "normal"
    garden.clock.advance(601)
    await garden.until_state(guest, State.AT_DOOR)
    assert "not confirmed" not in await told()
    assert heard[-1].code == Code.DISCONNECT_REQUEST
    assert heard[-1].first(Kind.SERVICE_TYPE) is None
    await staff.aclose()


async def test_lost_packets_are_made_up_for_and_nothing_is_decided_twice(garden: Garden) -> None:
    guest = garden.guests[0]
    garden.point.radio.manners.lose_requests = 1  # the first request
    garden.point.radio.manners.lose_replies = 1  # the reply to the second
    garden.point.spawn(garden.point.join(guest.phone))
    while guest.phone.session is None:
        garden.clock.advance(3)
        await garden.road.act(lambda tx: None)
    await garden.until_state(guest, State.AT_DOOR)
    rows = garden.demo.service.reader.execute("SELECT count(*), sum(repeats) FROM decision").fetchone()
    assert rows == (1, 0)
    assert garden.demo.service.registry.drops["127.77.0.11", "repeated"] >= 1


async def test_a_device_that_cannot_reauthorise_is_moved_by_disconnect(garden: Garden) -> None:
    garden.point.habits.supports_reauthorise = False
    guest, (code,) = garden.guests[0], await garden.demo.issue("Day visit", 1)
    await garden.point.join(guest.phone)
    first = guest.phone.session
    await guest.open()
    await guest.type_code(code)
    await garden.until_filter(guest, "visitor")
    assert guest.phone.session is not first
    await garden.until_state(guest, State.INSIDE)


async def test_the_door_is_asked_again_at_its_own_time_out(garden: Garden) -> None:
    guest = garden.guests[0]
    await garden.point.join(guest.phone)
    assert guest.phone.session is not None
    old = guest.phone.session.placement.redirect
    garden.clock.advance(1801)
    async with asyncio.timeout(30):
        await garden.point.until(
            lambda: guest.phone.session is not None and guest.phone.session.placement.redirect != old
        )
    assert garden.state(guest) == (State.AT_DOOR, None)


async def test_a_guest_who_walks_to_the_barn_is_one_presence(garden: Garden) -> None:
    guest, (code,) = garden.guests[0], await garden.demo.issue("Day visit", 1)
    await garden.let_in(guest, code)
    barn = garden.demo.points[1]
    there = barn.add_phone(spell_mac(guest.phone.mac), guest.phone.ip)
    assert await barn.join(there)
    assert there.session is not None
    assert there.session.placement.filter_name == "visitor"  # without a page
    there.session.octets_out += 5000
    await barn.report_now(there)
    await garden.point.leave(guest.phone)  # the Stop of where it was comes late
    assert garden.state(guest) == (State.INSIDE, None)
    desk = await garden.staff()
    dossier = (await desk.get(garden.path(guest))).json()
    assert [s["where"] for s in dossier["stays"]] == ["Garden west, then Concert barn"]
    assert dossier["guest"]["where"] == "Concert barn"
    assert dossier["guest"]["octets_used"] >= 5000
    assert dossier["stays"][0]["ended"] is None
    there.session.stop_timers()  # from now on nothing is heard of it
    garden.clock.advance(3 * 600 + 60)
    await garden.until_state(guest, State.LEFT)
    dossier = (await desk.get(garden.path(guest))).json()
    await desk.aclose()
    assert dossier["stays"][0]["end"] == "nothing was heard of it for three report intervals"
