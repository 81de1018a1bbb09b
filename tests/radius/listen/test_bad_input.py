"""Whatever comes in: nothing is raised through the server, nothing piles up, and the next good packet is answered."""

import asyncio
import os
import random
import sqlite3
import tracemalloc
from collections import deque
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from lauschen.core.config.checks import check_role
from lauschen.core.config.dialect import Honours
from lauschen.core.errors import Invalid, Unavailable
from lauschen.core.ids import AccessDeviceId, NetworkId
from lauschen.radius.answer.dynauth import Reauthorisations
from lauschen.radius.listen.intake import Intake
from lauschen.radius.listen.registry import Registry
from lauschen.radius.listen.server import (
    FLOOD_SHARE,
    MOST_WAITING,
    WAITING_PER_DEVICE,
    UdpServer,
    accounting_server,
    authentication_server,
)
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.codec import BadPacket, encode, parse
from lauschen.radius.wire.describing import blank, lines
from lauschen.radius.wire.dictionary import ATTRIBUTES
from lauschen.radius.wire.numbers import Code, Kind, ServiceType
from lauschen.radius.wire.signing import Secret
from lauschen.road.road import Road
from lauschen.store import log
from lauschen.store.db import DATABASE_NAME
from tests.place import PHONE, CountedChance, Place
from tests.still_clock import StillClock

WEST, BARN = ("127.77.0.11", 4000), ("127.77.0.12", 4000)
SECRET = Secret(b"hollerau-stand-in-secret")
CALL_CHECK = a.integer(Kind.SERVICE_TYPE, ServiceType.CALL_CHECK)
CALLED = a.text(Kind.CALLED_STATION_ID, "02-77-00-00-00-11:Hollerau Garden")
STATION = a.text(Kind.CALLING_STATION_ID, "02-00-00-AA-BB-01")
ASKING = CALL_CHECK + STATION
GOOD = ASKING + CALLED


class Ears:
    """Both servers without sockets: octets go in, replies are kept."""

    def __init__(self, place: Place) -> None:
        self.place = place
        self.road = Road(
            place.conn, place.keys, place.config, StillClock(place.now), CountedChance(), fsync_s=0.0
        )
        self.registry = Registry(place.config, place.keys.token_key)
        intake = Intake(self.road, self.registry, Reauthorisations())
        self.auth, self.acct = authentication_server(intake), accounting_server(intake)
        self.replies: list[bytes] = []
        for server in (self.auth, self.acct):
            server._send = lambda octets, _: self.replies.append(octets)  # type: ignore[method-assign]

    def hear(self, server: UdpServer, octets: bytes, source: tuple[str, int] = WEST) -> None:
        server._take(octets, source)

    async def settle(self) -> None:
        await self.road.act(lambda _: None)

    async def still_answers(self) -> None:
        self.replies.clear()
        self.hear(self.auth, SECRET.access_request(1, os.urandom(16), GOOD))
        await self.settle()
        assert [parse(reply).code for reply in self.replies] == [Code.ACCESS_ACCEPT]


@pytest.fixture
def ears(place: Place) -> Ears:
    return Ears(place)


def dropped(ears: Ears) -> int:
    """Packets without an answer; a repetition gets the old one."""
    return sum(count for (_, reason), count in ears.registry.drops.items() if reason != "repeated")


numbers = st.one_of(st.sampled_from(sorted(ATTRIBUTES)), st.integers(1, 255)).filter(lambda n: n != 80)
bodies = st.lists(
    st.tuples(numbers, st.one_of(st.binary(max_size=40), st.binary(min_size=253, max_size=253))), max_size=14
).map(lambda pairs: b"".join(a.octets(number, value) for number, value in pairs))


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None, max_examples=150)
@given(bodies, st.booleans())
def test_any_signed_attributes_are_answered_or_dropped(ears: Ears, body: bytes, with_good: bool) -> None:
    """Contradictory, repeated, odd: each gets an answer or a reason, and both servers go on."""

    async def run() -> None:
        before = dropped(ears)
        ears.replies.clear()
        whole = body + GOOD if with_good else body
        ears.hear(ears.auth, SECRET.access_request(2, os.urandom(16), whole))
        status = a.integer(Kind.ACCT_STATUS_TYPE, random.Random(len(body)).choice((1, 2, 3, 7, 8, 99)))
        ears.hear(ears.acct, SECRET.accounting_request(3, status + whole + os.urandom(0)))
        await ears.settle()
        assert len(ears.replies) + dropped(ears) - before == 2
        assert ears.road.not_stored == 0
        for reply in ears.replies:
            parse(reply)

    asyncio.run(run())


@given(st.binary(max_size=4200))
def test_whatever_parses_is_written_the_same_and_can_be_shown(octets: bytes) -> None:
    try:
        packet = parse(octets)
    except BadPacket:
        return
    assert encode(packet) == packet.octets
    packet._attributes = blank(packet.attributes)
    assert all(line.words is not None for line in lines(packet))


CASES: list[tuple[str, Callable[[], bytes]]] = [
    ("a name of 253 octets that is no text", lambda: a.octets(1, b"\xff" * 253) + GOOD),
    ("two passwords of both kinds", lambda: a.octets(2, bytes(16)) + a.octets(3, bytes(17)) + GOOD),
    (
        "a MAC that is not the station",
        lambda: a.text(1, "020000aabb99") + a.octets(2, bytes(16)) + STATION + CALLED,
    ),
    ("the same attribute many times", lambda: a.text(31, "x") * 200 + GOOD),
    ("EAP", lambda: a.octets(79, b"\x02\x07\x00\x05\x01") + GOOD),
    ("an SSID of control signs", lambda: a.octets(30, b"02-77-00-00-00-11:\x00\x1b[2J") + ASKING),
]


@pytest.mark.parametrize("case", CASES, ids=lambda case: case[0])
async def test_contradictions_are_answered_and_harm_nothing(ears: Ears, case: tuple[str, object]) -> None:
    body = case[1]()  # type: ignore[operator]
    ears.hear(ears.auth, SECRET.access_request(2, os.urandom(16), body))
    await ears.settle()
    assert len(ears.replies) == 1
    await ears.still_answers()


async def test_a_hundred_thousand_random_datagrams_leave_memory_flat(ears: Ears) -> None:
    chance = random.Random(7)

    def burst(count: int) -> None:
        for _ in range(count):
            octets = bytearray(chance.randbytes(chance.randrange(0, 300)))
            if len(octets) >= 20 and chance.random() < 0.7:  # most of them look like packets
                octets[0] = chance.choice((1, 4, 12))
                octets[2:4] = len(octets).to_bytes(2, "big")
            stranger = f"10.{chance.randrange(256)}.1.{chance.randrange(256)}"
            address = WEST[0] if chance.random() < 0.5 else stranger
            if ears.registry.find(address) is None:
                ears.registry.note_unknown(address, bytes(octets), "authentication", 1.0)
            else:
                server = ears.auth if chance.random() < 0.5 else ears.acct
                ears.hear(server, bytes(octets), (address, chance.randrange(1024, 65_536)))

    burst(20_000)
    tracemalloc.start()
    begun = tracemalloc.get_traced_memory()[0]
    burst(80_000)
    grown = tracemalloc.get_traced_memory()[0] - begun
    tracemalloc.stop()
    assert grown < 2_000_000
    assert len(ears.registry.unknown) == 256
    assert ears.replies == []
    await ears.still_answers()


async def test_a_flooding_device_fills_its_own_line_only_and_comes_last(ears: Ears) -> None:
    taken: list[str] = []
    ears.auth._take = lambda _, source: taken.append(source[0])  # type: ignore[method-assign]
    waiting = ears.auth._waiting
    for line, packets in ((WEST, WAITING_PER_DEVICE), (BARN, 8)):
        waiting.setdefault(line[0], deque()).extend([(b"", line)] * packets)
    ears.auth._flooding.add(WEST[0])
    ears.road._scheduled = True  # a group is under way
    ears.auth._serve_in_turn()
    assert taken.count(BARN[0]) == 8
    assert taken.count(WEST[0]) == FLOOD_SHARE
    for _ in range(WAITING_PER_DEVICE // FLOOD_SHARE):  # the road calls after each group
        ears.auth._serve_in_turn()
    assert len(taken) == WAITING_PER_DEVICE + 8
    assert ears.auth._flooding == set()
    # What is dropped makes no group: then it must not wait for one.
    waiting.setdefault(WEST[0], deque()).extend([(b"", WEST)] * WAITING_PER_DEVICE)
    ears.auth._flooding.add(WEST[0])
    ears.road._scheduled = False
    ears.auth._serve_in_turn()
    assert not waiting


async def test_nothing_leaves_while_nothing_can_be_stored(ears: Ears) -> None:
    """The disk is full: no answer, the trouble is known, Status-Server is silent too, and it clears by itself."""
    pages = int(ears.place.conn.execute("PRAGMA page_count").fetchone()[0])
    ears.place.conn.execute(f"PRAGMA max_page_count = {pages}")
    with pytest.raises(sqlite3.OperationalError):
        ears.place.conn.execute("CREATE TABLE filler AS WITH RECURSIVE n(x) AS (SELECT 1 UNION ALL SELECT x + 1"
                                " FROM n LIMIT 100000) SELECT x FROM n")  # fmt: skip
    for number in range(300):
        station = a.text(Kind.CALLING_STATION_ID, f"02-00-00-00-{number >> 8:02X}-{number & 255:02X}")
        body = CALL_CHECK + station + CALLED
        ears.hear(ears.auth, SECRET.access_request(number & 255, os.urandom(16), body))
        try:
            await ears.settle()
        except Exception:
            break
    assert ears.road.trouble is not None
    assert "full" in ears.road.trouble.what
    answered = len(ears.replies)
    assert answered == ears.place.conn.execute("SELECT count(*) FROM standing").fetchone()[0]
    ears.hear(ears.auth, SECRET.access_request(9, bytes(16), b"", Code.STATUS_SERVER))
    assert len(ears.replies) == answered
    ears.place.conn.execute("PRAGMA max_page_count = 1000000")
    await ears.still_answers()
    assert ears.road.trouble is None


async def test_a_locked_database_is_waited_for_and_then_said(
    ears: Ears, data: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("lauschen.road.road.BEGIN_TRIES", 3)
    other = sqlite3.connect(data / DATABASE_NAME, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    ears.hear(ears.auth, SECRET.access_request(1, bytes(16), GOOD))
    with pytest.raises(Unavailable):
        await ears.settle()
    assert ears.replies == []
    assert ears.road.trouble is not None
    assert "locked" in ears.road.trouble.what
    other.execute("COMMIT")
    other.close()
    await ears.still_answers()
    assert ears.road.trouble is None


async def test_a_database_that_is_locked_for_a_moment_only_delays_the_answer(ears: Ears, data: Path) -> None:
    other = sqlite3.connect(data / DATABASE_NAME, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    ears.hear(ears.auth, SECRET.access_request(1, bytes(16), GOOD))
    settled = asyncio.ensure_future(ears.settle())
    await asyncio.sleep(0)
    other.execute("COMMIT")
    other.close()
    await settled
    assert len(ears.replies) == 1
    assert ears.road.not_stored == 0


PROXY = a.octets(Kind.PROXY_STATE, b"p" * 250)


async def test_proxy_state_goes_back_in_accounting_responses_too(ears: Ears) -> None:
    status = a.integer(Kind.ACCT_STATUS_TYPE, 1)
    marks = a.octets(Kind.PROXY_STATE, b"one") + a.octets(Kind.PROXY_STATE, b"two")
    ears.hear(ears.acct, SECRET.accounting_request(3, status + GOOD + marks))
    await ears.settle()
    (reply,) = ears.replies
    assert parse(reply).attributes == [(Kind.PROXY_STATE, b"one"), (Kind.PROXY_STATE, b"two")]


async def test_rules_and_proxy_state_that_no_packet_holds_are_a_drop_with_its_reason(ears: Ears) -> None:
    """The device is placed by nothing that it was never told."""
    rule = "permit in ip from any to 10.77.0.0/24"
    house = ears.place.config
    door = house.roles[house.networks[NetworkId(1)].door_role]
    rules = (*[rule] * 70, "deny in ip from any to any")
    role = replace(door, filter_rules=rules)
    check_role(role)
    dialects = {k: replace(d, honours=frozenset(Honours)) for k, d in house.dialects.items()}
    changed = replace(house, roles={**house.roles, role.id: role}, dialects=dialects)
    ears.road.config = changed
    ears.registry.load(changed)
    ears.hear(ears.auth, SECRET.access_request(2, os.urandom(16), GOOD + PROXY * 6))
    await ears.settle()
    assert ears.replies == []
    assert ears.registry.drops[WEST[0], "reply_too_long"] == 1
    assert ears.registry.recorder.of(WEST[0])[0].outcome == "reply_too_long"
    assert ears.place.conn.execute("SELECT count(*) FROM standing").fetchone() == (0,)
    assert ears.road.faults.kinds == {}
    await ears.still_answers()


async def test_a_role_that_cannot_be_sent_is_told_and_others_are_answered(ears: Ears) -> None:
    """Saved before there was a check for it: an exception per packet, counted and shown, no silence for others."""
    house = ears.place.config
    door = house.roles[house.networks[NetworkId(1)].door_role]
    with pytest.raises(Invalid):
        check_role(replace(door, filter_name="ü" * 200))
    broken = replace(house, roles={**house.roles, door.id: replace(door, filter_name="ü" * 200)})
    ears.registry.load(broken)
    ears.hear(ears.auth, SECRET.access_request(2, os.urandom(16), GOOD))
    await ears.settle()
    assert ears.replies == []
    assert "at most 253" in ears.road.faults.kinds["request"].reason
    ears.registry.load(house)
    await ears.still_answers()


@pytest.mark.parametrize("gigawords", [2**32 - 1, 2**31, 2**30])
async def test_counters_that_nothing_could_have_carried_harm_nothing(ears: Ears, gigawords: int) -> None:
    def report(status: int, seconds: int, *more: bytes) -> bytes:
        body = a.integer(Kind.ACCT_STATUS_TYPE, status) + a.integer(Kind.ACCT_SESSION_TIME, seconds) + GOOD
        return SECRET.accounting_request(
            seconds & 0xFF, body + a.text(Kind.ACCT_SESSION_ID, "S1") + b"".join(more)
        )

    largest = a.integer(Kind.ACCT_OUTPUT_OCTETS, 2**32 - 1)
    ears.hear(ears.acct, report(1, 0))
    ears.hear(ears.acct, report(3, 60, largest, a.integer(Kind.ACCT_OUTPUT_GIGAWORDS, gigawords)))
    ears.hear(ears.acct, report(3, 2**32 - 1, largest, a.integer(Kind.ACCT_OUTPUT_GIGAWORDS, 2**30 - 1)))
    ears.hear(ears.acct, report(3, 120, a.integer(Kind.ACCT_OUTPUT_OCTETS, 5000)))
    await ears.settle()
    assert len(ears.replies) == 4
    assert ears.road.faults.kinds == {}
    await ears.still_answers()


async def test_equal_refusals_of_a_minute_are_one_row_of_the_log(ears: Ears) -> None:
    eap = a.octets(Kind.EAP_MESSAGE, b"\x02\x07\x00\x05\x01") + GOOD
    for number in range(60):
        ears.hear(ears.auth, SECRET.access_request(number, os.urandom(16), eap))
        await ears.settle()
    assert len(ears.replies) == 60
    rows = ears.place.conn.execute("SELECT reason, repeats FROM decision").fetchall()
    assert rows == [("eap", 59)]
    ears.road.clock.advance(61)  # type: ignore[attr-defined]
    for number in range(2):  # in one group: the row is not even written yet
        ears.hear(ears.auth, SECRET.access_request(100 + number, os.urandom(16), eap))
    await ears.settle()
    rows = ears.place.conn.execute("SELECT reason, repeats FROM decision").fetchall()
    assert rows == [("eap", 59), ("eap", 1)]
    ears.hear(ears.auth, SECRET.access_request(200, os.urandom(16), GOOD))
    await ears.settle()
    found = log.log_of_device(ears.place.conn, PHONE, 10)
    assert [row.reason for row in found if isinstance(row, log.DecisionRow)] == ["needs_code", "eap", "eap"]


async def test_strangers_under_a_range_evict_nobody_and_fill_no_table(place: Place) -> None:
    """4,200 forged sources in a range: what is known of the one real access point stays."""
    real = ("127.77.0.11", 4000)
    west = place.config.access_devices[AccessDeviceId(1)]
    ranged = replace(west, address="127.77.0.0/16")
    place.config = replace(place.config, access_devices={ranged.id: ranged})
    ears = Ears(place)
    ears.hear(ears.auth, SECRET.access_request(1, os.urandom(16), GOOD), real)
    await ears.settle()
    assert len(ears.replies) == 1
    forged = Secret(b"not the secret of it").access_request(1, bytes(16), GOOD)
    report = Secret(b"not the secret of it").accounting_request(1, a.integer(Kind.ACCT_STATUS_TYPE, 1) + GOOD)
    for number in range(4200):
        stranger = (f"127.77.{1 + number // 250}.{1 + number % 250}", 5000)
        ears.hear(ears.auth, forged, stranger)
        ears.hear(ears.acct, report, stranger)
    (peer,) = ears.registry.peers.values()
    assert list(peer.sources) == [real[0]]
    assert list(ears.registry._in_range) == [real[0]]
    assert ears.registry.drops == {("127.77.0.0/16", "wrong_secret"): 8400}
    assert ears.registry.whose("127.77.0.0/16") is peer
    assert [one.outcome for one in ears.registry.recorder.of(real[0])] == ["answered"]


async def test_what_waits_is_bounded_over_all_lines_together(ears: Ears) -> None:
    class Full:
        """A socket that always has another datagram, each from another address of a range."""

        def __init__(self) -> None:
            self.count = 0

        def recvfrom(self, _: int) -> tuple[bytes, tuple[str, int]]:
            self.count += 1
            return b"x" * 20, (f"127.77.{1 + self.count // 250}.{1 + self.count % 250}", 5000)

    (first, *_) = ears.registry.peers.values()
    ears.registry.find = lambda _: first  # type: ignore[method-assign, assignment]
    full, gate = Full(), NoGate()
    for _ in range(MOST_WAITING // 64 + 10):
        ears.auth._drain(full, gate)  # type: ignore[arg-type]
    assert sum(len(line) for line in ears.auth._waiting.values()) == MOST_WAITING


class NoGate:
    def dropped(self, address: str, now: float) -> None:
        pass
