"""Click-through that asks who somebody is: kept as it was said, marked as confirmed by nobody, and never markup."""

import json
from typing import Any

import httpx
import pytest

from lauschen.core.ways.click_through import read_mail
from tests.garden import Garden, Guest


@pytest.fixture
async def guest(garden: Garden, staff: httpx.AsyncClient) -> Guest:
    way = {"way": "click_through", "plan": 3, "asks_name": True, "asks_mail": True, "shows_whole": True}
    answer = await staff.put("/api/networks/2/ways", json={"ways": [way]})
    assert answer.status_code == 200, answer.text
    found = garden.student
    await garden.demo.joins[4].join(found.phone)
    await found.open()
    return found


async def agree(guest: Guest, name: str, mail: str) -> None:
    fields = {"rules": "1", "rules_lang": "en", "guest_name": name, "guest_mail": mail}
    await guest.post("by/click_through", {**fields, "csrf": guest.csrf()})


async def test_what_is_missing_is_asked_for_again_and_what_was_typed_stays(guest: Guest) -> None:
    assert 'class="rules whole"' in guest.html
    await agree(guest, "Mirela <b>Amberg</b>", "mirela at home")
    assert "Please enter your name and a valid email address" in guest.html
    assert 'value="Mirela &lt;b&gt;Amberg&lt;/b&gt;"' in guest.html
    assert 'value="mirela at home"' in guest.html
    await agree(guest, "   ", "mirela@hollerau.example")
    assert "Please enter your name and a valid email address" in guest.html


async def test_what_is_said_is_kept_and_shown_as_unconfirmed(
    garden: Garden, staff: httpx.AsyncClient, guest: Guest
) -> None:
    await agree(guest, "Mirela\u202e\n Amberg", " mirela@hollerau.example ")
    (offered,) = garden.demo.service.reader.execute("SELECT offered FROM admission").fetchone()
    kept = {"rules": 1, "lang": "en", "name": "Mirela\u202e Amberg", "mail": "mirela@hollerau.example"}
    assert json.loads(offered) == kept
    guests: list[dict[str, Any]] = (await staff.get("/api/guests")).json()["rows"]
    assert [one["name"] for one in guests if one["way_in"]] == ["Mirela[202E] Amberg, unconfirmed"]
    log = (await staff.get("/api/log")).json()
    assert any("Mirela[202E] Amberg, unconfirmed" in line["text"] for line in log)


@pytest.mark.parametrize("mail", ["a@b.example", "ä.ö+x@bücher.example", "o'neil@sub.house.example"])
def test_addresses_by_their_form(mail: str) -> None:
    assert read_mail(mail) == mail


@pytest.mark.parametrize(
    "mail",
    ["", "a", "a@b", "a@@b.example", "a b@c.example", "a@b..example", "a@.example", "a@b.example,c@d.example",
     "a@b.example\n", "<a@b.example>", "a\0@b.example", "a" * 250 + "@b.example", "@" * 5000],
)  # fmt: skip
def test_what_is_none(mail: str) -> None:
    assert read_mail(mail) == ""
