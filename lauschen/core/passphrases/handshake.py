"""One handshake of a station with an access point, and whether a PMK is the one that it was made with."""

import hmac
from dataclasses import dataclass

from lauschen.core.ids import Mac
from lauschen.core.passphrases.cmac import cmac
from lauschen.core.passphrases.derive import KCK_LENGTH, PAIRWISE, PTK_SHA256_BITS, kdf_sha256, prf
from lauschen.core.passphrases.eapol import MIC_LENGTH, KeyFrame


@dataclass(frozen=True, slots=True)
class Handshake:
    """What is known of it outside: never the key."""

    access_point: Mac
    """The BSSID."""
    station: Mac
    ssid: bytes
    nonce: bytes
    """Of the access point."""
    frame: KeyFrame

    @property
    def context(self) -> bytes:
        """Addresses and nonces, the smaller of each first (12.7.1.3)."""
        macs = sorted((self.access_point.to_bytes(6, "big"), self.station.to_bytes(6, "big")))
        return b"".join((*macs, *sorted((self.nonce, self.frame.nonce))))


def kck_of(pmk: bytes, handshake: Handshake) -> bytes:
    """The key that signs the handshake's messages."""
    if handshake.frame.version == 3:
        return kdf_sha256(pmk, PAIRWISE, handshake.context, PTK_SHA256_BITS)[:KCK_LENGTH]
    return prf(pmk, PAIRWISE, handshake.context, KCK_LENGTH)


def mic_of(kck: bytes, frame: KeyFrame) -> bytes:
    """By the frame's key descriptor version (12.7.2, table 12-11)."""
    if frame.version == 3:
        return cmac(kck, frame.signed)
    return hmac.digest(kck, frame.signed, "md5" if frame.version == 1 else "sha1")[:MIC_LENGTH]


def is_signed_by(pmk: bytes, handshake: Handshake) -> bool:
    """Whether the station had this key."""
    return hmac.compare_digest(mic_of(kck_of(pmk, handshake), handshake.frame), handshake.frame.mic)
