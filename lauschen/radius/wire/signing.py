"""Authenticators, Message-Authenticator and hidden passwords, under one shared secret.

MD5 is what the RFCs prescribe. States that depend on the secret alone are kept and copied (rulings 1.3).
"""

import hashlib
import hmac
from collections.abc import Callable
from functools import partial
from importlib import import_module
from typing import Any, cast

from lauschen.radius.wire.codec import HEADER_OCTETS, Packet, encode_header
from lauschen.radius.wire.numbers import Code


def _fastest_md5() -> Callable[[bytes], Any]:
    """The interpreter's own MD5 where it is built in: half the price of asking OpenSSL for each packet."""
    try:
        return cast(Callable[[bytes], Any], import_module("_md5").md5)
    except ImportError:
        return partial(hashlib.md5, usedforsecurity=False)


_md5 = _fastest_md5()
_ZEROS = bytes(16)
_UNSIGNED = bytes((80, 18)) + _ZEROS
_BLOCK = 64
LONGEST_SALTED = 239
"""Octets: one attribute holds a tag, a salt and fifteen blocks, the first octet being the length."""


class Secret:
    """One shared secret, and everything that is computed under it."""

    __slots__ = ("_hiding", "_inner", "_outer", "octets")

    def __init__(self, octets: bytes) -> None:
        self.octets = octets
        self._hiding = _md5(octets)
        # RFC 2104: the two padded key blocks, hashed once.
        key = (_md5(octets).digest() if len(octets) > _BLOCK else octets).ljust(_BLOCK, b"\0")
        self._inner = _md5(bytes(b ^ 0x36 for b in key))
        self._outer = _md5(bytes(b ^ 0x5C for b in key))

    def hmac_md5(self, *parts: bytes) -> bytes:
        inner = self._inner.copy()
        for part in parts:
            inner.update(part)
        outer = self._outer.copy()
        outer.update(inner.digest())
        digest: bytes = outer.digest()
        return digest

    def is_signed(self, packet: Packet) -> bool:
        """True when the Message-Authenticator of a received Access-Request or Status-Server is right.

        RFC 3579 section 3.2.
        """
        at, octets = packet.signed_at, packet.octets
        right = self.hmac_md5(octets[:at], _ZEROS, octets[at + 16 :])
        return hmac.compare_digest(right, octets[at : at + 16])

    def is_accounting(self, packet: Packet) -> bool:
        """True when the request authenticator of an Accounting-Request is right (RFC 2866 section 3)."""
        octets = packet.octets
        digest = _md5(octets[:4] + _ZEROS + octets[HEADER_OCTETS:] + self.octets).digest()
        return hmac.compare_digest(digest, packet.authenticator)

    def reply(self, code: int, request: Packet, attributes: bytes, *, signed: bool = True) -> bytes:
        """A reply as octets, the Message-Authenticator first (rulings 3.1), then the response authenticator.

        RFC 2865 section 3 and RFC 3579 section 3.2.
        """
        if signed:
            header = encode_header(code, request.id, 38 + len(attributes), request.authenticator)
            mark = self.hmac_md5(header, _UNSIGNED, attributes)
            body = b"\x50\x12" + mark + attributes
        else:
            header = encode_header(code, request.id, HEADER_OCTETS + len(attributes), request.authenticator)
            body = attributes
        digest: bytes = _md5(header + body + self.octets).digest()
        return header[:4] + digest + body

    def is_reply_to(self, reply: Packet, request_authenticator: bytes) -> bool:
        """True when a reply to a request of ours is genuine; its Message-Authenticator is checked if present."""
        octets = reply.octets
        body = octets[HEADER_OCTETS:]
        right = _md5(octets[:4] + request_authenticator + body + self.octets).digest()
        if not hmac.compare_digest(right, reply.authenticator):
            return False
        if not reply.signed_at:
            return True
        at = reply.signed_at
        mark = self.hmac_md5(octets[:4], request_authenticator, octets[20:at], _ZEROS, octets[at + 16 :])
        return hmac.compare_digest(mark, octets[at : at + 16])

    def change_request(self, code: Code, packet_id: int, attributes: bytes, *, signed: bool = True) -> bytes:
        """A CoA- or Disconnect-Request: first the Message-Authenticator, then the request authenticator.

        RFC 5176 section 2.3: both computed with the authenticator as zeros.
        """
        header = encode_header(code, packet_id, (38 if signed else HEADER_OCTETS) + len(attributes), _ZEROS)
        body = attributes
        if signed:
            body = b"\x50\x12" + self.hmac_md5(header, _UNSIGNED, attributes) + attributes
        digest: bytes = _md5(header + body + self.octets).digest()
        return header[:4] + digest + body

    def is_change_request(self, packet: Packet) -> bool:
        """The access device's side of `change_request`."""
        octets, at = packet.octets, packet.signed_at
        if not self.is_accounting(packet):  # the same rule: zeros in place of the authenticator
            return False
        if not at:
            return True
        mark = self.hmac_md5(octets[:4], _ZEROS, octets[20:at], _ZEROS, octets[at + 16 :])
        return hmac.compare_digest(mark, octets[at : at + 16])

    def access_request(self, packet_id: int, authenticator: bytes, attributes: bytes, code: int = 1) -> bytes:
        """A signed Access-Request or Status-Server, as an access device sends it."""
        header = encode_header(code, packet_id, 38 + len(attributes), authenticator)
        return header + b"\x50\x12" + self.hmac_md5(header, _UNSIGNED, attributes) + attributes

    def accounting_request(self, packet_id: int, attributes: bytes) -> bytes:
        """An Accounting-Request, as an access device sends it (RFC 2866 section 3)."""
        length = HEADER_OCTETS + len(attributes)
        header = encode_header(Code.ACCOUNTING_REQUEST, packet_id, length, _ZEROS)
        digest: bytes = _md5(header + attributes + self.octets).digest()
        return header[:4] + digest + attributes

    def hide(self, password: bytes, authenticator: bytes) -> bytes:
        """User-Password on the wire (RFC 2865 section 5.2)."""
        padded = password.ljust(max(16, -(-len(password) // 16) * 16), b"\0")
        hidden, before = b"", authenticator
        for at in range(0, len(padded), 16):
            before = _xor(padded[at : at + 16], self._pad(before))
            hidden += before
        return hidden

    def reveal(self, hidden: bytes, authenticator: bytes) -> bytes | None:
        """The password, or None when the length is none that RFC 2865 section 5.2 allows."""
        if not 16 <= len(hidden) <= 128 or len(hidden) % 16:
            return None
        plain, before = b"", authenticator
        for at in range(0, len(hidden), 16):
            block = hidden[at : at + 16]
            plain += _xor(block, self._pad(before))
            before = block
        return plain.rstrip(b"\0")

    def salt_hide(self, plain: bytes, authenticator: bytes, salt: bytes) -> bytes:
        """Salt and hidden octets of a Tunnel-Password (RFC 2868 section 3.5), without tag.

        `salt` is two octets with the top bit set, different for each in a packet.
        """
        if len(salt) != 2 or not salt[0] & 0x80:
            raise ValueError("a salt is two octets with its top bit set")
        if len(plain) > LONGEST_SALTED:
            raise ValueError(f"{len(plain)} octets, at most {LONGEST_SALTED}")
        padded = bytes((len(plain),)) + plain
        padded = padded.ljust(-(-len(padded) // 16) * 16, b"\0")
        hidden, before = b"", authenticator + salt
        for at in range(0, len(padded), 16):
            before = _xor(padded[at : at + 16], self._pad(before))
            hidden += before
        return salt + hidden

    def salt_reveal(self, value: bytes, authenticator: bytes) -> bytes | None:
        """The way back; None when the octets are none that `salt_hide` could have made under this secret."""
        salt, hidden = value[:2], value[2:]
        if not hidden or len(hidden) % 16:
            return None
        plain, before = b"", authenticator + salt
        for at in range(0, len(hidden), 16):
            block = hidden[at : at + 16]
            plain += _xor(block, self._pad(before))
            before = block
        return plain[1 : 1 + plain[0]] if plain[0] < len(plain) else None

    def _pad(self, octets: bytes) -> bytes:
        state = self._hiding.copy()
        state.update(octets)
        digest: bytes = state.digest()
        return digest


def chap(identifier: int, password: str, challenge: bytes) -> bytes:
    """CHAP-Password as an access device makes it (RFC 2865 section 5.3)."""
    first = bytes((identifier,))
    digest: bytes = _md5(first + password.encode() + challenge).digest()
    return first + digest


def chap_matches(chap_password: bytes, challenge: bytes, password: bytes) -> bool:
    """RFC 2865 section 5.3: one octet of identifier, then MD5(identifier, password, challenge)."""
    if len(chap_password) != 17:
        return False
    right = _md5(chap_password[:1] + password + challenge).digest()
    return hmac.compare_digest(right, chap_password[1:])


def _xor(left: bytes, right: bytes) -> bytes:
    return (int.from_bytes(left, "big") ^ int.from_bytes(right, "big")).to_bytes(len(left), "big")
