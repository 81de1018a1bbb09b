"""AES-128-CMAC (RFC 4493), which signs key frames of descriptor version 3 (IEEE 802.11-2020, 12.7.2)."""

from cryptography.hazmat.primitives.ciphers.algorithms import AES
from cryptography.hazmat.primitives.cmac import CMAC


def cmac(key: bytes, message: bytes) -> bytes:
    """16 octets."""
    signer = CMAC(AES(key))
    signer.update(message)
    return signer.finalize()
