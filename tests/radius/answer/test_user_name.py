"""User-Name in the Accept: nothing, a pseudonym or a name, as the dialect says, and never a code."""

import os
from collections.abc import AsyncIterator

import pytest

from lauschen.core.config.dialect import UserName
from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.numbers import Kind
from tests.place import PHONE, Place
from tests.radius.listen.test_server import BODY, SECRET, Radius

BREAK = "Ines\nHarwood\u202e"
LONG = "Ü" * 200


@pytest.fixture
async def radius(place: Place, request: pytest.FixtureRequest) -> AsyncIterator[Radius]:
    how, name = request.param
    (code,) = place.issue()
    place.conn.execute("UPDATE batch SET label = ?", (name,))
    place.let_in(code)
    place.set_dialect(user_name=how)
    made = Radius(place)
    yield made
    made.close()


@pytest.mark.parametrize(
    ("radius", "said"),
    [
        ((UserName.NOTHING, "Ines Harwood"), None),
        ((UserName.PSEUDONYM, "Ines Harwood"), "pseudonym"),
        ((UserName.NAME, "Ines Harwood"), "Ines Harwood"),
        ((UserName.NAME, BREAK), "Ines[000A]Harwood[202E]"),
        ((UserName.NAME, LONG), "Ü" * 126),
        ((UserName.NAME, ""), "pseudonym"),
    ],
    indirect=["radius"],
)
async def test_it_says_what_the_dialect_asks_for(radius: Radius, said: str | None) -> None:
    raw = await radius.wire.exchange(SECRET.access_request(9, os.urandom(16), BODY), radius.auth)
    accept = parse(raw)
    assert accept.first(Kind.FILTER_ID) == b"visitor"
    pseudonym = accept.text(Kind.CHARGEABLE_USER_IDENTITY)
    assert accept.text(Kind.USER_NAME) == (pseudonym if said == "pseudonym" else said)


@pytest.mark.parametrize("radius", [(UserName.NAME, "Ines Harwood")], indirect=True)
async def test_at_the_door_nobody_is_named(radius: Radius) -> None:
    radius.place.log_out()
    raw = await radius.wire.exchange(SECRET.access_request(9, os.urandom(16), BODY), radius.auth)
    accept = parse(raw)
    assert (accept.first(Kind.FILTER_ID), accept.text(Kind.USER_NAME)) == (b"doorstep", None)
    assert radius.place.standing(PHONE).admission is None
