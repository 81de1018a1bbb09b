"""Mail to a real SMTP server with STARTTLS: what arrives, and what is said when it does not."""

import asyncio
from collections.abc import AsyncIterator
from dataclasses import replace

import pytest

from lauschen.core.errors import Invalid
from lauschen.core.messages.channels import MailServer, Security
from lauschen.core.messages.message import Channel, Kind
from lauschen.core.messages.template import Template
from lauschen.core.messages.templates import WORDS, Rendered, render
from lauschen.core.words.addresses import read_mail
from lauschen.notify import mail as mail_module
from lauschen.notify.compose import Letter, compose
from lauschen.notify.mail import Postman
from lauschen.outgoing.reach import Reach, read_reach
from lauschen.standins.authority import StandInTls, make_tls
from lauschen.standins.mailbox import Habit, Mailbox
from tests.odd_server import odd_server

TLS = make_tls(("127.0.0.1",))
FOREIGN = make_tls(("127.0.0.1",))
OTHER_NAME = make_tls(("mail.elsewhere.example",))
OVER = make_tls(("127.0.0.1",), days=-1)
TO = "ines@students.hollerau.example"
LETTER = Letter(
    sender="gatehouse@hollerau.example",
    sender_name='Hollerau, "Gatehouse"',
    to=TO,
    mark="00ff" * 6,
    written_at=1_780_000_000.0,
    lang="en",
    rendered=Rendered("Your way online: ü", "Hello Ines\nCode: 3N2D5-98EEV\n", "<p>Hello Ines</p>"),
    qr="http://slip.hollerau.example/3N2D598EEV",
)


@pytest.fixture
async def box() -> AsyncIterator[Mailbox]:
    made = Mailbox(TLS, user="lauschen", password="plum")
    await made.open()
    yield made
    await made.close()


def server_of(box: Mailbox) -> MailServer:
    return MailServer(
        "127.0.0.1", LETTER.sender, port=box.port, user="lauschen", password="plum", authority=TLS.authority
    )


def postman(box: Mailbox) -> Postman:
    return Postman(Reach(plain=frozenset({("127.0.0.1", box.port)})))


async def test_a_mail_arrives_whole_plain_text_first(box: Mailbox) -> None:
    answer = await postman(box).send(server_of(box), TO, compose(LETTER))
    assert answer.is_sent
    assert answer.text == "2.0.0 OK: kept as number 1"
    (mail,) = box.mails
    assert (mail.to, mail.subject, mail.mark) == (
        TO,
        "Your way online: ü",
        f"<{LETTER.mark}@hollerau.example>",
    )
    assert mail.part("plain") == LETTER.rendered.plain
    kinds = [part.get_content_type() for part in mail.parsed.walk()]
    assert kinds == [
        "multipart/alternative", "text/plain", "multipart/related", "text/html", "image/png",
    ]  # fmt: skip
    (picture,) = [part for part in mail.parsed.walk() if part.get_content_type() == "image/png"]
    assert f'src="cid:{picture["Content-ID"].strip("<>")}"' in mail.part("html")
    assert mail.parsed["Auto-Submitted"] == "auto-generated"
    assert mail.parsed["From"].addresses[0].display_name == LETTER.sender_name


def test_each_try_has_the_same_octets() -> None:
    """But for the boundaries between its parts."""
    one, two = (compose(LETTER).partition(b"\r\n\r\n")[0].decode() for _ in range(2))
    assert [line for line in one.split("\r\n") if "boundary" not in line] == [
        line for line in two.split("\r\n") if "boundary" not in line
    ]
    assert "Date: Thu, 28 May 2026" in one


@pytest.mark.parametrize(
    ("habit", "said", "is_final"),
    [
        (Habit.REFUSES, "127.0.0.1 answered: 550 5.1.1 No such mailbox here", True),
        (Habit.GREYLISTS, "127.0.0.1 answered: 451 4.7.1 Greylisted, come again in five minutes", False),
        (Habit.DISTRUSTS, "127.0.0.1 answered: 554 5.7.1 Refused by policy", False),
        (Habit.CLOSES, "127.0.0.1 closed the connection.", False),
        (Habit.CLOSES_LATE, "127.0.0.1 closed the connection.", False),
    ],
)
async def test_what_a_bad_server_does_is_said(box: Mailbox, habit: Habit, said: str, is_final: bool) -> None:
    box.habit = habit
    answer = await postman(box).send(server_of(box), TO, compose(LETTER))
    assert (answer.is_sent, answer.text, answer.is_final) == (False, said, is_final)


async def test_one_that_hangs_is_left_in_time(box: Mailbox, monkeypatch: pytest.MonkeyPatch) -> None:
    box.habit = Habit.HANGS
    monkeypatch.setattr(mail_module, "STEP_S", 0.2)
    answer = await postman(box).send(server_of(box), TO, compose(LETTER))
    assert answer.text == "127.0.0.1 did not answer in time."


async def test_a_wrong_password_is_no_fault_of_the_address(box: Mailbox) -> None:
    answer = await postman(box).send(replace(server_of(box), password="pear"), TO, compose(LETTER))
    assert answer.text.startswith("It refuses our name and password. 127.0.0.1 answered: 535")
    assert not answer.is_final
    assert box.mails == []


@pytest.mark.parametrize(
    ("tls", "said"),
    [(FOREIGN, "certificate"), (OTHER_NAME, "mismatch"), (OVER, "expired")],
    ids=["foreign", "other name", "over"],
)
async def test_a_certificate_that_is_not_the_servers_ends_it(tls: StandInTls, said: str) -> None:
    box = Mailbox(tls)
    await box.open()
    trusted = TLS.authority if tls is FOREIGN else tls.authority
    server = MailServer("127.0.0.1", LETTER.sender, port=box.port, authority=trusted)
    answer = await postman(box).send(server, TO, compose(LETTER))
    await box.close()
    assert answer.text.startswith("The connection to 127.0.0.1 is not to be trusted: ")
    assert said in answer.text
    assert box.mails == []


async def test_tls_from_the_start_and_a_server_that_offers_none() -> None:
    box = Mailbox(TLS, is_tls_from_start=True)
    await box.open()
    server = MailServer(
        "127.0.0.1", LETTER.sender, port=box.port, authority=TLS.authority, security=Security.TLS
    )
    assert (await postman(box).send(server, TO, compose(LETTER))).is_sent
    await box.close()

    gone = asyncio.Event()

    async def plain(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        writer.write(b"220 plain.example\r\n")
        while line := await reader.readline():
            writer.write(
                b"250 plain.example\r\n" if line[:4].upper() in (b"EHLO", b"HELO") else b"221 bye\r\n"
            )
        writer.close()
        await writer.wait_closed()
        gone.set()

    old = await asyncio.start_server(plain, "127.0.0.1", 0)
    port = old.sockets[0].getsockname()[1]
    reach = Reach(plain=frozenset({("127.0.0.1", port)}))
    server = MailServer("127.0.0.1", LETTER.sender, port=port, authority=TLS.authority)
    answer = await Postman(reach).send(server, TO, compose(LETTER))
    assert answer.text == "127.0.0.1 does not offer STARTTLS, and mail goes out encrypted only."
    await asyncio.wait_for(gone.wait(), 10)
    old.close()


@pytest.mark.parametrize(
    ("says", "security", "said"),
    [
        (b"220 plain\r\n", Security.TLS, "127.0.0.1 does not begin with TLS at port {port}: try STARTTLS."),
        (b"", Security.TLS, "127.0.0.1 closed the connection."),
        (b"", Security.STARTTLS, "127.0.0.1 closed the connection."),
        (
            b"\x00\xff\x16nothing known\r\n" * 40_000,
            Security.STARTTLS,
            "What 127.0.0.1 says at port {port} is not what a mail server says.",
        ),
        (
            "421 busy \x1b[31m\u202elater\r\n".encode(),
            Security.STARTTLS,
            "127.0.0.1 answered: 421 busy [001B][31m[202E]later",
        ),
    ],
)
async def test_what_is_no_mail_server_is_said(says: bytes, security: Security, said: str) -> None:
    async with odd_server(says) as port:
        reach = Reach(plain=frozenset({("127.0.0.1", port)}))
        server = MailServer("127.0.0.1", LETTER.sender, port=port, authority=TLS.authority, security=security)
        answer = await Postman(reach).send(server, TO, compose(LETTER))
    assert (answer.is_sent, answer.text) == (False, said.format(port=port))


async def test_nobody_at_the_port_is_said(box: Mailbox) -> None:
    server = server_of(box)
    await box.close()
    answer = await postman(box).send(server, TO, compose(LETTER))
    assert answer.text == "127.0.0.1: connection refused."


async def test_a_house_of_its_own_is_not_reached_unless_listed(box: Mailbox) -> None:
    answer = await Postman(Reach()).send(server_of(box), TO, compose(LETTER))
    listed = f"http://127.0.0.1:{box.port}"
    assert answer.text == f"127.0.0.1 (127.0.0.1) may not be reached from here: --reach {listed} lists it."
    assert box.tries == {}
    answer = await Postman(read_reach([listed])).send(server_of(box), TO, compose(LETTER))
    assert answer.is_sent


FORGED = "=?utf-8?q?a=0D=0ABcc:_x@elsewhere.example=0D=0A=0D=0AAnother_body?="
"""RFC 2047: whoever decodes it finds a header and a body of a stranger's own."""
BASE64 = "=?utf-8?b?YQ0KQmNjOiB4QGVsc2V3aGVyZS5leGFtcGxl?="
HEADERS = {
    "From", "To", "Subject", "Date", "Message-ID", "Auto-Submitted", "MIME-Version",
    "Content-Type",
}  # fmt: skip


def headers_of(octets: bytes) -> tuple[set[str], bytes]:
    """Names of the header lines as they stand in the raw octets, and everything before the body."""
    head, _, _ = octets.partition(b"\r\n\r\n")
    lines = [line for line in head.split(b"\r\n") if not line.startswith((b" ", b"\t"))]
    return {line.partition(b":")[0].decode() for line in lines}, head


@pytest.mark.parametrize("kind", list(Kind))
@pytest.mark.parametrize(
    "forged", [FORGED, BASE64, f"Ines {FORGED}", f"{FORGED} {BASE64}", "a\r\nBcc: x@y.example"]
)
async def test_no_field_of_no_message_makes_a_header(box: Mailbox, kind: Kind, forged: str) -> None:
    """Read as raw octets at the server: nothing is decoded on the way."""
    words = dict.fromkeys(WORDS[kind], forged)
    template = Template("".join(f"{{{word}}} " for word in words), f"{{{next(iter(words))}}}")
    rendered = render(template, Channel.MAIL, words, code_in_subject=True)
    letter = replace(LETTER, rendered=rendered, sender_name=forged)
    answer = await postman(box).send(server_of(box), TO, compose(letter))
    assert answer.is_sent, answer.text
    (mail,) = box.mails
    names, head = headers_of(mail.octets)
    assert names == HEADERS
    assert b"=?utf-8?q?a=0D" not in head
    assert b"=?utf-8?b?YQ0K" not in head
    for name in ("Subject", "From"):
        shown = str(mail.parsed[name])
        assert "\n" not in shown
        assert "\r" not in shown
        assert "Another body" not in shown
    assert "Another body" not in mail.part("plain")
    assert mail.parsed["Bcc"] is None


@pytest.mark.parametrize(
    "to",
    [
        f"{FORGED}@example.net",
        f"{BASE64}@example.net",
        "x=?utf-8?q?=0D=0A?=y@example.net",
        "x@example.net\r\nBcc: y@example.net",
        "a\rb@example.net",
    ],
)
def test_no_address_makes_a_header(to: str) -> None:
    with pytest.raises(Invalid, match="mail_form"):
        read_mail(to)
    for letter in (replace(LETTER, to=to), replace(LETTER, sender=to)):  # stored by an earlier version
        with pytest.raises(Invalid, match="mail_form"):
            compose(letter)
