"""EAPOL-Key frames: the second message of a four-way handshake, by which a station proves its key.

IEEE 802.11-2020, 12.7.2 and 12.7.6.3.
"""

from dataclasses import dataclass

from lauschen.core.errors import Invalid

EAPOL_KEY = 3
RSN, WPA = 2, 254
HEADER = 4
SHORTEST = 99
"""The header and a key frame without key data."""
LONGEST = 512
NONCE_LENGTH, MIC_LENGTH = 32, 16
_NONCE, _MIC, _DATA_LENGTH = 17, 81, 97
_VERSION, _PAIRWISE, _ACK, _HAS_MIC, _ERROR, _REQUEST = 0x0007, 0x0008, 0x0080, 0x0100, 0x0400, 0x0800


@dataclass(frozen=True, slots=True)
class KeyFrame:
    """The second message: what of it is signed, and how."""

    version: int
    """The key descriptor version: 1, HMAC-MD5; 2, HMAC-SHA1; 3, AES-128-CMAC."""
    replay: int
    nonce: bytes
    """Of the station."""
    mic: bytes
    signed: bytes
    """The whole frame with an empty MIC."""


def read_key_frame(octets: bytes) -> KeyFrame:
    """Invalid for what is no second message, however it is cut."""
    if not SHORTEST <= len(octets) <= LONGEST:
        raise _bad(f"{len(octets)} octets are no key frame")
    body = int.from_bytes(octets[2:HEADER], "big")
    if octets[1] != EAPOL_KEY or octets[4] not in (RSN, WPA):
        raise _bad("it is no EAPOL-Key frame")
    data = int.from_bytes(octets[_DATA_LENGTH:SHORTEST], "big")
    if body != len(octets) - HEADER or data != len(octets) - SHORTEST:
        raise _bad("its lengths are not those of its parts")
    info = int.from_bytes(octets[5:7], "big")
    if info & (_PAIRWISE | _HAS_MIC) != _PAIRWISE | _HAS_MIC or info & (_ACK | _ERROR | _REQUEST):
        raise _bad("it is not the second message of a handshake")
    version = info & _VERSION
    if version not in (1, 2, 3):
        raise _bad(f"key descriptor version {version} has no passphrase")
    nonce = octets[_NONCE : _NONCE + NONCE_LENGTH]
    if not any(nonce):
        raise _bad("it carries no nonce")
    return KeyFrame(
        version,
        int.from_bytes(octets[9:17], "big"),
        nonce,
        octets[_MIC : _MIC + MIC_LENGTH],
        octets[:_MIC] + bytes(MIC_LENGTH) + octets[_MIC + MIC_LENGTH :],
    )


def _bad(why: str) -> Invalid:
    return Invalid("key_frame", field="frame", mend=f"The station's frame cannot be read: {why}.")
