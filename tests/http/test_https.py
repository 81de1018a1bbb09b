"""HTTPS: a certificate that is read again, handshakes that hold nobody up, and plain HTTP that leads to it."""

import asyncio
import os
import shutil
import socket
import ssl
from collections.abc import AsyncIterator
from pathlib import Path

import httpx
import pytest
from starlette.responses import PlainTextResponse

from lauschen.http import server as http_server
from lauschen.http.certificate import Certificate, CertificateFacts
from lauschen.http.limits import Crowd
from lauschen.http.server import HttpServer, listen
from lauschen.portal.https import ToHttps
from tests.radius.certificates import Authority

HOST = "welcome.hollerau.example"


class Secure:
    """A listener with a certificate of its own authority."""

    def __init__(self, folder: Path) -> None:
        self.authority = Authority(folder)
        self.files = folder / "own.pem", folder / "own.key"
        self.put(HOST)
        self.certificate = Certificate(*self.files)
        (sock,) = listen(["127.0.0.1"], 0)
        self.port = int(sock.getsockname()[1])
        app = PlainTextResponse("here")
        self.server = HttpServer(app, [sock], Crowd(20, 20), tls=self.certificate.context)

    def put(self, name: str) -> None:
        own, key, _ = self.authority.issue(name)
        for made, place in zip((own, key), self.files, strict=True):
            shutil.copy(made, place)
            os.utime(place, ns=(0, hash(name) & 0xFFFFFFFF))

    def trust(self) -> ssl.SSLContext:
        return ssl.create_default_context(cafile=str(self.authority.file))

    async def names(self) -> tuple[str, ...]:
        """The names in the certificate that a new connection is shown."""
        context = self.trust()
        context.check_hostname = False
        reader, writer = await asyncio.open_connection("127.0.0.1", self.port, ssl=context)
        shown = writer.get_extra_info("ssl_object").getpeercert()
        writer.write(b"GET / HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n")
        assert b"here" in await asyncio.wait_for(reader.read(), 5)
        writer.close()
        return tuple(value for _, value in shown["subjectAltName"])


@pytest.fixture
async def secure(tmp_path: Path) -> AsyncIterator[Secure]:
    made = Secure(tmp_path)
    await made.server.begin()
    yield made
    await made.server.stop()


async def test_a_certificate_is_read_again_when_its_files_change(secure: Secure) -> None:
    assert await secure.names() == (HOST,)
    secure.put("other.hollerau.example")
    secure.certificate.look()
    assert await secure.names() == ("other.hollerau.example",)
    assert secure.certificate.facts.names == ("other.hollerau.example",)


async def test_files_that_cannot_be_used_leave_the_one_before_in_use(secure: Secure) -> None:
    secure.files[1].write_text("no key at all")
    secure.certificate.look()
    assert secure.certificate.fault
    assert await secure.names() == (HOST,)
    secure.put(HOST)
    secure.certificate.look()
    assert secure.certificate.fault is None


async def test_old_tls_and_plain_http_are_not_spoken(secure: Secure) -> None:
    old = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
    old.check_hostname, old.verify_mode = False, ssl.CERT_NONE
    with pytest.warns(DeprecationWarning, match="TLSv1_1"):
        old.minimum_version = old.maximum_version = ssl.TLSVersion.TLSv1_1
    with pytest.raises((ssl.SSLError, ConnectionError)):
        await asyncio.open_connection("127.0.0.1", secure.port, ssl=old)
    reader, writer = await asyncio.open_connection("127.0.0.1", secure.port)
    writer.write(b"GET / HTTP/1.1\r\nHost: x\r\n\r\n")
    assert b"here" not in await asyncio.wait_for(reader.read(), 5)
    writer.close()


async def test_handshakes_that_do_not_end_hold_nobody_up(
    secure: Secure, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(http_server, "HANDSHAKES_EACH", 3)
    silent = []
    for _ in range(5):
        sock = socket.create_connection(("127.0.0.1", secure.port))
        sock.setblocking(False)
        silent.append(sock)
    loop = asyncio.get_running_loop()
    for sock in silent[3:]:
        # Those beyond its share are let go at once.
        assert await asyncio.wait_for(loop.sock_recv(sock, 1), 5) == b""
    context = secure.trust()
    reader, writer = await asyncio.open_connection(
        "127.0.0.1", secure.port, ssl=context, server_hostname=HOST, local_addr=("127.0.0.9", 0)
    )
    writer.write(b"GET / HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n")
    assert b"here" in await asyncio.wait_for(reader.read(), 5)
    for end in (writer, *silent):
        end.close()


@pytest.mark.parametrize(
    ("names", "host", "fits"),
    [
        (("welcome.example",), "welcome.example", True),
        (("Welcome.example".lower(),), "WELCOME.example.", True),
        (("*.example",), "welcome.example", True),
        (("*.example",), "a.welcome.example", False),
        (("*.example",), "example", False),
        (("*",), "example", False),
        (("10.0.0.5",), "10.0.0.5", True),
        ((), "welcome.example", False),
    ],
)
def test_whom_a_certificate_fits(names: tuple[str, ...], host: str, fits: bool) -> None:
    assert CertificateFacts(names, 0.0).fits(host) is fits


@pytest.mark.parametrize(
    ("page", "asked", "led_to"),
    [
        (f"https://{HOST}", f"http://{HOST}/?t=a%20b&url=x", f"https://{HOST}/?t=a%20b&url=x"),
        (f"https://{HOST}:7743", f"http://{HOST}/visit/1", f"https://{HOST}:7743/visit/1"),
        (f"https://{HOST}", "http://probe.maker.example/ok", None),  # what devices probe
        (f"https://{HOST}", f"https://{HOST}/", None),
        (f"http://{HOST}", f"http://{HOST}/", None),
    ],
)
async def test_plain_http_leads_to_https_under_the_pages_own_name_alone(
    page: str, asked: str, led_to: str | None
) -> None:
    app = ToHttps(PlainTextResponse("here"), page_url=lambda: page)
    async with httpx.AsyncClient(transport=httpx.ASGITransport(app)) as http:
        answer = await http.get(asked)
        assert answer.headers.get("location") == led_to
        assert answer.status_code == (200 if led_to is None else 307)
        assert (await http.post(asked)).text == "here"
