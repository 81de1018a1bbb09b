"""The page: tokens, visits, languages, and what it refuses."""

import asyncio
import re
from collections.abc import AsyncIterator
from dataclasses import replace

import httpx
import pytest
from markupsafe import escape

from lauschen.acts.arriving.arrivals import answer_arrival
from lauschen.acts.passphrases.issuing import KeyMakers
from lauschen.acts.staying.reports import Event
from lauschen.core.config.dialect import Arrives
from lauschen.core.config.network import Hint, Match
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.ids import Mac, NetworkId
from lauschen.core.words.codes import make_code
from lauschen.core.words.tokens import PortalToken, sign_token
from lauschen.portal.app import Portal
from lauschen.portal.guards import GETS_AT_FIRST, GETS_PER_S
from lauschen.portal.page import CSS, STYLE_HASH
from lauschen.portal.words import catalogue, clock_words
from lauschen.proofs.accounts import Accounts
from lauschen.road.road import Road
from lauschen.sentences.catalogue import LANGUAGES
from lauschen.store.db import open_reader
from tests.place import GARDEN, OTHER, PHONE, WEST, CountedChance, Place
from tests.still_clock import StillClock

ORIGIN = {"Origin": "http://welcome.hollerau.example"}


class Page:
    """A browser at the portal, without an access device between them."""

    def __init__(self, place: Place) -> None:
        place.ask()
        self.place, self.clock = place, StillClock(place.now)
        self.code = place.issue()[0]
        path = place.conn.execute("PRAGMA database_list").fetchone()[2]
        self.reader = open_reader(path)
        self.road = Road(place.conn, place.keys, place.config, self.clock, CountedChance(), fsync_s=0.0)
        self.road._next_log_id = 1000  # `place` goes on to hear things beside it
        self.wakes = 0
        self.road.wake_sender = self._woken
        self.accounts = Accounts(
            lambda: self.road.config, self.reader, place.keys, self.clock.monotonic, self.road.memory
        )
        app = Portal(self.road, self.reader, self.accounts, KeyMakers()).app()
        self.http = httpx.AsyncClient(
            transport=httpx.ASGITransport(app, client=("127.77.1.1", 5000)),
            base_url="http://welcome.hollerau.example",
        )

    def _woken(self) -> None:
        self.wakes += 1

    def token(self, **changes: object) -> str:
        fields = {
            "mac": PHONE, "access_device": WEST, "network": GARDEN, "expires": int(self.clock.now()) + 2400, **changes
        }  # fmt: skip
        return sign_token(PortalToken(**fields), self.place.keys.token_key)  # type: ignore[arg-type]

    async def visit(self, query: str = "", later: int = 0, **headers: str) -> tuple[str, str]:
        """Where the visit is, and its CSRF value; `later` makes it that of another answer at the door."""
        token = self.token(expires=int(self.clock.now()) + 2400 + later)
        first = await self.http.get(f"/?t={token}{query}", headers=headers)
        assert first.status_code == 303
        where = first.headers["location"]
        page = (await self.http.get(where, headers=headers)).text
        found = re.search(r'name="csrf" value="([0-9a-f]{32})"', page)
        assert found
        return where.partition("?")[0], found[1]

    def rows(self, table: str) -> int:
        return int(self.place.conn.execute(f"SELECT count(*) FROM {table}").fetchone()[0])


@pytest.fixture
async def page(place: Place) -> AsyncIterator[Page]:
    made = Page(place)
    yield made
    await made.http.aclose()
    made.reader.close()


async def test_the_answer_is_one_small_page_that_runs_nothing(page: Page) -> None:
    where, _ = await page.visit()
    answer = await page.http.get(where)
    assert len(answer.content) < 30_000
    assert "<script" not in answer.text
    assert "http://" not in answer.text.replace("http://www.w3.org", "")
    policy = answer.headers["content-security-policy"]
    assert "default-src 'none'" in policy
    assert STYLE_HASH in policy
    assert f"<style>{CSS}</style>" in answer.text
    assert answer.headers["referrer-policy"] == "same-origin"
    assert answer.headers["cache-control"] == "no-store"


@pytest.mark.parametrize(
    "change",
    [
        {"mac": OTHER},
        {"network": NetworkId(9)},
        {"expires": 1},
    ],
)
async def test_foreign_and_expired_tokens_get_a_plain_page_and_change_nothing(
    page: Page, change: dict[str, object]
) -> None:
    answer = await page.http.get(f"/?t={page.token(**change)}")
    assert answer.status_code == 403
    assert "Please reconnect" in answer.text
    assert page.rows("visit") == 0


@pytest.mark.parametrize("text", ["", "x", "A" * 47, "%00" * 47, "ä" * 47])
async def test_forged_tokens_too(page: Page, text: str) -> None:
    answer = await page.http.get(f"/?t={text}")
    assert (answer.status_code, page.rows("visit")) == (403, 0)
    bent = page.token()[:-3] + "AAA"
    assert (await page.http.get(f"/?t={bent}")).status_code == 403


async def test_a_mac_address_in_the_query_is_never_believed(page: Page) -> None:
    answer = await page.http.get("/?mac=02-00-00-AA-BB-01&ssid=Hollerau%20Garden")
    assert "Please reconnect" in answer.text
    assert page.rows("visit") == 0


async def test_posts_without_or_with_a_foreign_csrf_value_get_403_with_a_page(page: Page) -> None:
    where, csrf = await page.visit()
    _, other_csrf = await page.visit(later=1)
    assert other_csrf != csrf
    for fields, headers in (
        ({"code": page.code}, ORIGIN),
        ({"code": page.code, "csrf": other_csrf}, ORIGIN),
        ({"code": page.code, "csrf": "ä"}, ORIGIN),
        ({"code": page.code, "csrf": csrf}, {"Origin": "http://evil.example"}),
        ({"code": page.code, "csrf": csrf}, {"Origin": "null"}),
    ):
        page.clock.advance(1)
        answer = await page.http.post(f"{where}/by/code", data=fields, headers=headers)
        assert answer.status_code == 403
        assert "Nothing was changed" in answer.text or "nothing was changed" in answer.text
    assert page.rows("admission") == 0
    assert (await page.http.post(f"{where}/leave", data={}, headers=ORIGIN)).status_code == 403


async def test_the_device_is_moved_only_after_the_answer(page: Page) -> None:
    where, csrf = await page.visit()
    answer = await page.http.post(f"{where}/by/code", data={"code": page.code, "csrf": csrf}, headers=ORIGIN)
    assert answer.status_code == 303
    assert page.wakes == 1
    waiting = await page.http.get(where)
    assert waiting.headers["refresh"] == "1"
    assert "Connecting you" in waiting.text


async def test_what_was_typed_is_kept_and_never_markup(page: Page) -> None:
    where, csrf = await page.visit()
    answer = await page.http.post(f"{where}/by/code", data={"code": '"><b>x', "csrf": csrf}, headers=ORIGIN)
    assert "&#34;&gt;&lt;b&gt;x" in answer.text
    assert "<b>" not in answer.text


async def test_names_that_others_chose_are_never_markup(page: Page) -> None:
    """An SSID comes from the air, a site's name from staff, a target from whoever redirects."""
    nasty = '"><img src=x onerror=alert(1)>'
    house = page.road.config
    network = house.networks[GARDEN]
    named = replace(network, ssid=Hint(Match.EXACT, f"{nasty}\u202e".encode()))
    page.road.config = replace(house, site_name=nasty, networks={network.id: named})
    where, _ = await page.visit("&url=http%3A%2F%2Fx.example%2F%22%3E%3Cimg%20src%3Dx%3E")
    answer = await page.http.get(where)
    assert "<img" not in answer.text
    assert "\u202e" not in answer.text
    assert "[202E]" in answer.text


async def test_every_slip_and_refusal_has_words_in_both_languages(page: Page) -> None:
    where, csrf = await page.visit()
    for code, words in (
        ("", "empty"),
        ("ABC", "too_short"),
        ("A" * 11, "too_long"),
        ("0" * 10, "no_such_sign"),
    ):
        for lang in LANGUAGES:
            page.clock.advance(1)
            fields = {"code": code, "csrf": csrf, "lang": lang}
            answer = await page.http.post(f"{where}/by/code", data=fields, headers=ORIGIN)
            assert escape(catalogue(lang)[f"typo_{words}"]) in answer.text
            assert f'<html lang="{lang}">' in answer.text


async def test_until_when_typing_is_barred_is_said(page: Page) -> None:
    where, csrf = await page.visit()
    for number in range(5):
        page.clock.advance(1)
        answer = await page.http.post(
            f"{where}/by/code", data={"code": make_code(number), "csrf": csrf}, headers=ORIGIN
        )
    until = clock_words(
        -(-(page.clock.now() + 600) // 60) * 60, page.clock.now(), page.place.config.zone, "en"
    )
    assert f"You can try again from {until}" in answer.text
    assert 'id="code"' not in answer.text


async def test_a_slip_code_fills_the_field_and_a_target_is_shown_only_inside(page: Page) -> None:
    first = await page.http.get(f"/?t={page.token()}&url=http%3A%2F%2Fslip.hollerau.example%2F{page.code}")
    assert first.headers["location"].endswith(f"?code={page.code[:5]}-{page.code[5:]}")
    where, _ = await page.visit("&url=javascript%3Aalert(1)")
    assert "javascript" not in (await page.http.get(where)).text


async def test_too_many_posts_and_too_large_ones_are_refused(page: Page) -> None:
    where, csrf = await page.visit()
    fields = {"code": "x", "csrf": csrf}
    answers = [
        (await page.http.post(f"{where}/by/code", data=fields, headers=ORIGIN)).status_code for _ in range(8)
    ]
    assert answers == [200] * 5 + [429] * 3
    page.clock.advance(5)
    large = await page.http.post(f"{where}/by/code", content=b"x" * 70_000, headers=ORIGIN)
    assert large.status_code == 413
    assert (await page.http.get(where, headers={"Cookie": "c=" + "x" * 8200})).status_code == 431

    async def endless() -> AsyncIterator[bytes]:
        for _ in range(20):
            yield b"code=" + b"x" * 8000

    headers = {**ORIGIN, "Content-Type": "application/x-www-form-urlencoded"}
    assert (await page.http.post(f"{where}/by/code", content=endless(), headers=headers)).status_code == 413


async def test_elsewhere_and_the_slip_host_outside(page: Page) -> None:
    assert (await page.http.get("/nothing/here")).status_code == 404
    slip = await page.http.get(f"http://slip.hollerau.example/{page.code}")
    assert "Join the Wi-Fi first" in slip.text
    assert page.code not in slip.text


async def test_a_slip_that_nobody_redirects_is_filled_in_for_who_is_known_by_its_address(page: Page) -> None:
    page.place.conn.execute("UPDATE standing SET framed_ip = '127.77.1.1'")
    page.place.set_dialect(arrives=Arrives.PLAIN)
    page.road.config = page.place.config
    slip = await page.http.get(f"http://slip.hollerau.example/{page.code}")
    where = slip.headers["location"]
    assert where.startswith("http://welcome.hollerau.example/visit/")
    assert f'value="{page.code[:5]}-{page.code[5:]}"' in (await page.http.get(where)).text


async def test_under_a_strangers_host_name_there_is_no_page(page: Page) -> None:
    where, _ = await page.visit()
    for host in ("evil.example", "welcome.hollerau.example.evil.example", "", "[bad"):
        answer = await page.http.get(where, headers={"Host": host})
        assert answer.status_code == 421, host
        assert "Please open http://welcome.hollerau.example instead" in answer.text
    for host in ("welcome.hollerau.example:8080", "WELCOME.hollerau.example"):
        assert (await page.http.get(where, headers={"Host": host})).status_code == 200


async def test_gets_have_a_budget_and_the_same_token_makes_one_visit(page: Page) -> None:
    token = page.token()
    answers = [(await page.http.get(f"/?t={token}")).status_code for _ in range(GETS_AT_FIRST + 5)]
    assert answers == [303] * GETS_AT_FIRST + [429] * 5
    assert page.rows("visit") == 1
    page.clock.advance(1)
    answers = [(await page.http.get(f"/?t={token}")).status_code for _ in range(GETS_PER_S + 1)]
    assert answers == [303] * GETS_PER_S + [429]


@pytest.mark.usefixtures("groups_run_once")  # a rollback forgets what was handed out
async def test_opening_the_page_forgets_nothing_that_the_packet_road_knows(page: Page) -> None:
    known = await page.road.act(lambda tx: answer_arrival(tx, arrival_of(OTHER))[1])
    await page.visit()
    assert await page.road.act(lambda tx: tx.memory.find(OTHER, GARDEN)) is known


def arrival_of(mac: Mac) -> Arrival:
    return Arrival(Medium.ASKED, mac, WEST, ssid=b"Hollerau Garden", spelled=f"{mac:012X}")


@pytest.mark.parametrize("number", ["9" * 5000, "9" * 30, "-1", "1.0", "x", "٣", "0"])
async def test_a_dialect_that_is_none_is_no_bug(page: Page, number: str) -> None:
    answer = await page.http.get(f"/arrive/{number}?mac=020000aabb01")
    assert answer.status_code == 403
    assert page.road.faults.kinds == {}


async def test_a_page_that_raises_is_an_answer_and_is_told(
    page: Page, monkeypatch: pytest.MonkeyPatch
) -> None:
    where, _ = await page.visit()

    def broken(*_: object) -> None:
        raise KeyError("bug")

    monkeypatch.setattr("lauschen.portal.app.visit_page", broken)
    answer = await page.http.get(where)
    assert answer.status_code == 500
    assert "Something went wrong" in answer.text
    assert page.road.faults.kinds["page"].count == 1


async def test_hours_later_the_visit_that_logged_in_still_shows_and_ends_its_stay(page: Page) -> None:
    where, csrf = await page.visit()
    await page.http.post(f"{where}/by/code", data={"code": page.code, "csrf": csrf}, headers=ORIGIN)
    await page.road.act(lambda tx: answer_arrival(tx, replace(arrival_of(PHONE), medium=Medium.REAUTHORISED)))
    page.clock.advance(3 * 3600)
    shown = await page.http.get(where)
    assert "You are online." in shown.text
    assert "Log out" in shown.text
    assert (await page.http.post(f"{where}/leave", data={"csrf": csrf}, headers=ORIGIN)).status_code == 303
    assert "Disconnecting you" in (await page.http.get(where)).text


async def test_another_visit_looks_and_logs_out_once_the_code_was_typed(page: Page) -> None:
    where, csrf = await page.visit()
    await page.http.post(f"{where}/by/code", data={"code": page.code, "csrf": csrf}, headers=ORIGIN)
    await page.road.act(lambda tx: answer_arrival(tx, replace(arrival_of(PHONE), medium=Medium.REAUTHORISED)))
    there, csrf = await page.visit(later=1)
    shown = (await page.http.get(there)).text
    assert "Until " in shown
    assert f'action="{there}/leave"' not in shown
    assert "enter the code that this device is using" in shown
    await page.http.post(f"{there}/leave", data={"csrf": csrf}, headers=ORIGIN)
    assert "You are online." in (await page.http.get(there)).text
    other = page.place.issue()[0]
    page.clock.advance(5)
    refused = await page.http.post(f"{there}/by/code", data={"code": other, "csrf": csrf}, headers=ORIGIN)
    assert "already online with a different code" in refused.text
    await page.http.post(f"{there}/by/code", data={"code": page.code, "csrf": csrf}, headers=ORIGIN)
    assert f'action="{there}/leave"' in (await page.http.get(there)).text


async def test_an_address_of_another_device_gets_its_own_sentence(page: Page) -> None:
    page.place.ask(OTHER, "T1")
    page.place.report(Event.START, OTHER, "T1", framed_ip="127.77.1.1")
    answer = await page.http.get(f"/?t={page.token()}")
    assert (answer.status_code, page.rows("visit")) == (403, 0)
    assert "Your address belongs to a different device" in answer.text


async def test_guesses_from_one_source_wait_for_each_other_and_a_right_code_passes(page: Page) -> None:
    await page.visit()
    since = page.clock.now()
    page.place.conn.executemany(
        "INSERT INTO wrong_try (at, network, source) VALUES (?, 1, '127.77.1.1')", [(since,)] * 60
    )
    where, csrf = await page.visit(later=1)

    def post(code: str) -> "asyncio.Task[httpx.Response]":
        fields = {"code": code, "csrf": csrf}
        return asyncio.ensure_future(page.http.post(f"{where}/by/code", data=fields, headers=ORIGIN))

    first, second, right = post(make_code(1)), post(make_code(2)), post(page.code)
    await until_waiting(page)
    assert [first.done(), second.done(), right.done()] == [False, False, False]
    page.clock.advance(3.1)
    assert (await first).status_code == 200
    await until_waiting(page)
    assert [second.done(), right.done()] == [False, False]
    page.clock.advance(3.1)
    assert (await second).status_code == 200
    assert (await right).status_code == 303  # at once, when it was its turn


async def until_waiting(page: Page) -> None:
    """Until an answer is held back by the clock."""
    async with asyncio.timeout(5):
        while not any(timer.call for _, _, timer in page.clock._timers):
            await page.road.act(lambda tx: None)
