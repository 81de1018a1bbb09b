"""A host's own page: who waits, whom they vouched for, and what can be done about each; by its link alone."""

import re
from typing import Any

import httpx
import pytest

from lauschen.core.decide.standing import State
from tests.garden import PAGE, Garden, Guest
from tests.portal.test_hosts import answer, ask, begun, host_page, link_of, mails


async def own_page(garden: Garden, staff: httpx.AsyncClient) -> tuple[Guest, str, str]:
    """A guest who is in by a host; the link to the host's page, and the number of the guest on it."""
    guest, link = await begun(garden, staff)
    await answer(guest, link)
    await garden.until_state(guest, State.INSIDE)
    assert "We have sent the link to your email address" in await host_page(guest, link, answer="page")
    sent = await mails(garden, 3)
    own = link_of(next(mail for mail in sent if "/hosts/" in mail.part("plain")), "hosts")
    found = re.search(r'name="guest" value="(\d+)"', await host_page(guest, own))
    assert found
    return guest, own, found[1]


async def press(guest: Guest, own: str, number: str, act: str, **more: str) -> str:
    return await host_page(guest, own, guest=number, act=act, **more)


async def issued(garden: Garden, staff: httpx.AsyncClient) -> dict[str, Any]:
    """What was issued by the host's yes, as the desk sees it."""
    batches = (await staff.get("/api/desk")).json()["batches"]
    found: dict[str, Any] = next(one for one in batches if one["way"] == "sponsor")["issued"][0]
    return found


async def bind(staff: httpx.AsyncClient, **limits: object) -> None:
    """Changes what the host may give."""
    (ada, _) = (await staff.get("/api/hosts")).json()
    wish = {key: value for key, value in ada.items() if key not in ("id", "sentence")} | limits
    assert (await staff.put(f"/api/hosts/{ada['id']}", json=wish)).status_code == 200


async def test_time_is_given_and_the_guest_stays_longer(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, own, number = await own_page(garden, staff)
    assert 'name="seconds"' not in await host_page(guest, own)  # all that they may give was given
    await bind(staff, longest_minutes=10 * 60)
    before = (await issued(garden, staff))["until"]
    shown = await host_page(guest, own)
    assert ('<option value="3600">' in shown, '<option value="14400">' in shown) == (True, False)
    assert "Time added." in await press(guest, own, number, "give_time", seconds="3600")
    assert (await issued(garden, staff))["until"] == pytest.approx(before + 3600)
    assert garden.state(guest)[0] is State.INSIDE


async def test_paused_is_held_and_resumed_is_in_again(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, own, number = await own_page(garden, staff)
    page = await press(guest, own, number, "pause")
    assert "Paused. Valid until" in page
    await garden.until_state(guest, State.HELD)
    await guest.open(guest.url)
    assert "Your access is paused" in guest.html
    await guest.type_code((await issued(garden, staff))["code"])
    assert "This code is paused." in guest.html
    assert (await issued(garden, staff))["state"] == "paused"
    await press(guest, own, number, "resume")
    await garden.until_state(guest, State.INSIDE)
    assert (await issued(garden, staff))["state"] == "running"


async def test_the_desk_lets_go_on_what_a_host_paused(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, own, number = await own_page(garden, staff)
    await press(guest, own, number, "pause")
    await garden.until_state(guest, State.HELD)
    resumed = await staff.post(f"/api/issued/{(await issued(garden, staff))['id']}/resume")
    assert resumed.json()["state"] == "running"
    await garden.until_state(guest, State.INSIDE)


async def test_a_new_code_takes_the_place_of_the_old_one(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, own, number = await own_page(garden, staff)
    old = (await issued(garden, staff))["code"]
    assert "A new code has been made." in await press(guest, own, number, "new_code")
    new = (await issued(garden, staff))["code"]
    assert new != old
    assert garden.state(guest)[0] is State.INSIDE
    assert new in (await mails(garden, 4))[3].part("plain")
    other = garden.guests[1]
    await garden.point.join(other.phone)
    await other.open()
    await other.type_code(old)
    assert garden.state(other)[0] is State.AT_DOOR


async def test_sent_again_and_withdrawn(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, own, number = await own_page(garden, staff)
    await press(guest, own, number, "send_again")
    again = (await mails(garden, 4))[3]
    assert again.to == "ines@students.hollerau.example"
    page = await press(guest, own, number, "withdraw")
    assert "Cancelled." in page
    assert "What you can do" not in page
    await garden.until_state(guest, State.AT_DOOR)


async def test_who_waits_stands_first_and_leads_to_the_question(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    guest, own, _ = await own_page(garden, staff)
    other = garden.guests[1]
    await garden.point.join(other.phone)
    await other.open()
    ada = (await staff.get("/api/hosts")).json()[0]["id"]
    await ask(other, ada, name="Jonas Tamm")
    await mails(garden, 4)
    page = await host_page(guest, own)
    assert page.index("Jonas Tamm") < page.index("Ines Harwood")
    found = re.search(r'href="(/host/[0-9a-f]{32})', page)
    assert found
    assert "Jonas Tamm would like to get online" in await host_page(guest, found[1])


@pytest.mark.parametrize(
    ("fields", "says"),
    [
        ({"guest": "999", "act": "withdraw"}, "no longer exists"),
        ({"guest": "1", "act": "open_the_house"}, "no longer exists"),
        ({"guest": "x", "act": "withdraw"}, "no longer exists"),
        ({"guest": "1", "act": "give_time", "seconds": "-5"}, "no longer exists"),
        ({"guest": "1", "act": "give_time", "seconds": "5"}, "That did not work"),
    ],
)
async def test_nothing_else_can_be_done_from_there(
    garden: Garden, staff: httpx.AsyncClient, fields: dict[str, str], says: str
) -> None:
    guest, own, _ = await own_page(garden, staff)
    assert says in await host_page(guest, own, **fields)
    assert (await issued(garden, staff))["state"] == "running"


async def test_another_hosts_guest_is_out_of_reach(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, _, number = await own_page(garden, staff)
    ben = (await staff.get("/api/hosts")).json()[1]["id"]
    assert (await staff.post(f"/api/hosts/{ben}/page")).status_code == 204
    sent = await mails(garden, 4)
    foreign = link_of(sent[3], "hosts")
    assert "Ines" not in await host_page(guest, foreign)
    assert "no longer exists" in await press(guest, foreign, number, "withdraw")
    assert (await issued(garden, staff))["state"] == "running"


async def test_only_the_newest_link_and_only_for_a_month(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, own, _ = await own_page(garden, staff)
    ada = (await staff.get("/api/hosts")).json()[0]["id"]
    await staff.post(f"/api/hosts/{ada}/page")
    newest = link_of((await mails(garden, 4))[3], "hosts")
    assert "This link no longer works" in await host_page(guest, own)
    base = f"http://127.0.0.1:{garden.demo.service.ports['portal']}"
    async with httpx.AsyncClient(base_url=base, headers={"Host": PAGE.partition("://")[2]}) as phone_of_ada:
        assert (await phone_of_ada.get(newest)).status_code == 200
        garden.clock.advance(31 * 86_400)
        assert (await phone_of_ada.get(newest)).status_code == 404


async def test_a_host_cannot_give_longer_than_they_may(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, own, number = await own_page(garden, staff)
    await bind(staff, longest_minutes=8 * 60 + 30)
    assert "longer than you are allowed to give" in await press(
        guest, own, number, "give_time", seconds="3600"
    )


async def test_what_cannot_be_sent_is_not_offered(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest, own, _ = await own_page(garden, staff)
    assert "Send again" in await host_page(guest, own)
    assert (await staff.delete("/api/mail")).status_code == 204
    assert "Send again" not in await host_page(guest, own)


@pytest.mark.parametrize(
    ("longest", "seconds", "says"),
    [
        (
            None,
            "3600",
            "longer than you are allowed to give",
        ),  # the day visit that they may give is eight hours, and no more
        (None, "86400", "longer than you are allowed to give"),
        (10 * 60, "3600", None),
        (10 * 60, "7200", "That did not work"),  # the form does not offer that
        (10 * 60, "60", "That did not work"),
        (10 * 60, "14400", "longer than you are allowed to give"),
    ],
)
async def test_more_time_is_bound_by_the_longest_and_by_what_the_form_offers(
    garden: Garden, staff: httpx.AsyncClient, longest: int | None, seconds: str, says: str | None
) -> None:
    guest, own, number = await own_page(garden, staff)
    await bind(staff, longest_minutes=longest)
    before = (await issued(garden, staff))["until"]
    page = await press(guest, own, number, "give_time", seconds=seconds)
    assert (says or "Time added.") in page
    after = (await issued(garden, staff))["until"]
    assert after == pytest.approx(before + (3600 if says is None else 0))
