"""RADIUS over TLS: who the certificate names is who asks; all codes on one port; changes over the same connection."""

import asyncio
import os
import ssl
from collections.abc import AsyncIterator
from dataclasses import replace
from pathlib import Path

import pytest

from lauschen.acts.moving.errands import Errand
from lauschen.core.config.dialect import Dialect, Move
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.reason import Reason
from lauschen.core.ids import DialectId, RoleId
from lauschen.http.server import listen
from lauschen.radius.answer.dynauth import RADSEC, MoveClient, Reauthorisations
from lauschen.radius.listen.intake import Intake
from lauschen.radius.listen.registry import Registry
from lauschen.radius.listen.tls import Certificates, TlsServer
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.codec import Packet, parse
from lauschen.radius.wire.numbers import Code, Kind, ServiceType
from lauschen.road.road import Road
from tests.place import GARDEN, PHONE, WEST, CountedChance, Place
from tests.radius.certificates import Authority
from tests.still_clock import StillClock

BODY = (
    a.integer(Kind.SERVICE_TYPE, ServiceType.CALL_CHECK)
    + a.text(Kind.CALLING_STATION_ID, "02-00-00-AA-BB-01")
    + a.text(Kind.CALLED_STATION_ID, "02-77-00-00-00-11:Hollerau Garden")
    + a.text(Kind.ACCT_SESSION_ID, "S1")
)
PATIENCE_S = 5.0


class Line:
    """A server, and the certificates of whoever connects."""

    def __init__(self, place: Place, folder: Path) -> None:
        self.authority = Authority(folder)
        own, key, _ = self.authority.issue("lauschen.hollerau.example")
        self.place, self.clock = place, StillClock(place.now)
        self.road = Road(place.conn, place.keys, place.config, self.clock, CountedChance(), fsync_s=0.0)
        self.registry = Registry(place.config, place.keys.token_key)
        self.reauthorisations = Reauthorisations()
        intake = Intake(self.road, self.registry, self.reauthorisations)
        self.server = TlsServer(intake, Certificates(own, key, self.authority.file))
        self.port = 0

    def name_device(self, identity: str) -> None:
        device = replace(self.place.config.access_devices[WEST], tls_identity=identity)
        devices = {**self.place.config.access_devices, WEST: device}
        self.place.config = replace(self.place.config, access_devices=devices)
        self.registry.load(self.place.config)

    async def connect(
        self, certificate: Path, key: Path
    ) -> tuple[asyncio.StreamReader, asyncio.StreamWriter]:
        context = ssl.create_default_context(cafile=str(self.authority.file))
        context.load_cert_chain(certificate, key)
        return await asyncio.open_connection(
            "127.0.0.1", self.port, ssl=context, server_hostname="lauschen.hollerau.example"
        )


@pytest.fixture
async def line(place: Place, tmp_path: Path) -> AsyncIterator[Line]:
    made = Line(place, tmp_path)
    made.port = await made.server.open(listen(["127.0.0.1"], 0))
    yield made
    await made.server.close()


async def hear(reader: asyncio.StreamReader) -> Packet:
    async with asyncio.timeout(PATIENCE_S):
        head = await reader.readexactly(4)
        return parse(head + await reader.readexactly(int.from_bytes(head[2:4], "big") - 4))


@pytest.mark.parametrize("by", ["fingerprint", "colons", "name"])
async def test_a_device_is_who_its_certificate_names(line: Line, by: str) -> None:
    certificate, key, fingerprint = line.authority.issue("west.hollerau.example")
    colons = ":".join(fingerprint[at : at + 2] for at in range(0, 64, 2)).upper()
    line.name_device({"fingerprint": fingerprint, "colons": colons, "name": "West.Hollerau.example"}[by])
    reader, writer = await line.connect(certificate, key)
    authenticator = os.urandom(16)
    report = RADSEC.accounting_request(2, a.integer(Kind.ACCT_STATUS_TYPE, 1) + BODY)
    status = RADSEC.access_request(3, authenticator, b"", Code.STATUS_SERVER)
    writer.write(RADSEC.access_request(1, authenticator, BODY) + report + status)
    heard = {packet.id: packet for packet in [await hear(reader) for _ in range(3)]}
    assert RADSEC.is_reply_to(heard[1], authenticator)
    assert [heard[n].code for n in (1, 2, 3)] == [
        Code.ACCESS_ACCEPT,
        Code.ACCOUNTING_RESPONSE,
        Code.ACCESS_ACCEPT,
    ]
    assert heard[1].text(Kind.FILTER_ID) == "doorstep"
    assert line.place.standing().access_device == WEST
    writer.close()


async def test_a_certificate_that_no_device_has_is_an_unknown_access_device(line: Line) -> None:
    certificate, key, _ = line.authority.issue("stranger.hollerau.example")
    reader, writer = await line.connect(certificate, key)
    assert await asyncio.wait_for(reader.read(), PATIENCE_S) == b""
    assert line.registry.unknown["127.0.0.1"].port == "TLS"
    writer.close()


async def test_a_certificate_of_another_authority_is_refused(line: Line, tmp_path: Path) -> None:
    certificate, key, fingerprint = Authority(tmp_path, "Another").issue("west.hollerau.example")
    line.name_device(fingerprint)

    async def ask() -> bytes:
        """TLS 1.3 tells a client of the refusal only when it reads."""
        reader, writer = await line.connect(certificate, key)
        writer.write(RADSEC.access_request(1, bytes(16), BODY))
        return await reader.readexactly(1)

    with pytest.raises((ssl.SSLError, ConnectionError, asyncio.IncompleteReadError)):
        await asyncio.wait_for(ask(), PATIENCE_S)
    assert line.registry.drops == {}
    assert line.registry.unknown == {}


@pytest.mark.parametrize(
    ("octets", "reason"),
    [
        (b"\x01\x01\x00\x05", "length_lies"),
        (bytes((1, 1, 0, 20)) + bytes(16), "unsigned"),
        (bytes((99, 1, 0, 20)) + bytes(16), "unknown_code"),
    ],
)
async def test_a_bad_packet_ends_the_connection(line: Line, octets: bytes, reason: str) -> None:
    certificate, key, fingerprint = line.authority.issue("west.hollerau.example")
    line.name_device(fingerprint)
    reader, writer = await line.connect(certificate, key)
    writer.write(octets)
    assert await asyncio.wait_for(reader.read(), PATIENCE_S) == b""
    assert line.registry.drops["127.0.0.1", reason] == 1
    writer.close()


async def test_a_change_goes_over_the_connection_of_its_device(line: Line) -> None:
    certificate, key, fingerprint = line.authority.issue("west.hollerau.example")
    line.name_device(fingerprint)
    reader, writer = await line.connect(certificate, key)
    authenticator = os.urandom(16)
    writer.write(RADSEC.access_request(1, authenticator, BODY))
    await hear(reader)
    client = MoveClient(line.clock, line.registry, line.reauthorisations, lambda: 0.5)
    (at,) = line.place.places()
    device = line.place.config.access_devices[WEST]
    errand = Errand(
        at, line.place.standing(), False, None, line.place.config, device,
        Dialect(DialectId(1), "x"), Move.DISCONNECT,
        Arrival(Medium.CHANGED, PHONE, WEST, network=GARDEN),
        Decision(Answer.DOOR, Reason.NEEDS_CODE, GARDEN, RoleId(1)), None, None,
    )  # fmt: skip
    task = asyncio.create_task(client.bring_about(errand))
    heard = await hear(reader)
    assert (heard.code, heard.text(Kind.ACCT_SESSION_ID)) == (Code.DISCONNECT_REQUEST, "S1")
    assert RADSEC.is_change_request(heard)
    writer.write(RADSEC.reply(Code.DISCONNECT_NAK, heard, a.integer(Kind.ERROR_CAUSE, 503)))
    assert (await asyncio.wait_for(task, PATIENCE_S)).answer == "nak:503"
    writer.close()
    client.close()


async def test_idle_connections_of_one_address_leave_room_for_the_device(
    line: Line, monkeypatch: pytest.MonkeyPatch
) -> None:
    """They are counted before a handshake, of which they never begin one."""
    monkeypatch.setattr("lauschen.radius.listen.tls.MOST_EACH", 3)
    certificate, key, _ = line.authority.issue("west.hollerau.example")
    line.name_device("west.hollerau.example")
    idle = [
        await asyncio.open_connection("127.0.0.1", line.port, local_addr=("127.0.0.7", 0)) for _ in range(6)
    ]
    for reader, _ in idle[3:]:
        assert await asyncio.wait_for(reader.read(), PATIENCE_S) == b""
    assert len(line.server._open) == 3
    reader, writer = await line.connect(certificate, key)
    writer.write(RADSEC.access_request(1, bytes(16), BODY))
    assert (await hear(reader)).code == Code.ACCESS_ACCEPT
    for _, other in (*idle, (reader, writer)):
        other.close()
    await asyncio.wait_for(asyncio.gather(*line.server._open, return_exceptions=True), PATIENCE_S)
    await asyncio.sleep(0)
    assert line.server._each == {}
