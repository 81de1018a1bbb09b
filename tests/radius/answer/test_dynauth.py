"""The client that moves devices: what it sends, how often, and which answers it believes."""

import asyncio
from collections.abc import AsyncIterator
from dataclasses import replace
from pathlib import Path

import pytest
from pyrad.dictionary import Dictionary
from pyrad.packet import CoAPacket

from lauschen.acts.moving.errands import Errand
from lauschen.core.config.dialect import Dialect, Move
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.decide.wanted import Place
from lauschen.core.ids import AccessDeviceId, DialectId, NetworkId, RoleId
from lauschen.radius.answer.dynauth import DRAINED, GIVE_UP_S, MoveClient, Reauthorisations, waits
from lauschen.radius.listen.registry import Registry
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.numbers import Code, Kind
from lauschen.radius.wire.signing import Secret
from tests.place import PHONE
from tests.place import Place as House
from tests.radius.packets import Wire
from tests.still_clock import StillClock

SECRET = b"hollerau-stand-in-secret"
PLAIN = Dialect(DialectId(1), "plain")
WORDS = Dictionary(str(Path(__file__).parents[1] / "dictionary"))


def standing(session_id: str | None = "S1") -> Standing:
    return Standing(
        PHONE, NetworkId(1), State.INSIDE, 0, State.INSIDE, None, None, AccessDeviceId(1), session_id,
        "02-00-00-aa-bb-01", "127.77.0.11", None, None, 0, None, None, None, None, None, 0, "", 0,
    )  # fmt: skip


class Line:
    """A client, and the access device's end of its wire."""

    def __init__(self, place: House) -> None:
        self.clock, self.wire, self.states = StillClock(), Wire(), Reauthorisations()
        self.registry = Registry(place.config, place.keys.token_key)
        self.client = MoveClient(self.clock, self.registry, self.states, lambda: 0.5)
        self.device = replace(place.config.access_devices[AccessDeviceId(1)], coa_port=self.wire.port)

    def move(self, how: Move, session_id: str | None = "S1", dialect: Dialect = PLAIN) -> "asyncio.Task[str]":
        """The answer, once there is one."""
        errand = self.errand(how, session_id, dialect)

        async def answered() -> str:
            return (await self.client.bring_about(errand)).answer

        return asyncio.create_task(answered())

    def errand(self, how: Move, session_id: str | None, dialect: Dialect) -> Errand:
        stands = standing(session_id)
        at = Place(
            PHONE, NetworkId(1), self.device.id, session_id or "", stands.spelled, stands.source, None, None, None,
            None, None, 1, 0, 0.0, None, None, None, None,
        )  # fmt: skip
        arrival = Arrival(Medium.CHANGED, PHONE, self.device.id, network=NetworkId(1))
        decision = Decision(Answer.DOOR, Reason.NEEDS_CODE, NetworkId(1), RoleId(1))
        return Errand(
            at, stands, True, RoleId(1), self.registry.config, self.device, dialect, how, arrival, decision,
            None, None,
        )  # fmt: skip

    async def answer(
        self, octets: bytes, to: tuple[str, int], code: Code, cause: int | None = None, secret: bytes = SECRET
    ) -> None:
        body = a.integer(Kind.ERROR_CAUSE, cause) if cause is not None else b""
        self.wire.socket.sendto(Secret(secret).reply(code, parse(octets), body), to)


@pytest.fixture
async def line(place: House) -> AsyncIterator[Line]:
    made = Line(place)
    yield made
    made.client.close()
    made.wire.close()


async def test_an_independent_peer_reads_our_coa_request(line: Line) -> None:
    task = line.move(Move.REAUTHORISE)
    octets, source = await line.wire.hear_from()
    request = CoAPacket(packet=octets, secret=SECRET, dict=WORDS)
    assert request.VerifyCoARequest()
    assert request.verify_message_authenticator()
    assert request.code == Code.COA_REQUEST
    assert request["Acct-Session-Id"] == ["S1"]
    assert request["Service-Type"] == [17]
    assert len(request["State"][0]) == 16
    assert request["Event-Timestamp"] == [int(line.clock.now())]
    assert parse(octets).attributes[0][0] == Kind.MESSAGE_AUTHENTICATOR
    await line.answer(octets, source, Code.COA_NAK, 507)
    assert await task == "accepted"
    assert line.states.redeem(request["State"][0], PHONE, line.clock.monotonic())


async def test_a_disconnect_says_only_which_session(line: Line) -> None:
    task = line.move(Move.DISCONNECT)
    octets, source = await line.wire.hear_from()
    kinds = [kind for kind, _ in parse(octets).attributes]
    assert kinds == [Kind.MESSAGE_AUTHENTICATOR, Kind.ACCT_SESSION_ID, Kind.EVENT_TIMESTAMP]
    await line.answer(octets, source, Code.DISCONNECT_ACK)
    assert await task == "accepted"


async def test_a_session_id_of_any_octets_goes_back_as_it_came(line: Line) -> None:
    strange = bytes(range(1, 254))
    heard = parse(Secret(SECRET).access_request(1, bytes(16), a.octets(Kind.ACCT_SESSION_ID, strange)))
    task = line.move(Move.DISCONNECT, heard.opaque(Kind.ACCT_SESSION_ID))
    octets, source = await line.wire.hear_from()
    assert parse(octets).first(Kind.ACCT_SESSION_ID) == strange
    await line.answer(octets, source, Code.DISCONNECT_ACK)
    assert await task == "accepted"


async def test_without_a_session_id_the_station_is_named_as_it_spelled_itself(line: Line) -> None:
    task = line.move(Move.DISCONNECT, None)
    octets, source = await line.wire.hear_from()
    assert parse(octets).text(Kind.CALLING_STATION_ID) == "02-00-00-aa-bb-01"
    await line.answer(octets, source, Code.DISCONNECT_NAK, 503)
    assert await task == "nak:503"


async def test_silence_is_five_sends_of_the_same_octets_in_thirty_seconds(line: Line) -> None:
    start = line.clock.monotonic()
    task = line.move(Move.DISCONNECT)
    heard = []
    for wait in waits(lambda: 0.5):
        heard.append(await line.wire.hear_from())
        line.clock.advance(wait)
    assert await task == "silent"
    assert len(heard) == 5
    assert len(set(heard)) == 1  # the same octets from the same port
    assert line.clock.monotonic() - start == GIVE_UP_S


async def test_answers_of_others_or_under_another_secret_are_not_believed(line: Line) -> None:
    task = line.move(Move.DISCONNECT)
    octets, source = await line.wire.hear_from()
    stranger = Wire("127.77.0.99")
    stranger.socket.sendto(Secret(SECRET).reply(Code.DISCONNECT_ACK, parse(octets), b""), source)
    await line.answer(octets, source, Code.DISCONNECT_ACK, secret=b"another")
    line.wire.socket.sendto(b"garbage", source)
    await line.answer(octets, source, Code.DISCONNECT_NAK, 404)
    assert await task == "nak:404"
    stranger.close()


async def test_ids_rest_and_ports_are_added_as_needed(line: Line) -> None:
    sources, ids = set(), set()
    for _ in range(300):
        task = line.move(Move.DISCONNECT)
        octets, source = await line.wire.hear_from()
        sources.add(source)
        ids.add((source, octets[1]))
        await line.answer(octets, source, Code.DISCONNECT_ACK)
        assert await task == "accepted"
    assert len(ids) == 300
    assert len(sources) == 2


async def test_a_flood_of_strangers_is_read_in_parts_counted_and_never_parsed(
    line: Line, monkeypatch: pytest.MonkeyPatch
) -> None:
    parsed: list[bytes] = []
    monkeypatch.setattr(
        "lauschen.radius.answer.dynauth.parse", lambda octets: parsed.append(octets) or parse(octets)
    )
    task = line.move(Move.DISCONNECT)
    octets, source = await line.wire.hear_from()
    (port,) = line.client._ports
    asyncio.get_running_loop().remove_reader(port.socket.fileno())
    stranger = Wire("127.77.0.99")
    for _ in range(2 * DRAINED):
        stranger.socket.sendto(octets, source)
    await line.answer(octets, source, Code.DISCONNECT_ACK)
    line.client._readable(port)
    assert line.registry.change_drops == {"stranger": DRAINED}
    for _ in range(2):
        line.client._readable(port)
    assert await task == "accepted"
    assert line.registry.change_drops == {"stranger": 2 * DRAINED}
    assert len(parsed) == 1
    asyncio.get_running_loop().add_reader(port.socket.fileno(), line.client._readable, port)
    stranger.close()


async def test_what_is_no_answer_is_counted_by_reason(line: Line) -> None:
    task = line.move(Move.DISCONNECT)
    octets, source = await line.wire.hear_from()
    await line.answer(octets, source, Code.DISCONNECT_ACK, secret=b"another")
    line.wire.socket.sendto(octets[:2] + b"\xff\xff" + octets[4:], source)
    line.wire.socket.sendto(b"short", source)
    await line.answer(octets, source, Code.DISCONNECT_ACK)
    assert await task == "accepted"
    assert line.registry.change_drops == {"wrong_secret": 1, "length_lies": 1, "stranger": 1}


@pytest.mark.parametrize("jitter", [0.0, 0.5, 1.0])
def test_waits_follow_rfc_5080(jitter: float) -> None:
    planned = waits(lambda: jitter)
    assert sum(planned) == pytest.approx(GIVE_UP_S)
    assert len(planned) == 5
    assert planned[0] == pytest.approx(2 * (0.9 + 0.2 * jitter))
    assert all(w <= 16 for w in planned)
