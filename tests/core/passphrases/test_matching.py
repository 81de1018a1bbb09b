"""A station's second message, and which key it was made with."""

import hashlib
import hmac
import random
from dataclasses import replace

import pytest

from lauschen.core.errors import Invalid
from lauschen.core.ids import Mac
from lauschen.core.passphrases.cmac import cmac
from lauschen.core.passphrases.derive import pmk_of
from lauschen.core.passphrases.eapol import SHORTEST, read_key_frame
from lauschen.core.passphrases.handshake import Handshake, is_signed_by, kck_of
from lauschen.core.passphrases.matching import find_key, prepare
from tests.core.passphrases.captured import ACCESS_POINT, HANDSHAKES, PASSPHRASE, SSID, STATION, Captured

RSN_ELEMENT = bytes.fromhex("30140100000fac040100000fac040100000fac020000")


def second_message(pmk: bytes, version: int, chance: random.Random, ssid: bytes = SSID) -> Handshake:
    """As a station makes it: signed last."""
    info = version | 0x0108
    key = b"\x02" + info.to_bytes(2, "big") + bytes(2) + (7).to_bytes(8, "big") + chance.randbytes(32)
    key += bytes(16 + 8 + 8) + bytes(16) + len(RSN_ELEMENT).to_bytes(2, "big") + RSN_ELEMENT
    octets = b"\x01\x03" + len(key).to_bytes(2, "big") + key
    unsigned = Handshake(ACCESS_POINT, STATION, ssid, chance.randbytes(32), read_key_frame(octets))
    kck = kck_of(pmk, unsigned)
    mic = {
        1: lambda: hmac.new(kck, octets, hashlib.md5).digest(),
        2: lambda: hmac.new(kck, octets, hashlib.sha1).digest()[:16],
        3: lambda: cmac(kck, octets),
    }[version]()
    signed = octets[:81] + mic + octets[97:]
    return replace(unsigned, frame=read_key_frame(signed))


@pytest.fixture
def chance() -> random.Random:
    return random.Random(7)


@pytest.mark.parametrize("version", [1, 2, 3])
def test_the_key_that_signed_it_is_found_among_many(version: int, chance: random.Random) -> None:
    pmks = [chance.randbytes(32) for _ in range(60)]
    keys = [prepare(number, pmk) for number, pmk in enumerate(pmks)]
    for number in (0, 31, 59):
        handshake = second_message(pmks[number], version, chance)
        assert find_key(keys, handshake) is keys[number]
        assert is_signed_by(pmks[number], handshake)
        assert not is_signed_by(pmks[number - 1], handshake)
        assert find_key(keys[:number] + keys[number + 1 :], handshake) is None


@pytest.mark.parametrize("captured", HANDSHAKES, ids=lambda one: f"version {one.version}")
def test_the_handshake_of_a_real_station(captured: Captured, chance: random.Random) -> None:
    second, pmk = read_key_frame(bytes.fromhex(captured.second)), pmk_of(PASSPHRASE, SSID)
    nonce = bytes.fromhex(captured.first)[17:49]
    handshake = Handshake(ACCESS_POINT, STATION, SSID, nonce, second)
    assert second.version == captured.version
    keys, theirs = [prepare(number, chance.randbytes(32)) for number in range(20)], prepare(77, pmk)
    assert find_key([*keys, theirs], handshake) is theirs
    assert find_key(keys, handshake) is None
    for octets in (captured.first, captured.last):
        with pytest.raises(Invalid, match="cannot be read"):
            read_key_frame(bytes.fromhex(octets))


def test_prepared_keys_are_as_good_after_use(chance: random.Random) -> None:
    key = prepare(1, chance.randbytes(32))
    for _ in range(3):
        assert find_key([key], second_message(key.pmk, 2, chance)) is key


@pytest.mark.parametrize("part", ["access_point", "station", "nonce"])
def test_what_was_changed_on_the_way_fits_no_key(part: str, chance: random.Random) -> None:
    pmk = chance.randbytes(32)
    handshake = second_message(pmk, 2, chance)
    other = {"access_point": Mac(1), "station": Mac(2), "nonce": bytes(32)}[part]
    assert find_key([prepare(1, pmk)], replace(handshake, **{part: other})) is None  # type: ignore[arg-type]


def test_the_same_passphrase_is_another_key_on_another_network(chance: random.Random) -> None:
    elsewhere = second_message(
        pmk_of("vase trumpet elbow", b"Hollerau Garden"), 2, chance, b"Hollerau Garden"
    )
    assert find_key([prepare(1, pmk_of("vase trumpet elbow", SSID))], elsewhere) is None


def frame(chance: random.Random) -> bytes:
    handshake = second_message(chance.randbytes(32), 2, chance)
    signed = handshake.frame.signed
    return signed[:81] + handshake.frame.mic + signed[97:]


def test_a_frame_that_is_cut_at_any_octet_is_said_to_be(chance: random.Random) -> None:
    whole = frame(chance)
    assert read_key_frame(whole).replay == 7
    assert read_key_frame(whole[:9] + b"\x01" + whole[10:]).replay == 2**56 + 7
    for length in range(len(whole)):
        with pytest.raises(Invalid, match="cannot be read"):
            read_key_frame(whole[:length])
    with pytest.raises(Invalid, match="cannot be read"):
        read_key_frame(whole + b"\0")
    with pytest.raises(Invalid, match="no key frame"):
        read_key_frame(whole + bytes(512))


@pytest.mark.parametrize(
    ("place", "value", "why"),
    [
        (1, 0, "no EAPOL-Key frame"),
        (4, 1, "no EAPOL-Key frame"),
        (6, 0x0A | 0x80, "not the second message"),  # the access point asks for an answer: its own message
        (5, 0x00, "not the second message"),  # unsigned
        (5, 0x05, "not the second message"),  # an error report
        (6, 0x0C, "version 4"),
        (98, 0, "lengths"),
        (97, 1, "lengths"),
        (2, 1, "lengths"),
    ],
)
def test_what_is_no_second_message_is_said_to_be(
    chance: random.Random, place: int, value: int, why: str
) -> None:
    octets = bytearray(frame(chance))
    octets[place] = value
    with pytest.raises(Invalid, match=why):
        read_key_frame(bytes(octets))


def test_a_frame_without_a_nonce_proves_nothing(chance: random.Random) -> None:
    octets = frame(chance)
    with pytest.raises(Invalid, match="no nonce"):
        read_key_frame(octets[:17] + bytes(32) + octets[49:])
    assert SHORTEST == 99
