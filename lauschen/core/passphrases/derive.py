"""What is derived from a passphrase: the PMK, and the keys of one handshake (IEEE 802.11-2020, 12.7.1)."""

import hashlib
import hmac
from collections.abc import Sequence
from itertools import count

PMK_LENGTH, KCK_LENGTH = 32, 16
ROUNDS = 4096
PAIRWISE = b"Pairwise key expansion"
PTK_SHA256_BITS = 384
"""KCK, KEK and a 128-bit temporal key (CCMP, GCMP-128)."""


def pmk_of(passphrase: str, ssid: bytes) -> bytes:
    """PBKDF2 with HMAC-SHA1 over the network's name (J.4.1): 32 octets, and some milliseconds."""
    return hashlib.pbkdf2_hmac("sha1", passphrase.encode("ascii"), ssid, ROUNDS, PMK_LENGTH)


def pmks_of(passphrases: Sequence[str], ssid: bytes) -> list[bytes]:
    """Of several under one name, in their order."""
    return [pmk_of(one, ssid) for one in passphrases]


def prf(key: bytes, label: bytes, data: bytes, length: int) -> bytes:
    """The PRF over HMAC-SHA1 (12.7.1.2): `length` octets."""
    out = b""
    for number in count():
        if len(out) >= length:
            return out[:length]
        out += hmac.digest(key, label + b"\0" + data + bytes([number]), "sha1")
    raise AssertionError


def kdf_sha256(key: bytes, label: bytes, context: bytes, bits: int) -> bytes:
    """The KDF over HMAC-SHA-256 (12.7.1.6.2): `bits` / 8 octets."""
    out = b""
    for number in count(1):
        if len(out) * 8 >= bits:
            return out[: bits // 8]
        part = number.to_bytes(2, "little") + label + context + bits.to_bytes(2, "little")
        out += hmac.digest(key, part, "sha256")
    raise AssertionError
