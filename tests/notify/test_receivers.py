"""Syslog servers and webhooks, and who is told of a new passcode."""

import asyncio
import hmac
import json
import re
import socket
from collections.abc import AsyncIterator
from hashlib import sha256
from typing import Any

import httpx
import pytest

from lauschen.core.ids import ChannelId
from lauschen.core.messages.channels import SyslogServer, Transport
from lauschen.core.messages.signing import signature
from lauschen.core.messages.syslog import framed, syslog_line
from lauschen.notify.syslog import Herald
from lauschen.outgoing.reach import Reach
from lauschen.standins.authority import make_tls
from tests.garden import Garden
from tests.portal.test_registering import at_the_page, offer, write_in

TLS = make_tls(("127.0.0.1",))
LINE = syslog_line(
    facility=16, at=1_780_000_000.25, host="hollerau.example", kind="passcode", mark="ab12",
    words={"network": 'Wall "ports" ]\\', "code": "1\n2"}, text="The passcode is 12\x07",
)  # fmt: skip


def test_a_line_is_as_rfc_5424_has_it() -> None:
    head, said = LINE.split(b"\xef\xbb\xbf")
    assert head.decode() == (
        "<133>1 2026-05-28T20:26:40.250Z hollerau.example lauschen - PASSCODE "
        '[lauschen@32473 id="ab12" network="Wall \\"ports\\" \\]\\\\" code="1[000A\\]2"] '
    )
    assert said.decode() == "The passcode is 12[0007]"
    assert framed(b"<1>1") == b"4 <1>1"
    nameless = syslog_line(facility=0, at=0.0, host="ü x", kind="a", mark="m", words={}, text="")
    assert nameless.startswith(b"<5>1 1970-01-01T00:00:00.000Z x lauschen - A ")


def test_a_signature_covers_id_time_and_body() -> None:
    """RFC 4231 is behind `hmac`; this says over what."""
    made = signature("s" * 16, mark="ab", at=1_780_000_000, body=b'{"x": 1}')
    assert made == "v1=" + hmac.new(b"s" * 16, b'ab.1780000000.{"x": 1}', sha256).hexdigest()
    others = {
        signature("t" * 16, mark="ab", at=1_780_000_000, body=b'{"x": 1}'),
        signature("s" * 16, mark="ac", at=1_780_000_000, body=b'{"x": 1}'),
        signature("s" * 16, mark="ab", at=1_780_000_001, body=b'{"x": 1}'),
        signature("s" * 16, mark="ab", at=1_780_000_000, body=b'{"x": 2}'),
    }
    assert made not in others


class Listener:
    """A syslog server that keeps what it hears."""

    def __init__(self) -> None:
        self.heard: asyncio.Queue[bytes] = asyncio.Queue()
        self.port = 0

    async def take(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        self.heard.put_nowait(await reader.read())
        writer.close()
        await writer.wait_closed()


@pytest.mark.parametrize("transport", [Transport.TCP, Transport.TLS])
async def test_a_line_arrives_over_a_stream(transport: Transport) -> None:
    listener = Listener()
    tls = TLS.context if transport is Transport.TLS else None
    if tls is not None:  # asyncio's TLS knows no half-closed connection: the client just ends it
        listener.take = _take_all(listener)  # type: ignore[method-assign]
    server = await asyncio.start_server(lambda r, w: listener.take(r, w), "127.0.0.1", 0, ssl=tls)
    port = server.sockets[0].getsockname()[1]
    wanted = SyslogServer(
        ChannelId(1), "Tower", "127.0.0.1", port=port, transport=transport, authority=TLS.authority
    )
    answer = await Herald(Reach(plain=frozenset({("127.0.0.1", port)}))).send(wanted, LINE)
    assert answer.is_sent, answer
    assert await asyncio.wait_for(listener.heard.get(), 10) == framed(LINE)
    server.close()


def _take_all(listener: Listener) -> Any:
    async def take(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        listener.heard.put_nowait(await reader.readexactly(len(framed(LINE))))
        writer.close()

    return take


async def test_a_line_arrives_by_udp_and_who_is_not_there_is_said() -> None:
    loop = asyncio.get_running_loop()
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as sock:
        sock.setblocking(False)
        sock.bind(("127.0.0.1", 0))
        port = sock.getsockname()[1]
        wanted = SyslogServer(ChannelId(1), "Tower", "127.0.0.1", port=port, transport=Transport.UDP)
        herald = Herald(Reach(plain=frozenset({("127.0.0.1", port), ("127.0.0.1", 1)})))
        assert (await herald.send(wanted, LINE)).is_sent
        assert await asyncio.wait_for(loop.sock_recv(sock, 4096), 10) == LINE
    gone = SyslogServer(ChannelId(1), "Tower", "127.0.0.1", port=1, transport=Transport.TCP)
    answer = await herald.send(gone, LINE)
    assert (answer.is_sent, answer.text) == (False, "127.0.0.1: connection refused.")
    far = SyslogServer(ChannelId(1), "Tower", "127.0.0.1", port=2, transport=Transport.TCP)
    assert "may not be reached" in (await herald.send(far, LINE)).text


@pytest.fixture
async def hooked(garden: Garden) -> AsyncIterator[list[tuple[dict[str, str], bytes]]]:
    """A web server where webhooks arrive; its address is let through to."""
    heard: list[tuple[dict[str, str], bytes]] = []

    async def take(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        head = (await reader.readuntil(b"\r\n\r\n")).decode()
        lines = [line.split(": ", 1) for line in head.split("\r\n")[1:] if ": " in line]
        headers = {name.lower(): value for name, value in lines}
        heard.append((headers, await reader.readexactly(int(headers["content-length"]))))
        writer.write(b"HTTP/1.1 204 No Content\r\nConnection: close\r\n\r\n")
        await writer.drain()
        writer.close()

    server = await asyncio.start_server(take, "127.0.0.1", 0)
    port = server.sockets[0].getsockname()[1]
    caller = garden.demo.service.carriers._caller
    caller._reach = Reach(plain=caller._reach.plain | {("127.0.0.1", port)})
    heard.append(({"port": str(port)}, b""))
    yield heard
    server.close()


async def test_a_new_passcode_goes_to_whoever_hands_it_out(
    garden: Garden, staff: httpx.AsyncClient, hooked: list[tuple[dict[str, str], bytes]]
) -> None:
    (where, _) = hooked.pop()
    hook = {"name": "Bell", "url": f"http://127.0.0.1:{where['port']}/bell", "hears": ["passcode"]}
    made = (await staff.post("/api/webhooks", json=hook)).json()
    assert len(made["secret"]) == 32
    practice = (await staff.get("/api/networks")).json()["networks"][2]
    ways = practice["ways"]
    ways[0]["tells"] = [" porter@hollerau.example", "0044 7700 900123", "porter@hollerau.example"]
    saved = await staff.put(f"/api/networks/{practice['id']}/ways", json={"ways": ways})
    assert saved.json()["ways"][0]["tells"] == ["porter@hollerau.example", "+447700900123"]
    (first,) = await garden.demo.letters.mailbox.until(1)
    code = garden.demo.passcode()
    assert f"Passcode: {code}" in first.part("plain")
    await garden.until(lambda: len(hooked) == 1 and len(garden.demo.letters.gateway.texts) == 1)
    await staff.post(f"/api/networks/{practice['id']}/passcode", json={"text": "silver otter"})
    mails = await garden.demo.letters.mailbox.until(2)
    assert mails[1].subject == "New passcode for Practice wall ports"
    assert "Passcode: silver otter" in mails[1].part("plain")
    await garden.until(lambda: len(hooked) == 2)
    headers, body = hooked[1]
    said = json.loads(body)
    assert (said["kind"], said["words"]["code"]) == ("passcode", "silver otter")
    assert headers["lauschen-signature"] == signature(
        made["secret"], mark=headers["lauschen-id"], at=int(headers["lauschen-time"]), body=body
    )
    assert said["id"] == headers["lauschen-id"]
    # Whoever is added hears of the one that holds now; nobody else does again.
    ways[0]["tells"] = ["porter@hollerau.example", "night@hollerau.example"]
    await staff.put(f"/api/networks/{practice['id']}/ways", json={"ways": ways})
    assert (await garden.demo.letters.mailbox.until(3))[2].to == "night@hollerau.example"
    # Nothing changed since: nobody is told again, not after a change of something else either.
    await staff.put(f"/api/networks/{practice['id']}/ways", json={"ways": ways})
    garden.clock.advance(5)
    await garden.road.act(lambda tx: None)
    assert len(garden.demo.letters.mailbox.mails) == 3


async def test_machines_hear_of_who_writes_in(
    garden: Garden, staff: httpx.AsyncClient, hooked: list[tuple[dict[str, str], bytes]]
) -> None:
    (where, _) = hooked.pop()
    hook = {"name": "Bell", "url": f"http://127.0.0.1:{where['port']}/bell", "hears": ["registered"]}
    assert (await staff.post("/api/webhooks", json=hook)).status_code == 201
    await offer(garden, staff, "page")
    guest = await at_the_page(garden)
    await write_in(guest, name="Ines Harwood", mail="ines@hollerau.example")
    await garden.until(lambda: len(hooked) == 1)
    said = json.loads(hooked[0][1])
    assert said["kind"] == "registered"
    assert said["text"].endswith(" registered on Garden of Hollerau Summer Academy as Ines Harwood")
    assert "ines@" not in hooked[0][1].decode(), "an address is nobody's business who only counts guests"
    issued = (await staff.get("/api/desk")).json()["batches"][0]["issued"][0]
    assert issued["sent"] is None


async def test_receivers_are_set_tried_and_taken_away(
    garden: Garden, staff: httpx.AsyncClient, hooked: list[tuple[dict[str, str], bytes]]
) -> None:
    (where, _) = hooked.pop()
    hook = {"name": "Bell", "url": f"http://127.0.0.1:{where['port']}/bell", "hears": []}
    made = (await staff.post("/api/webhooks", json=hook)).json()
    tried = (await staff.post(f"/api/receivers/{made['id']}/test")).json()
    assert tried == {"is_sent": True, "answer": "status 204"}
    assert json.loads(hooked[0][1])["kind"] == "test"
    kept = await staff.put(f"/api/webhooks/{made['id']}", json=hook | {"name": "Bells"})
    assert (kept.json()["name"], kept.json()["secret"]) == ("Bells", None)
    assert garden.road.config.channels.webhooks[0].secret == made["secret"]
    line = {"name": "Tower", "host": "tower.hollerau.example", "hears": ["passcode"]}
    tower = (await staff.post("/api/syslog", json=line)).json()
    tried = (await staff.post(f"/api/receivers/{tower['id']}/test")).json()
    assert tried["answer"] == "tower.hollerau.example leads nowhere now."
    moved = await staff.put(f"/api/syslog/{tower['id']}", json=line | {"transport": "udp", "port": 514})
    assert moved.json()["port"] == 514
    shown = (await staff.get("/api/settings")).json()
    assert [one["name"] for one in shown["syslog"] + shown["webhooks"]] == ["Tower", "Bells"]
    assert not re.search(made["secret"], json.dumps(shown))
    for one in (made, tower):
        assert (await staff.delete(f"/api/receivers/{one['id']}")).status_code == 204
        assert (await staff.delete(f"/api/receivers/{one['id']}")).status_code == 404
    assert (await staff.put(f"/api/syslog/{tower['id']}", json=line)).status_code == 404


@pytest.mark.parametrize(
    ("path", "wanted", "field"),
    [
        ("syslog", {"name": " ", "host": "a"}, "name"),
        ("syslog", {"name": "a", "host": "a b"}, "host"),
        ("syslog", {"name": "a", "host": "a", "authority": "x"}, "authority"),
        ("syslog", {"name": "a", "host": "a", "facility": 24}, "facility"),
        ("webhooks", {"name": "a", "url": "ftp://x"}, "url"),
        ("webhooks", {"name": "a", "url": "https://x.example", "secret": "short"}, "secret"),
        ("webhooks", {"name": "a", "url": "https://x.example", "hears": ["gossip"]}, "hears"),
    ],
)
async def test_receivers_that_cannot_be(
    garden: Garden, staff: httpx.AsyncClient, path: str, wanted: dict[str, Any], field: str
) -> None:
    refused = await staff.post(f"/api/{path}", json=wanted)
    assert (refused.status_code, refused.json()["field"].split(".")[0]) == (422, field)
