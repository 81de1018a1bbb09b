"""What must be awaited before the road: one answer for all repetitions, and none when it cannot be asked."""

import asyncio
import os
from collections.abc import Callable

import pytest

from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Unavailable
from lauschen.core.ways.offers.person import NameAndPassword
from lauschen.core.ways.ways import Asked
from lauschen.proofs.prove import Proofs
from lauschen.radius.listen import intake
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.numbers import Code, Kind
from tests.place import Place
from tests.radius.listen.test_server import CALLED, SECRET, STATION, Radius


class Slow:
    """A prover that says what it is told to, once it is let."""

    def __init__(self) -> None:
        self.asked: list[Asked] = []
        self.may, self.error = asyncio.Event(), None
        self.verdict: Reason | None = None

    def waits(self, asked: Asked) -> bool:
        return True

    async def __call__(self, asked: Asked) -> Reason | None:
        self.asked.append(asked)
        await self.may.wait()
        if self.error is not None:
            raise self.error
        return self.verdict


@pytest.fixture
async def slow(place: Place):
    radius, prover = Radius(place), Slow()
    radius.intake.proofs = Proofs({NameAndPassword: prover})
    yield radius, prover
    radius.intake.close()
    radius.close()


def request(radius: Radius, code: str, number: int = 1) -> bytes:
    authenticator = os.urandom(16)
    hidden = a.octets(Kind.USER_PASSWORD, SECRET.hide(code.encode(), authenticator))
    name = a.text(Kind.USER_NAME, "mirela")
    return SECRET.access_request(number, authenticator, name + hidden + STATION + CALLED)


async def until(holds: Callable[[], bool]) -> None:
    async with asyncio.timeout(30):
        while not holds():  # noqa: ASYNC110 - packets are read by the loop itself
            await asyncio.sleep(0)


async def until_asked(prover: Slow, count: int) -> None:
    await until(lambda: len(prover.asked) >= count)


async def test_a_request_that_waits_is_proved_once_however_often_it_comes(
    slow: tuple[Radius, Slow], place: Place
) -> None:
    radius, prover = slow
    (code,) = place.issue()
    octets = request(radius, code)
    for _ in range(3):
        radius.wire.send(octets, radius.auth)
    await until_asked(prover, 1)
    await radius.still_answers(9)  # others are served meanwhile
    await until(lambda: radius.drops("repeated") == 2)
    prover.may.set()
    assert parse(await radius.wire.hear()).code == Code.ACCESS_ACCEPT
    assert await radius.wire.exchange(octets, radius.auth)  # the same octets once more
    assert len(prover.asked) == 1
    assert place.conn.execute("SELECT count(*) FROM admission").fetchone() == (1,)


async def test_what_is_not_proved_is_refused_with_its_reason(slow: tuple[Radius, Slow], place: Place) -> None:
    radius, prover = slow
    prover.verdict = Reason.CODE_WITHDRAWN
    prover.may.set()
    answer = parse(await radius.wire.exchange(request(radius, place.issue()[0]), radius.auth))
    assert answer.code == Code.ACCESS_REJECT
    assert answer.text(Kind.REPLY_MESSAGE) == "This code has been cancelled."


@pytest.mark.parametrize(
    ("error", "is_told"), [(Unavailable("directory", meanwhile="Later."), False), (KeyError("bug"), True)]
)
async def test_a_proof_that_cannot_be_asked_for_leaves_the_request_to_be_sent_again(
    slow: tuple[Radius, Slow], place: Place, error: Exception, is_told: bool
) -> None:
    radius, prover = slow
    octets = request(radius, place.issue()[0])
    prover.error = error
    prover.may.set()
    radius.wire.send(octets, radius.auth)
    await until_asked(prover, 1)
    await radius.still_answers(9)
    assert ("proof" in radius.road.faults.kinds) == is_told
    prover.error = None
    assert parse(await radius.wire.exchange(octets, radius.auth)).code == Code.ACCESS_ACCEPT


async def test_only_so_many_wait_at_once(
    slow: tuple[Radius, Slow], place: Place, monkeypatch: pytest.MonkeyPatch
) -> None:
    radius, prover = slow
    monkeypatch.setattr(intake, "MOST_PROVING", 2)
    for number in (1, 2, 3):
        radius.wire.send(request(radius, place.issue()[0], number), radius.auth)
    await until_asked(prover, 2)
    await radius.still_answers(9)
    assert len(prover.asked) == 2
