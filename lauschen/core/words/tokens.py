"""The portal token: the signed fact that an access device asked for this MAC (rulings 6.1).

It is readable by neighbours on open air, so it speaks for the device only.
Layout: version 1, MAC 6, access device 3, network 2, expiry 4, HMAC-SHA-256 cut to 19 octets: 35 octets,
47 characters of unpadded base64url.
"""

import base64
import binascii
import hashlib
import hmac
import struct
from dataclasses import dataclass
from enum import StrEnum

from lauschen.core.ids import AccessDeviceId, Mac, NetworkId

TOKEN_CHARACTERS = 47
_VERSION = 1
_TAG_OCTETS = 19
_BODY = struct.Struct(">BHI3sHI")


class TokenFault(StrEnum):
    """Why a token is not believed."""

    MALFORMED = "malformed"
    FORGED = "forged"
    EXPIRED = "expired"


@dataclass(slots=True)
class PortalToken:
    """Who stands at the page. Not frozen: one is made for each answer at the door."""

    mac: Mac
    access_device: AccessDeviceId
    network: NetworkId
    expires: int
    """UTC epoch seconds."""


class TokenSigner:
    """Signs under one key; the states of HMAC that depend on it alone are kept (rulings 1.3)."""

    __slots__ = ("_inner", "_outer")

    def __init__(self, key: bytes) -> None:
        # RFC 2104: the two padded key blocks, hashed once.
        block = (hashlib.sha256(key).digest() if len(key) > 64 else key).ljust(64, b"\0")
        self._inner = hashlib.sha256(bytes(b ^ 0x36 for b in block))
        self._outer = hashlib.sha256(bytes(b ^ 0x5C for b in block))

    def sign(self, mac: int, access_device: int, network: int, expires: int) -> bytes:
        """47 characters, safe in an address."""
        body = _BODY.pack(
            _VERSION, mac >> 32, mac & 0xFFFFFFFF, access_device.to_bytes(3, "big"), network, expires
        )
        inner = self._inner.copy()
        inner.update(body)
        outer = self._outer.copy()
        outer.update(inner.digest())
        text = base64.b64encode(body + outer.digest()[:_TAG_OCTETS], b"-_")
        return text[:TOKEN_CHARACTERS]  # 35 octets leave one sign of padding


def sign_token(token: PortalToken, key: bytes) -> str:
    """47 characters, safe in an address."""
    return TokenSigner(key).sign(token.mac, token.access_device, token.network, token.expires).decode()


def read_token(unverified_text: str, key: bytes, now: float) -> PortalToken | TokenFault:
    """The token if it is ours and still good."""
    if len(unverified_text) != TOKEN_CHARACTERS or not unverified_text.isascii():
        return TokenFault.MALFORMED
    try:
        octets = base64.b64decode(unverified_text + "=", altchars=b"-_", validate=True)
    except binascii.Error:
        return TokenFault.MALFORMED
    body, tag = octets[: _BODY.size], octets[_BODY.size :]
    if not hmac.compare_digest(tag, _tag(body, key)):
        return TokenFault.FORGED
    version, high, low, device, network, expires = _BODY.unpack(body)
    if version != _VERSION:
        return TokenFault.MALFORMED
    if now >= expires:
        return TokenFault.EXPIRED
    return PortalToken(
        Mac((high << 32) | low),
        AccessDeviceId(int.from_bytes(device, "big")),
        NetworkId(network),
        expires,
    )


def _tag(body: bytes, key: bytes) -> bytes:
    return hmac.digest(key, body, hashlib.sha256)[:_TAG_OCTETS]
