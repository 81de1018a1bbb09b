"""What is derived from a passphrase, by the vectors of IEEE 802.11 (J.3, J.4), RFC 4493 and FIPS 197."""

import hashlib

import pytest

from lauschen.core.passphrases.cmac import cmac
from lauschen.core.passphrases.derive import kdf_sha256, pmk_of, prf


@pytest.mark.parametrize(
    ("passphrase", "ssid", "pmk"),
    [
        ("password", "IEEE", "f42c6fc52df0ebef9ebb4b90b38a5f902e83fe1b135a70e23aed762e9710a12e"),
        (
            "ThisIsAPassword",
            "ThisIsASSID",
            "0dc0d6eb90555ed6419756b9a15ec3e3209b63df707dd508d14581f8982721af",
        ),
        ("a" * 32, "Z" * 32, "becb93866bb8c3832cb777c2f559807c8c59afcb6eae734885001300a981cc62"),
    ],
)
def test_the_pmk_of_a_passphrase(passphrase: str, ssid: str, pmk: str) -> None:
    assert pmk_of(passphrase, ssid.encode()).hex() == pmk


def test_the_prf() -> None:
    wanted = (
        "bcd4c650b30b9684951829e0d75f9d54b862175ed9f00606e17d8da35402ffee"
        "75df78c3d31e0f889f012120c0862beb67753e7439ae242edb8373698356cf5a"
    )
    for length in (0, 1, 16, 20, 21, 64):
        assert prf(b"\x0b" * 20, b"prefix", b"Hi There", length).hex() == wanted[: 2 * length]


def test_the_kdf_says_which_part_and_how_many_bits_in_all() -> None:
    """12.7.1.6.2, written out once for two parts."""
    import hmac

    parts = [
        hmac.new(b"k" * 32, bytes([number, 0]) + b"label" + b"context" + bytes([0x80, 0x01]), hashlib.sha256)
        for number in (1, 2)
    ]
    whole = b"".join(part.digest() for part in parts)
    assert kdf_sha256(b"k" * 32, b"label", b"context", 384) == whole[:48]


KEY = bytes.fromhex("2b7e151628aed2a6abf7158809cf4f3c")
MESSAGE = bytes.fromhex(
    "6bc1bee22e409f96e93d7e117393172aae2d8a571e03ac9c9eb76fac45af8e51"
    "30c81c46a35ce411e5fbc1191a0a52eff69f2445df4f9b17ad2b417be66c3710"
)


@pytest.mark.parametrize(
    ("length", "mac"),
    [
        (0, "bb1d6929e95937287fa37d129b756746"),
        (16, "070a16b46b4d4144f79bdd9dd04a287c"),
        (40, "dfa66747de9ae63030ca32611497c827"),
        (64, "51f0bebf7e3b9d92fc49741779363cfe"),
    ],
)
def test_cmac(length: int, mac: str) -> None:
    assert cmac(KEY, MESSAGE[:length]).hex() == mac  # RFC 4493, section 4
