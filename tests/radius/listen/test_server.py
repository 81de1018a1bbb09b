"""The servers on real UDP: an independent client is answered, and everything bad is counted and survived."""

import asyncio
import os
import random
from collections.abc import AsyncIterator
from pathlib import Path

import pytest
from pyrad.client import Client  # noqa: F401 - the peer must be importable as a whole
from pyrad.dictionary import Dictionary
from pyrad.packet import AccessAccept, AccessReject, AcctPacket, AuthPacket

from lauschen.demo.site import SECRET as SECRET_OCTETS
from lauschen.radius.answer.dynauth import Reauthorisations
from lauschen.radius.listen.intake import Intake
from lauschen.radius.listen.registry import Registry
from lauschen.radius.listen.server import accounting_server, authentication_server
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.numbers import Code, Kind, ServiceType
from lauschen.radius.wire.signing import Secret
from lauschen.road.road import Road
from lauschen.road.trouble import Trouble
from tests.place import PHONE, CountedChance, Place
from tests.radius.packets import SILENCE_S, Wire
from tests.still_clock import StillClock

SECRET = Secret(SECRET_OCTETS)
WORDS = Dictionary(str(Path(__file__).parents[1] / "dictionary"))
STATION = a.text(Kind.CALLING_STATION_ID, "02-00-00-AA-BB-01")
CALLED = a.text(Kind.CALLED_STATION_ID, "02-77-00-00-00-11:Hollerau Garden")
CALL_CHECK = a.integer(Kind.SERVICE_TYPE, ServiceType.CALL_CHECK)
BODY = a.text(Kind.USER_NAME, "020000aabb01") + CALL_CHECK + STATION + CALLED


class Radius:
    """Both servers on ports of their own."""

    def __init__(self, place: Place) -> None:
        self.place, self.clock = place, StillClock(place.now)
        self.road = Road(place.conn, place.keys, place.config, self.clock, CountedChance(), fsync_s=0.0)
        self.registry = Registry(place.config, place.keys.token_key)
        self.reauthorisations = Reauthorisations()
        self.intake = Intake(self.road, self.registry, self.reauthorisations)
        self._servers = authentication_server(self.intake), accounting_server(self.intake)
        self.auth, self.acct = (server.open(["127.0.0.1"], 0) for server in self._servers)
        self.wire = Wire()

    def close(self) -> None:
        self.wire.close()
        for server in self._servers:
            server.close()

    def drops(self, reason: str, address: str = "127.77.0.11") -> int:
        return self.registry.drops[address, reason]

    async def still_answers(self, number: int) -> None:
        """The next good packet is answered."""
        request = SECRET.access_request(number & 0xFF, os.urandom(16), BODY)
        assert parse(await self.wire.exchange(request, self.auth)).code == Code.ACCESS_ACCEPT


@pytest.fixture
async def radius(place: Place) -> AsyncIterator[Radius]:
    made = Radius(place)
    yield made
    made.close()


@pytest.fixture
async def radius_inside(place: Place) -> AsyncIterator[Radius]:
    """The phone was let in before the servers started."""
    place.let_in(place.issue()[0])
    made = Radius(place)
    yield made
    made.close()


async def test_an_independent_client_gets_an_accept_that_it_verifies(radius: Radius) -> None:
    request = AuthPacket(
        secret=SECRET_OCTETS, dict=WORDS, code=1, authenticator=AuthPacket.CreateAuthenticator()
    )
    request["User-Name"] = "020000aabb01"
    request["User-Password"] = request.PwCrypt("020000aabb01")
    request["Calling-Station-Id"] = "02-00-00-AA-BB-01"
    request["Called-Station-Id"] = "02-77-00-00-00-11:Hollerau Garden"
    request["Proxy-State"] = [b"one", b"two"]
    request.add_message_authenticator()
    raw = await radius.wire.exchange(request.RequestPacket(), radius.auth)
    reply = AuthPacket(packet=raw, secret=SECRET_OCTETS, dict=WORDS)
    assert request.VerifyReply(reply, raw)
    assert reply.verify_message_authenticator(original_authenticator=request.authenticator)
    assert reply.code == AccessAccept
    assert reply["Filter-Id"] == ["doorstep"]
    assert reply["Session-Timeout"] == [1800]
    assert reply["Tunnel-Type:0"] == [13]
    assert reply["Proxy-State"] == [b"one", b"two"]
    assert reply["Guest-Page"][0].startswith("http://welcome.hollerau.example/?t=")
    assert len(reply["Guest-Page"][0]) <= 247


async def test_inside_the_independent_client_reads_all_limits(radius_inside: Radius) -> None:
    radius = radius_inside
    raw = await radius.wire.exchange(SECRET.access_request(9, os.urandom(16), BODY), radius.auth)
    reply = AuthPacket(packet=raw, secret=SECRET_OCTETS, dict=WORDS)
    assert (reply["Filter-Id"], reply["Session-Timeout"], reply["Idle-Timeout"]) == (
        ["visitor"],
        [28800],
        [1800],
    )
    assert reply["Termination-Action"] == [0]
    assert reply["Acct-Interim-Interval"] == [600]
    assert reply["Class"] == reply["Chargeable-User-Identity"]
    assert len(reply["Class"][0]) == 16


async def test_an_independent_client_accounts(radius: Radius) -> None:
    report = AcctPacket(secret=SECRET_OCTETS, dict=WORDS)
    report["Acct-Status-Type"] = 1
    report["Acct-Session-Id"] = "S1"
    report["Calling-Station-Id"] = "02-00-00-AA-BB-01"
    report["Called-Station-Id"] = "02-77-00-00-00-11:Hollerau Garden"
    raw = await radius.wire.exchange(report.RequestPacket(), radius.acct)
    reply = AcctPacket(packet=raw, secret=SECRET_OCTETS, dict=WORDS)
    assert report.VerifyReply(reply, raw)
    assert reply.code == Code.ACCOUNTING_RESPONSE
    assert radius.place.conn.execute("SELECT mac, session_id FROM stay").fetchall() == [(PHONE, "S1")]


async def test_the_same_request_gets_the_same_octets_and_is_decided_once(radius: Radius) -> None:
    request = SECRET.access_request(1, os.urandom(16), BODY)
    first = await radius.wire.exchange(request, radius.auth)
    assert await radius.wire.exchange(request, radius.auth) == first
    assert radius.drops("repeated") == 1
    assert radius.place.conn.execute("SELECT sum(repeats) FROM decision").fetchone() == (0,)
    radius.clock.advance(31)
    assert await radius.wire.exchange(request, radius.auth) != first  # a new token: decided anew


BAD = {
    "truncated": [b"", b"\x01", SECRET.access_request(1, bytes(16), BODY)[:-1]],
    "oversized": [SECRET.access_request(1, bytes(16), BODY).ljust(4097, b"\0")],
    "length_lies": [b"\x01\x01\x00\x13" + bytes(16), b"\x01\x01\xff\xff" + bytes(30)],
    "attribute_length": [
        b"\x01\x01\x00\x16" + bytes(16) + b"\x01\x01",
        b"\x01\x01\x00\x16" + bytes(16) + b"\x01\x63",
    ],
    "unsigned": [bytes((1, 1, 0, 20 + len(BODY))) + bytes(16) + BODY],
    "wrong_secret": [Secret(b"another-secret").access_request(1, bytes(16), BODY)],
    "message_authenticator": [b"\x01\x01\x00\x18" + bytes(16) + b"\x50\x04ab"],
    "proxy_state": [SECRET.access_request(1, bytes(16), BODY + a.octets(Kind.PROXY_STATE, bytes(253)) * 12)],
    "unknown_code": [bytes((99, 1, 0, 20)) + bytes(16), bytes((11, 1, 0, 20)) + bytes(16)],
}


@pytest.mark.parametrize("reason", BAD)
async def test_bad_packets_are_counted_by_reason_and_the_next_good_one_is_answered(
    radius: Radius, reason: str
) -> None:
    for number, octets in enumerate(BAD[reason]):
        radius.wire.send(octets, radius.auth)
        await radius.still_answers(number + 10)
    assert radius.drops(reason) == len(BAD[reason])


async def test_bad_reports_are_counted_too(radius: Radius) -> None:
    for octets in (
        Secret(b"another-secret").accounting_request(1, a.integer(40, 1)),
        SECRET.accounting_request(2, STATION),
        SECRET.access_request(3, bytes(16), BODY),
    ):
        radius.wire.send(octets, radius.acct)
    status = SECRET.access_request(4, os.urandom(16), b"", code=Code.STATUS_SERVER)
    assert parse(await radius.wire.exchange(status, radius.acct)).code == Code.ACCOUNTING_RESPONSE
    assert [radius.drops(r) for r in ("wrong_secret", "status_type", "unknown_code")] == [1, 1, 1]


async def test_random_octets_and_bent_packets_never_stop_the_server(radius: Radius) -> None:
    chance = random.Random(7)
    good = SECRET.access_request(1, bytes(16), BODY)
    for number in range(600):
        bent = bytearray(chance.randbytes(chance.randrange(200)) if number % 2 else good)
        for _ in range(3):
            if bent:
                bent[chance.randrange(len(bent))] = chance.randrange(256)
        radius.wire.send(bytes(bent), chance.choice((radius.auth, radius.acct)))
        if number % 50 == 0:
            await radius.still_answers(number)
    await radius.still_answers(3)
    assert sum(radius.registry.drops.values()) >= 300


async def test_a_stranger_is_never_answered_and_shown_as_unknown(radius: Radius) -> None:
    stranger = Wire("127.77.0.99")
    stranger.send(SECRET.access_request(1, bytes(16), BODY), radius.auth)
    await radius.still_answers(1)
    assert radius.registry.unknown["127.77.0.99"].packets == 1
    stranger.close()


async def test_eap_is_refused_properly(radius: Radius) -> None:
    body = a.text(1, "x") + a.octets(Kind.EAP_MESSAGE, b"\x02\x07\x00\x05\x01") + STATION + CALLED
    reply = parse(await radius.wire.exchange(SECRET.access_request(1, os.urandom(16), body), radius.auth))
    assert (reply.code, reply.first(Kind.EAP_MESSAGE)) == (AccessReject, b"\x04\x07\x00\x04")


async def test_a_reauthorisation_needs_its_own_state_once(radius_inside: Radius) -> None:
    radius = radius_inside
    body = a.integer(Kind.SERVICE_TYPE, ServiceType.AUTHORIZE_ONLY) + STATION + CALLED

    async def ask(state: bytes | None) -> int:
        more = a.octets(Kind.STATE, state) if state is not None else b""
        return parse(
            await radius.wire.exchange(SECRET.access_request(1, os.urandom(16), body + more), radius.auth)
        ).code

    radius.reauthorisations.issue(b"s" * 16, PHONE, radius.clock.monotonic())
    radius.reauthorisations.issue(b"o" * 16, type(PHONE)(PHONE + 1), radius.clock.monotonic())
    assert await ask(None) == Code.ACCESS_REJECT
    assert await ask(b"x" * 16) == Code.ACCESS_REJECT
    assert await ask(b"o" * 16) == Code.ACCESS_REJECT
    assert await ask(b"s" * 16) == Code.ACCESS_ACCEPT
    assert await ask(b"s" * 16) == Code.ACCESS_REJECT
    radius.reauthorisations.issue(b"t" * 16, PHONE, radius.clock.monotonic())
    radius.clock.advance(61)
    assert await ask(b"t" * 16) == Code.ACCESS_REJECT


async def test_status_server_is_answered_unless_nothing_can_be_committed(radius: Radius) -> None:
    async def ask() -> int:
        octets = SECRET.access_request(1, os.urandom(16), b"", code=Code.STATUS_SERVER)
        return parse(await radius.wire.exchange(octets, radius.auth)).code

    assert await ask() == Code.ACCESS_ACCEPT
    radius.road.trouble = Trouble(radius.clock.now(), "disk is full")
    radius.wire.send(SECRET.access_request(9, os.urandom(16), b"", code=Code.STATUS_SERVER), radius.auth)
    with pytest.raises(TimeoutError):
        await asyncio.wait_for(radius.wire.hear(), SILENCE_S)
    await radius.still_answers(2)  # and its commit ends the trouble
    assert await ask() == Code.ACCESS_ACCEPT


async def test_a_flood_of_one_device_is_cut_and_counted(radius: Radius) -> None:
    other = Wire("127.77.0.12")
    for number in range(400):
        radius.wire.send(SECRET.access_request(number & 0xFF, os.urandom(16), BODY), radius.auth)
    reply = await other.exchange(SECRET.access_request(1, os.urandom(16), BODY), radius.auth)
    assert parse(reply).code == Code.ACCESS_ACCEPT
    await radius.still_answers(7)
    assert radius.drops("flooded") > 0
    assert radius.drops("flooded", "127.77.0.12") == 0
    other.close()
