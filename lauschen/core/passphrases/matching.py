"""Which of many keys signed a handshake. What does not depend on the handshake is done once for each key.

An HMAC begins by hashing its key with two pads. For a PMK both are the same in every handshake, so their states are
kept (`hashlib` objects, copied); of the key that signs the frame nothing is known before. What else was tried is in
docs/performance.md.
"""

import hashlib
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from lauschen.core.passphrases.derive import KCK_LENGTH, PAIRWISE
from lauschen.core.passphrases.eapol import MIC_LENGTH
from lauschen.core.passphrases.handshake import Handshake, is_signed_by

_BLOCK = 64
_INNER = bytes(value ^ 0x36 for value in range(256))
_OUTER = bytes(value ^ 0x5C for value in range(256))
_INNER_REST, _OUTER_REST = b"\x36" * (_BLOCK - KCK_LENGTH), b"\x5c" * (_BLOCK - KCK_LENGTH)


@dataclass(frozen=True, slots=True)
class Prepared:
    """A PMK whose pads are hashed already."""

    key: int
    """Whose it is."""
    pmk: bytes
    inner: Any
    outer: Any


def prepare(key: int, pmk: bytes) -> Prepared:
    block = pmk.ljust(_BLOCK, b"\0")
    # What IEEE 802.11 signs with; no collision helps anybody here.
    return Prepared(key, pmk, hashlib.sha1(block.translate(_INNER)), hashlib.sha1(block.translate(_OUTER)))  # noqa: S324


def find_key(keys: Iterable[Prepared], handshake: Handshake) -> Prepared | None:
    """The one whose PMK signed it; None when none did."""
    if handshake.frame.version == 3:
        return next((one for one in keys if is_signed_by(one.pmk, handshake)), None)
    seed = PAIRWISE + b"\0" + handshake.context + b"\0"
    signed, mic = handshake.frame.signed, handshake.frame.mic
    digest = hashlib.sha1 if handshake.frame.version == 2 else hashlib.md5
    for one in keys:
        inner = one.inner.copy()
        inner.update(seed)
        outer = one.outer.copy()
        outer.update(inner.digest())
        kck = outer.digest()[:KCK_LENGTH]
        within = digest(kck.translate(_INNER) + _INNER_REST + signed).digest()
        found = digest(kck.translate(_OUTER) + _OUTER_REST + within).digest()
        if found[:MIC_LENGTH] == mic:
            return one
    return None
