"""Every way in which guests arrive at the page and devices learn of a login, against a stand-in that plays it."""

import re
from dataclasses import replace

import pytest

from lauschen.core.config.dialect import Appended, Arrives, Call, Move, Posted
from lauschen.core.decide.standing import State
from lauschen.core.words.codes import make_code
from lauschen.demo import site
from lauschen.http.server import HttpServer, listen
from lauschen.outgoing.reach import read_reach
from lauschen.radius.wire.numbers import Code, Kind
from lauschen.standins.access_device.controller import KEY, Controller
from lauschen.standins.access_device.habits import LOGIN_HOST, Habits
from tests.garden import PAGE, Garden, Guest

SHORT = f"{PAGE}/"


async def appending(garden: Garden, **changes: object) -> Habits:
    dialect = next(iter(garden.road.config.dialects.values()))
    habits = Habits(appends_to=f"{PAGE}/arrive/{dialect.id}")
    more = {
        "arrives": Arrives.APPENDED,
        "appended": Appended("client_mac", "target"),
        "attributes": (),
        **changes,
    }
    await garden.speak(habits, **more)
    return habits


async def code(garden: Garden) -> str:
    return (await garden.demo.issue("Day visit", 1))[0]


async def test_appended_with_a_request_heard_lets_the_guest_log_in(garden: Garden) -> None:
    (await appending(garden)).tells_address = False
    guest = garden.guests[0]
    await garden.point.join(guest.phone)
    await guest.open()
    assert "/visit/" in guest.url
    await guest.type_code(await code(garden))
    await garden.until_filter(guest, "visitor")
    await garden.until_state(guest, State.INSIDE)
    assert "score-of-the-day" in (await guest.open(guest.url)).text
    # Another claim to be this device learns nothing, and ends nothing; the visit that logged in does.
    stranger = garden.guests[1]
    await garden.point.join(stranger.phone)
    habits = garden.point.habits
    await stranger.open(f"{habits.appends_to}?client_mac={guest.phone.mac:012x}")
    assert stranger.heading == "You are online."
    assert "until" not in stranger.html.lower().split("<footer>")[0].split("<h1>")[1]
    await stranger.log_out()
    assert garden.state(guest) == (State.INSIDE, None)
    assert "Log out" in guest.html
    await guest.log_out()
    await garden.until_state(guest, State.AT_DOOR)


@pytest.mark.parametrize("mac", ["02:77:00:00:99:99", "not-a-mac", ""])
async def test_an_appended_address_without_a_second_fact_is_not_believed(garden: Garden, mac: str) -> None:
    habits = await appending(garden)
    answer = await garden.guests[0].http.get(f"{habits.appends_to}?client_mac={mac}")
    assert answer.status_code in (403, 502)  # 502: this phone is not even on the Wi-Fi


async def test_an_appended_address_is_not_believed_minutes_later_or_in_another_dialect(
    garden: Garden,
) -> None:
    habits = await appending(garden)
    habits.tells_address = False
    other, guest = garden.guests[0], garden.guests[1]
    await garden.point.join(other.phone)
    await garden.point.join(guest.phone)
    mac = f"{other.phone.mac:012x}"
    assert (await guest.http.get(f"{PAGE}/arrive/99?client_mac={mac}")).status_code == 403
    assert (await guest.http.get(f"{habits.appends_to}?client_mac={mac}")).status_code == 303
    garden.clock.advance(301)
    assert (await guest.http.get(f"{habits.appends_to}?client_mac={mac}")).status_code == 403


async def test_wrong_codes_of_a_claimed_address_do_not_bar_it(garden: Garden) -> None:
    habits = await appending(garden)
    victim, stranger = garden.guests[0], garden.guests[1]
    await garden.point.join(victim.phone)
    await garden.point.join(stranger.phone)
    await stranger.open(f"{habits.appends_to}?client_mac={victim.phone.mac:012x}")
    assert stranger.heading == "Another device has this address"
    habits.tells_address = False
    stranger = garden.guests[2]  # one whose address nobody knows
    await garden.point.join(stranger.phone)
    await stranger.open(f"{habits.appends_to}?client_mac={victim.phone.mac:012x}")
    await stranger.open(f"{habits.appends_to}?client_mac={victim.phone.mac:012x}")
    for number in range(5):
        garden.clock.advance(1)
        await stranger.type_code(make_code(number))
    assert "You can try again from" in stranger.html
    assert garden.state(victim)[0] is State.AT_DOOR
    await victim.open()
    await victim.type_code(await code(garden))
    await garden.until_filter(victim, "visitor")


async def test_the_short_address_finds_the_device_by_where_it_comes_from(garden: Garden) -> None:
    await garden.speak(Habits(), arrives=Arrives.PLAIN, attributes=())
    guest = garden.guests[0]
    await garden.point.join(guest.phone)
    assert (
        await guest.http.get("http://score-of-the-day.example/")
    ).status_code == 511  # it redirects nowhere
    await guest.open(SHORT)
    assert "/visit/" in guest.url
    await guest.type_code(await code(garden))
    await garden.until_state(guest, State.INSIDE)


async def test_the_short_address_from_an_unknown_place_says_what_to_do(garden: Garden) -> None:
    await garden.speak(Habits(tells_address=False), arrives=Arrives.PLAIN, attributes=())
    guest = garden.guests[0]
    await garden.point.join(guest.phone)
    answer = await guest.open(SHORT)
    assert "/visit/" not in str(answer.url)
    assert guest.heading == "Please reconnect"


async def test_new_attributes_in_a_coa_place_a_device_and_take_it_out_again(garden: Garden) -> None:
    await garden.speak(Habits(takes_attributes=True), login_move=Move.ATTRIBUTES, end_move=Move.ATTRIBUTES)
    guest = garden.guests[0]
    await garden.let_in(guest, await code(garden))
    heard = garden.point.radio.changes_heard[-1]
    assert heard.code == Code.COA_REQUEST
    assert heard.text(Kind.FILTER_ID) == "visitor"
    assert heard.first(Kind.SERVICE_TYPE) is None
    assert (heard.integer(Kind.SESSION_TIMEOUT) or 0) > 28_000
    staff = await garden.staff()
    await staff.post(f"{garden.path(guest)}/end-stay")
    await garden.until_filter(guest, "doorstep")
    await garden.until_state(guest, State.AT_DOOR)
    assert not garden.point.radio.changes_heard[-1].first(Kind.SERVICE_TYPE)
    await guest.open()
    assert "/visit/" in guest.url
    await staff.aclose()


async def test_a_login_by_disconnect_at_a_device_that_remembers_waits_and_goes_again(garden: Garden) -> None:
    await garden.speak(
        Habits(remembers_s=30.0, keeps_session_id=True), login_move=Move.DISCONNECT, pause_ms=0
    )
    guest = garden.guests[0]
    await garden.point.join(guest.phone)
    await guest.open()
    await guest.type_code(await code(garden))
    wish = "SELECT count(*) FROM event WHERE kind = 'returned_unasked'"
    await garden.until(lambda: garden.demo.service.reader.execute(wish).fetchone() == (1,))
    assert garden.state(guest) == (State.AT_DOOR, State.INSIDE)
    await guest.open(guest.url)
    assert re.search(r"needs about 3\d s more", guest.html)
    garden.clock.advance(36)
    await garden.until_filter(guest, "visitor")
    await garden.until_state(guest, State.INSIDE)


POSTED = Posted(f"http://{LOGIN_HOST}/login", "user", "pass", (("then", "{portal_url}"),))


def hidden_fields(html: str) -> dict[str, str]:
    return dict(re.findall(r'<input type="hidden" name="(\w+)" value="([^"]*)">', html))


async def press(guest: Guest, **instead: str) -> str:
    fields = {k: v for k, v in hidden_fields(guest.html).items() if k in ("user", "pass", "then")} | instead
    answer = await guest.http.post(f"http://{LOGIN_HOST}/login", data=fields, follow_redirects=True)
    return answer.text


@pytest.mark.parametrize("by_chap", [False, True])
async def test_a_posted_login_is_tied_to_its_visit_and_used_once(garden: Garden, by_chap: bool) -> None:
    habits = Habits(has_own_login=True, asks_by_chap=by_chap)
    await garden.speak(habits, login_move=Move.POSTED, posted=POSTED)
    guest, other = garden.guests[0], garden.guests[1]
    await garden.point.join(guest.phone)
    await garden.point.join(other.phone)
    await guest.open()
    answer = await guest.type_code(await code(garden))
    assert "http: https:" in answer.headers["content-security-policy"]
    assert guest.heading == "One last step"
    stolen = hidden_fields(guest.html)
    assert "does not know you" in await press(guest, **{"pass": "a" * 16})
    assert (
        "does not know you" in (await other.http.post(f"http://{LOGIN_HOST}/login", data=stolen)).text
    )  # another device's
    page = await press(guest)
    assert "You are online." in page
    await garden.until_state(guest, State.INSIDE)
    assert guest.phone.session is not None
    assert guest.phone.session.placement.filter_name == "visitor"
    assert "does not know you" in await press(guest)  # replayed


async def test_a_posted_login_that_came_too_late_is_handed_out_again(garden: Garden) -> None:
    await garden.speak(Habits(has_own_login=True), login_move=Move.POSTED, posted=POSTED)
    guest = garden.guests[0]
    await garden.point.join(guest.phone)
    await guest.open()
    await guest.type_code(await code(garden))
    garden.clock.advance(61)
    assert "does not know you" in await press(guest)
    await guest.open(guest.url)
    assert "did not answer in time" in guest.html
    await guest.post("again", {"csrf": guest.csrf()})
    assert "You are online." in await press(guest)


async def test_a_controller_is_called_for_admit_and_for_end(garden: Garden) -> None:
    controller = Controller(garden.point)
    (sock,) = listen(["127.0.0.1"], 0)
    server = HttpServer(controller.app(), [sock])
    await server.begin()
    root = f"http://127.0.0.1:{sock.getsockname()[1]}"
    service = garden.demo.service
    service._caller._reach = read_reach([root])
    headers = (("X-Key", "{secret}"), ("Content-Type", "application/json"))
    call = Call("POST", f"{root}/admit", headers, '{"mac": "{mac}", "filter": "{filter}", "seconds": "{seconds}"}',
                (200,), "done")  # fmt: skip
    out = replace(call, url=f"{root}/end", body='{"mac": "{mac}"}')
    await garden.speak(
        Habits(), login_move=Move.CALLED, end_move=Move.CALLED, call_in=call, call_out=out, call_secret=KEY
    )
    guest = garden.guests[0]
    await garden.let_in(guest, await code(garden))
    assert [what for what, _ in controller.calls] == ["admit"]
    assert garden.point.radio.changes_heard == []
    staff = await garden.staff()
    controller.answers_with = 500
    await staff.post(f"{garden.path(guest)}/end-stay")
    await garden.until(lambda: bool((refused := not_confirmed(garden)) and "status 500" in refused))
    assert garden.state(guest)[1] is State.AT_DOOR  # on its way out, and not confirmed
    controller.answers_with = 200
    await staff.post(f"{garden.path(guest)}/send-again")
    await garden.until(lambda: garden.state(guest)[1] is None)
    await garden.until_state(guest, State.AT_DOOR)
    await staff.aclose()
    await server.stop()


def not_confirmed(garden: Garden) -> str | None:
    row = garden.demo.service.reader.execute("SELECT last_answer FROM place").fetchone()
    return row[0] if row else None


async def test_a_call_may_not_go_where_nobody_listed(garden: Garden) -> None:
    call = Call("POST", "http://127.0.0.1:9/admit")
    await garden.speak(Habits(), login_move=Move.CALLED, call_in=call)
    guest = garden.guests[0]
    await garden.point.join(guest.phone)
    await guest.open()
    await guest.type_code(await code(garden))
    await garden.until(lambda: "may not be reached" in (not_confirmed(garden) or ""))
    assert garden.state(guest) == (State.AT_DOOR, State.INSIDE)
    assert site.SSID in guest.html
