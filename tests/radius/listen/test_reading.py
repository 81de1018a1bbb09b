"""Who asks (rulings 3.3), where (3.9), and what accounting packets say."""

import hashlib
from collections.abc import Callable

import pytest

from lauschen.acts.staying.reports import Event
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.reason import Reason
from lauschen.core.ids import AccessDeviceId
from lauschen.radius.listen.reading import read_access_request, read_report
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.codec import BadPacket, parse
from lauschen.radius.wire.numbers import Kind, ServiceType
from lauschen.radius.wire.signing import Secret

SECRET = Secret(b"hollerau-stand-in-secret")
AUTH = bytes(range(16))
STATION = a.text(Kind.CALLING_STATION_ID, "02-00-00-AA-BB-01")
CALLED = a.text(Kind.CALLED_STATION_ID, "02-77-00-00-00-11:Hollerau Garden")
CALL_CHECK = a.integer(Kind.SERVICE_TYPE, ServiceType.CALL_CHECK)
MAC = "020000aabb01"


def heard(*parts: bytes) -> Arrival:
    packet = parse(SECRET.access_request(1, AUTH, b"".join(parts)))
    return read_access_request(packet, SECRET, AccessDeviceId(1))


def pap(text: str) -> bytes:
    return a.octets(Kind.USER_PASSWORD, SECRET.hide(text.encode(), AUTH))


def chap(text: str) -> bytes:
    return a.octets(Kind.CHAP_PASSWORD, b"\x05" + hashlib.md5(b"\x05" + text.encode() + AUTH).digest())


def name(text: str) -> bytes:
    return a.text(Kind.USER_NAME, text)


@pytest.mark.parametrize(
    ("parts", "refusal"),
    [
        ((name(MAC), CALL_CHECK, STATION), None),
        ((name(MAC), pap(MAC), STATION), None),
        ((name("02:00:00:AA:BB:01"), pap("02:00:00:AA:BB:01"), STATION), None),
        ((name(MAC), chap(MAC), STATION), None),
        ((name(MAC), pap("wrong"), STATION), Reason.MAC_PASSWORD),
        ((name(MAC), STATION), Reason.NO_WAY_IN),
        ((name("020000aabb02"), pap("020000aabb02"), STATION), Reason.CONTRADICTORY),
        ((name("mirela"), STATION), Reason.NO_WAY_IN),
        ((name(MAC), pap(MAC), chap(MAC), STATION), Reason.CONTRADICTORY),
        ((name(MAC), pap(MAC)), Reason.CONTRADICTORY),
        ((name(MAC), a.octets(Kind.EAP_MESSAGE, b"\x02\x01\x00\x05\x01"), STATION), Reason.EAP),
        ((name("mirela"), a.octets(Kind.USER_PASSWORD, bytes(15)), STATION), Reason.NO_WAY_IN),
    ],
)
def test_who_asks(parts: tuple[bytes, ...], refusal: Reason | None) -> None:
    arrival = heard(*parts, CALLED)
    assert arrival.refusal is refusal
    assert arrival.medium is Medium.ASKED


@pytest.mark.parametrize("shows", [pap, chap])
def test_a_person_offers_a_name_and_a_password(shows: Callable[[str], bytes]) -> None:
    arrival = heard(name("mirela"), shows("KQ7M3-2TXNP"), STATION, CALLED)
    assert (arrival.refusal, arrival.medium) == (None, Medium.PERSON)
    assert arrival.offer is not None
    assert arrival.offer.name == "mirela"
    assert arrival.offer.proves(b"KQ7M3-2TXNP")
    assert not arrival.offer.proves(b"KQ7M3-2TXNQ")
    assert arrival.offer.password == (None if shows is chap else "KQ7M3-2TXNP")


def test_the_shared_password_of_a_dialect_makes_it_a_device() -> None:
    packet = parse(SECRET.access_request(1, AUTH, name(MAC) + pap("house-word") + STATION + CALLED))
    asked = read_access_request(packet, SECRET, AccessDeviceId(1), "", "house-word")
    assert (asked.refusal, asked.medium) == (None, Medium.ASKED)
    assert read_access_request(packet, SECRET, AccessDeviceId(1), "", "other").refusal is Reason.MAC_PASSWORD


def test_a_name_that_is_no_utf_8_is_a_name() -> None:
    arrival = heard(a.octets(Kind.USER_NAME, b"\xff" * 253), pap("x"), STATION, CALLED)
    assert arrival.offer is not None
    assert len(arrival.offer.name) == 253


def test_the_device_is_always_the_calling_station() -> None:
    assert heard(name("020000aabb02"), CALL_CHECK, STATION, CALLED).mac == 0x020000AABB01


def test_authorize_only_is_a_reauthorisation() -> None:
    arrival = heard(name(MAC), a.integer(Kind.SERVICE_TYPE, ServiceType.AUTHORIZE_ONLY), STATION, CALLED)
    assert (arrival.medium, arrival.refusal) == (Medium.REAUTHORISED, None)


@pytest.mark.parametrize(
    ("called", "ssid"),
    [
        (b"02-77-00-00-00-11:Hollerau Garden", b"Hollerau Garden"),
        (b"02:77:00:00:00:11:Garden:west", b"Garden:west"),
        (b"027700000011:G", b"G"),
        (b"0277.0000.0011:\xff\xfe", b"\xff\xfe"),
        (b"02-77-00-00-00-11", None),
        (b"02-77-00-00-00-11:", None),
        (b"Hollerau Garden", None),
        (b"", None),
    ],
)
def test_the_ssid_is_what_follows_the_bssid(called: bytes, ssid: bytes | None) -> None:
    assert heard(name(MAC), CALL_CHECK, STATION, a.octets(Kind.CALLED_STATION_ID, called)).ssid == ssid


def test_an_interim_update() -> None:
    body = b"".join(
        (
            a.integer(Kind.ACCT_STATUS_TYPE, 3),
            STATION,
            CALLED,
            a.text(Kind.ACCT_SESSION_ID, "A1"),
            a.integer(Kind.ACCT_SESSION_TIME, 60),
            a.integer(Kind.ACCT_INPUT_OCTETS, 5),
            a.integer(Kind.ACCT_OUTPUT_OCTETS, 7),
            a.integer(Kind.ACCT_OUTPUT_GIGAWORDS, 1),
            a.address(Kind.FRAMED_IP_ADDRESS, "127.77.1.1"),
        )
    )
    report = read_report(parse(SECRET.accounting_request(1, body)), AccessDeviceId(1))
    assert (report.event, report.mac, report.session_time) == (Event.INTERIM, 0x020000AABB01, 60)
    assert (report.octets_in, report.octets_out, report.gigawords_in, report.gigawords_out) == (5, 7, None, 1)
    assert report.framed_ip == "127.77.1.1"


def test_a_report_of_nothing_is_a_bad_packet() -> None:
    with pytest.raises(BadPacket):
        read_report(parse(SECRET.accounting_request(1, STATION)), AccessDeviceId(1))
    with pytest.raises(BadPacket):
        read_report(parse(SECRET.accounting_request(1, a.integer(40, 99))), AccessDeviceId(1))


def test_ipv6_addresses_and_prefixes_are_heard_and_malformed_ones_left_out() -> None:
    body = (
        a.integer(Kind.ACCT_STATUS_TYPE, 3),
        STATION,
        a.address6(168, "2001:db8::17"),
        a.address6(168, "2001:db8::18"),
        a.prefix6(97, "2001:db8:5::/64"),
        a.octets(123, b"\0\xff1"),
    )
    heard = read_report(parse(SECRET.accounting_request(1, b"".join(body))), AccessDeviceId(1))
    assert heard.addresses6 == ("2001:db8::17", "2001:db8::18", "2001:db8:5::/64")
