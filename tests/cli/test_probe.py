"""The probe plays every kind of request against a running server, and says what came back."""

import asyncio

import pytest

from lauschen.cli.probe import Ask, Probe, build, exchange, judge, say
from lauschen.core.errors import Invalid
from lauschen.demo.site import SECRET, SSID
from lauschen.radius.wire.codec import parse
from tests.garden import Garden

WEST, KEY = "127.77.0.11", SECRET.decode()


async def heard(garden: Garden, probe: Probe, wait_s: float = 3.0) -> list[str]:
    service = garden.demo.service
    is_report = probe.ask in (Ask.START, Ask.INTERIM, Ask.STOP, Ask.ON, Ask.OFF)
    octets, authenticator = build(probe)
    port = service.ports["acct" if is_report else "auth"]
    reply = await asyncio.to_thread(exchange, octets, ("127.0.0.1", port), source=WEST, wait_s=wait_s)
    if reply is None:
        return ["nobody answered"]
    packet, verdict = judge(reply, probe, authenticator)
    assert packet is not None
    return [*say(packet), verdict]


@pytest.mark.parametrize("ask", list(Ask))
async def test_every_kind_is_answered(garden: Garden, ask: Ask) -> None:
    code = (await garden.demo.issue("Day visit", 1))[0]
    said = await heard(garden, Probe(ask, KEY, ssid=SSID, name="mirela", password=code))
    is_report = ask in (Ask.START, Ask.INTERIM, Ask.STOP, Ask.ON, Ask.OFF)
    assert said[0] == ("Accounting-Response" if is_report else "Access-Accept")
    assert said[-1] == "the answer is genuine"
    if ask is Ask.MAC:
        assert "  Filter-Id: doorstep" in said
    if ask is Ask.PERSON:
        assert "  Filter-Id: visitor" in said


async def test_chap_and_further_attributes(garden: Garden) -> None:
    code = (await garden.demo.issue("Day visit", 1))[0]
    extra = ["NAS-Port-Id=port 3", "Framed-IP-Address=10.77.20.5", "Framed-MTU=1400", "Proxy-State=beef"]
    said = await heard(
        garden, Probe(Ask.PERSON, KEY, ssid=SSID, name=code, password=code, by_chap=True, extra=extra)
    )
    assert said[0] == "Access-Accept"
    assert "  Proxy-State: be ef" in said


async def test_a_person_is_told_why_not_and_a_device_is_not(garden: Garden) -> None:
    said = await heard(garden, Probe(Ask.PERSON, KEY, ssid=SSID, name="mirela", password="nothing"))
    assert (said[0], said[2]) == (
        "Access-Reject",
        "  Reply-Message: This is not a valid code: a code has 10 characters. Please check it against your slip.",
    )
    mac = await heard(garden, Probe(Ask.MAC, KEY, ssid="Elsewhere"))
    assert [line.partition(":")[0].strip() for line in mac[:-1]] == ["Access-Reject", "Message-Authenticator"]


async def test_silence_is_said(garden: Garden) -> None:
    assert await heard(garden, Probe(Ask.MAC, "another", ssid=SSID), 0.2) == ["nobody answered"]
    assert await heard(garden, Probe(Ask.MAC, KEY, ssid=SSID, signed=False), 0.2) == ["nobody answered"]


@pytest.mark.parametrize("text", ["No-Such=1", "Framed-IP-Address=x", "NAS-Port=much", "State=zz"])
def test_what_does_not_fit_is_said(text: str) -> None:
    with pytest.raises(Invalid):
        build(Probe(Ask.MAC, KEY, extra=[text]))


def test_an_answer_under_another_secret_is_told() -> None:
    octets, _ = build(Probe(Ask.STATUS, KEY))
    assert parse(octets).code == 12
    packet, verdict = judge(octets, Probe(Ask.STATUS, "other"), bytes(16))
    assert packet is not None
    assert verdict == "the answer is signed with another secret"
    assert judge(b"x", Probe(Ask.STATUS, KEY), bytes(16))[1].startswith("the answer is no RADIUS packet")
