"""What everybody does for themselves: a second factor, sessions; and invitations by mail."""

import re

import httpx
import pyotp

from lauschen.acts.people.trying import MOST, WINDOW_S
from lauschen.core.people.duties import Duty
from lauschen.demo import site
from lauschen.store.messages import outbox
from lauschen.store.people.attempts import Attempt
from tests.api.door.test_sign_in import SIGN_IN, House, house
from tests.api.people.test_people import OWN, people, signed_in_as

__all__ = ["house"]
MIRELA = {"name": "mirela", "password": OWN}


async def with_second(house: House) -> tuple[httpx.AsyncClient, pyotp.TOTP, list[str]]:
    browser = await signed_in_as(house, Duty.DESK)
    begun = (await browser.get("/api/own/second")).json()
    assert begun["qr"].startswith("data:image/svg+xml")
    assert f"secret={begun['secret']}" in begun["address"]
    totp = pyotp.TOTP(begun["secret"])
    given = {"password": OWN, "secret": begun["secret"], "code": code_of(house, totp)}
    codes = (await browser.put("/api/own/second", json=given)).json()["codes"]
    return browser, totp, codes


def code_of(house: House, totp: pyotp.TOTP, later_s: float = 0) -> str:
    return totp.at(int(house.service.clock.now() + later_s))


async def sign_in(house: House, code: str = "", address: str = "127.0.0.1") -> httpx.Response:
    return await house.browser(address).post("/api/session", json={**MIRELA, "code": code})


async def test_the_second_factor_is_asked_for_and_each_code_is_good_once(house: House) -> None:
    _, totp, _ = await with_second(house)
    asked = await sign_in(house)
    assert (asked.status_code, asked.json()["code"]) == (422, "second_needed")
    used = await sign_in(house, code_of(house, totp))  # it turned the second factor on
    assert (used.status_code, used.json()["field"]) == (422, "code")
    house.service.clock.advance(31)  # type: ignore[attr-defined]
    assert (await sign_in(house, code_of(house, totp))).status_code == 200
    assert (await sign_in(house, code_of(house, totp))).status_code == 422
    house.service.clock.advance(31)  # type: ignore[attr-defined]
    code = code_of(house, totp)
    assert (await sign_in(house, f"{code[:3]} {code[3:]}")).status_code == 200
    far = await sign_in(house, code_of(house, totp, 90))
    assert far.status_code == 422


async def test_who_does_not_know_the_password_is_not_told_of_it(house: House) -> None:
    await with_second(house)
    answer = await house.browser().post("/api/session", json={"name": "mirela", "password": "no"})
    assert answer.json()["code"] == "sign_in_wrong"


async def test_a_recovery_code_is_good_once(house: House) -> None:
    _, _, codes = await with_second(house)
    assert len(set(codes)) == 8
    assert (await sign_in(house, codes[0].upper())).status_code == 200
    assert (await sign_in(house, codes[0])).status_code == 422
    assert "mirela signed in with a recovery code. 7 are left" in await house.log()


async def test_wrong_codes_are_counted_for_the_person_wherever_they_come_from(house: House) -> None:
    _, totp, _ = await with_second(house)
    chief = await house.signed_in()
    for number in range(MOST[Attempt.SECOND_FACTOR]):
        wrong = await sign_in(house, "000000", f"127.0.0.{number + 10}")
        assert (wrong.status_code, wrong.json()["code"]) == (422, "second_wrong")
    house.service.clock.advance(31)  # type: ignore[attr-defined]
    for address in ("127.0.0.5", "127.0.0.6"):
        late = await sign_in(house, code_of(house, totp), address)
        assert (late.status_code, late.json()["code"]) == (503, "second_factor_unavailable")
        assert "Try again in 59 min" in late.json()["detail"]
    (said,) = [
        one["text"]
        for one in (await chief.get("/api/now")).json()["attention"]
        if one["kind"] == "second_factor"
    ]
    assert said == "mirela: 10 wrong codes of the second factor within an hour, after the right password."
    house.service.clock.advance(WINDOW_S)  # type: ignore[attr-defined]
    assert (await sign_in(house, code_of(house, totp))).status_code == 200


async def test_right_codes_are_no_tries(house: House) -> None:
    _, totp, _ = await with_second(house)
    for _ in range(MOST[Attempt.SECOND_FACTOR] + 2):
        house.service.clock.advance(31)  # type: ignore[attr-defined]
        assert (await sign_in(house, code_of(house, totp))).status_code == 200
    (left,) = house.service.reader.execute("SELECT count(*) FROM attempt").fetchone()
    assert left == 0


async def test_turning_it_on_signs_other_browsers_out(house: House) -> None:
    await signed_in_as(house, Duty.DESK)
    other = house.browser()
    assert (await other.post("/api/session", json=MIRELA)).status_code == 200
    assert (await other.get("/api/desk")).status_code == 200
    browser = house.browser()
    answer = await browser.post("/api/session", json=MIRELA)
    browser.headers["X-Lauschen-Form"] = answer.json()["csrf"]
    secret = (await browser.get("/api/own/second")).json()["secret"]
    given = {"password": OWN, "secret": secret, "code": code_of(house, pyotp.TOTP(secret))}
    assert (await browser.put("/api/own/second", json=given)).status_code == 200
    assert ((await other.get("/api/desk")).status_code, (await browser.get("/api/desk")).status_code) == (
        401,
        200,
    )


async def test_guesses_of_the_code_come_to_an_end_and_the_right_person_gets_in(house: House) -> None:
    _, totp, _ = await with_second(house)
    house.service.clock.advance(31)  # type: ignore[attr-defined]
    tried = []
    for _ in range(10):
        tried.append((await sign_in(house, "000000")).status_code)
        house.service.clock.advance(1)  # type: ignore[attr-defined]
    assert tried[0] == 422
    assert tried[-1] in (429, 503)
    said = "127.0.0.1 tried to sign in as mirela with the right password, but a wrong second-factor code"
    assert said in await house.log()
    assert (await sign_in(house, code_of(house, totp), "127.0.0.5")).status_code == 200


async def test_it_is_taken_away_by_the_password_or_by_an_administrator(house: House) -> None:
    browser, _, _ = await with_second(house)
    wrong = await browser.post("/api/own/second/off", json={"password": "no"})
    assert (wrong.status_code, wrong.json()["field"]) == (422, "password")
    assert (await browser.post("/api/own/second/off", json={"password": OWN})).status_code == 204
    assert (await sign_in(house)).status_code == 200
    chief = await house.signed_in()
    begun = (await browser.get("/api/own/second")).json()
    house.service.clock.advance(31)  # type: ignore[attr-defined]
    code = code_of(house, pyotp.TOTP(begun["secret"]))
    given = {"password": OWN, "secret": begun["secret"], "code": code}
    assert (await browser.put("/api/own/second", json=given)).status_code == 200
    found = (await people(chief))["mirela"]
    assert found["has_second"]
    assert (await chief.delete(f"/api/people/{found['id']}/second")).status_code == 204
    assert (await sign_in(house)).status_code == 200


async def test_of_who_is_removed_the_name_alone_is_kept(house: House) -> None:
    await with_second(house)
    chief, reader = await house.signed_in(), house.service.reader
    person = (await people(chief))["mirela"]["id"]
    kept = "SELECT name, mail, password_hash, second_sealed, invited_hash FROM staff WHERE id = ?"
    codes = "SELECT count(*) FROM recovery_code WHERE staff = ?"
    assert reader.execute(codes, (person,)).fetchone() == (8,)
    assert (await chief.delete(f"/api/people/{person}")).status_code == 204
    assert reader.execute(kept, (person,)).fetchone() == ("mirela", "", "", None, None)
    assert reader.execute(codes, (person,)).fetchone() == (0,)


async def test_a_code_that_is_not_right_turns_nothing_on(house: House) -> None:
    browser = await signed_in_as(house, Duty.DESK)
    secret = (await browser.get("/api/own/second")).json()["secret"]
    answer = await browser.put("/api/own/second", json={"password": OWN, "secret": secret, "code": "000000"})
    assert (answer.status_code, answer.json()["field"]) == (422, "code")
    assert (await sign_in(house)).status_code == 200


async def test_an_open_browser_puts_in_no_second_factor_of_its_own(house: House) -> None:
    browser, totp, _ = await with_second(house)
    begun = (await browser.get("/api/own/second")).json()
    house.service.clock.advance(31)  # type: ignore[attr-defined]
    code = code_of(house, pyotp.TOTP(begun["secret"]))
    guessed = {"password": "a guess of it", "secret": begun["secret"], "code": code}
    refused = await browser.put("/api/own/second", json=guessed)
    assert (refused.status_code, refused.json()["field"]) == (422, "password")
    again = await browser.put("/api/own/second", json={**guessed, "password": OWN})
    assert (again.status_code, again.json()["code"]) == (422, "second_is_on")
    assert (await sign_in(house, code_of(house, totp))).status_code == 200


async def test_sessions_are_listed_and_ended_one_by_one(house: House) -> None:
    browser, other = await signed_in_as(house, Duty.DESK), await house.signed_in(MIRELA)
    shown = (await browser.get("/api/own/sessions")).json()
    assert [one["is_this"] for one in shown].count(True) == 1
    assert shown[0]["source"] == "127.0.0.1"
    (another,) = [one["id"] for one in shown if not one["is_this"]]
    async with other.stream("GET", "/api/feed") as live:
        lines = live.aiter_lines()
        assert await anext(lines) == "event: now"
        assert (await browser.delete(f"/api/own/sessions/{another}")).status_code == 204
        assert [line async for line in lines if line.startswith("event")] == []
    assert (await other.get("/api/desk")).status_code == 401
    assert (await browser.delete(f"/api/own/sessions/{another}")).status_code == 404
    chief = await house.signed_in()
    me = (await people(chief))[site.STAFF_NAME]["id"]
    (mine, *_) = (await chief.get("/api/own/sessions")).json()
    # Nobody ends somebody else's by its number.
    assert (await browser.delete(f"/api/own/sessions/{mine['id']}")).status_code == 404
    she = (await people(chief))["mirela"]["id"]
    (left,) = (await chief.get(f"/api/people/{she}/sessions")).json()
    assert (await chief.delete(f"/api/people/{me}/sessions/{left['id']}")).status_code == 404
    assert (await chief.delete(f"/api/people/{she}/sessions/{left['id']}")).status_code == 204
    assert (await browser.get("/api/desk")).status_code == 401


async def with_mail(house: House) -> httpx.AsyncClient:
    chief = await house.signed_in()
    server = {"host": "192.0.2.25", "port": 587, "security": "starttls", "sender": "desk@hollerau.example"}
    answer = await chief.put("/api/mail", json=server)
    assert answer.status_code == 200, answer.text
    return chief


def link_in(house: House) -> str:
    """As it stands in the newest mail."""
    reader, keys = house.service.reader, house.service.road.keys
    row = reader.execute("SELECT max(id) FROM message").fetchone()
    message = outbox.get_message(reader, keys, row[0])
    assert message is not None
    return message.words["link"]


async def test_an_invitation_leads_to_a_password_once(house: House) -> None:
    chief = await with_mail(house)
    wanted = {"name": "odile", "duty": "desk", "mail": "odile@hollerau.example"}
    made = (await chief.post("/api/people", json=wanted)).json()
    assert (made["password"], made["person"]["mail"]) == (None, "odile@hollerau.example")
    link = link_in(house)
    assert re.fullmatch(r"http://127\.0\.0\.1:\d+/invited#[\w-]+", link)
    token = link.partition("#")[2]
    browser = house.browser()
    short = await browser.post("/api/invitations", json={"token": token, "new": "short"})
    assert (short.status_code, short.json()["field"]) == (422, "new")
    chosen = {"token": token, "new": "score-and-stand-23"}
    assert (await browser.post("/api/invitations", json=chosen)).json() == {"name": "odile"}
    assert (await browser.post("/api/invitations", json=chosen)).status_code == 422
    assert (
        await browser.post("/api/session", json={"name": "odile", "password": "score-and-stand-23"})
    ).status_code == 200


async def test_a_link_is_over_by_its_time_by_another_one_and_with_the_person(house: House) -> None:
    chief = await with_mail(house)
    wanted = {"name": "odile", "duty": "desk", "mail": "odile@hollerau.example"}
    one = (await chief.post("/api/people", json=wanted)).json()["person"]["id"]
    tokens = [link_in(house).partition("#")[2]]
    again = await chief.post(f"/api/people/{one}/invite", json={"mail": "odile@hollerau.example"})
    assert again.status_code == 200, again.text
    tokens.append(link_in(house).partition("#")[2])
    browser = house.browser()
    first = await browser.post("/api/invitations", json={"token": tokens[0], "new": "score-and-stand-23"})
    assert first.json()["code"] == "invitation_over"
    house.service.clock.advance(3 * 86_400 + 1)  # type: ignore[attr-defined]
    late = await browser.post("/api/invitations", json={"token": tokens[1], "new": "score-and-stand-23"})
    assert late.json()["code"] == "invitation_over"
    chief = await house.signed_in(SIGN_IN)
    await chief.post(f"/api/people/{one}/invite", json={"mail": "odile@hollerau.example"})
    token = link_in(house).partition("#")[2]
    await chief.delete(f"/api/people/{one}")
    gone = await browser.post("/api/invitations", json={"token": token, "new": "score-and-stand-23"})
    assert gone.json()["code"] == "invitation_over"


async def test_a_link_is_over_by_another_first_password(house: House) -> None:
    chief = await with_mail(house)
    wanted = {"name": "odile", "duty": "desk", "mail": "odile@hollerau.example"}
    one = (await chief.post("/api/people", json=wanted)).json()["person"]["id"]
    token = link_in(house).partition("#")[2]
    first = (await chief.post(f"/api/people/{one}/password")).json()["password"]
    late = await house.browser().post("/api/invitations", json={"token": token, "new": "score-and-stand-23"})
    assert late.json()["code"] == "invitation_over"
    assert (await house.signed_in({"name": "odile", "password": first})).cookies


async def test_without_a_mail_server_nobody_is_added_half(house: House) -> None:
    chief = await house.signed_in()
    wanted = {"name": "odile", "duty": "desk", "mail": "odile@hollerau.example"}
    answer = await chief.post("/api/people", json=wanted)
    assert (answer.status_code, answer.json()["code"]) == (422, "no_mail")
    assert "odile" not in await people(chief)


async def test_a_change_from_another_site_is_refused_though_its_form_value_is_right(house: House) -> None:
    browser = await house.signed_in()
    own = str(browser.base_url).rstrip("/")
    wish = {"plan": 1, "count": 1}
    for origin in ("http://elsewhere.example", "null", f"{own}.elsewhere.example", "http://127.0.0.1:1"):
        answer = await browser.post("/api/batches", json=wish, headers={"Origin": origin})
        assert (answer.status_code, answer.json()["code"]) == (403, "not_from_here"), origin
    for headers in ({"Origin": own}, {}):
        assert (await browser.post("/api/batches", json=wish, headers=headers)).status_code == 201
