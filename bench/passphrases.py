"""Which of ten thousand keys signed a handshake: beside two plain HMACs for each key, in the same run."""

import hmac
import random
import statistics
import time
from collections.abc import Callable

from lauschen.core.ids import Mac
from lauschen.core.passphrases.derive import KCK_LENGTH, PAIRWISE, pmk_of
from lauschen.core.passphrases.eapol import KeyFrame
from lauschen.core.passphrases.handshake import Handshake
from lauschen.core.passphrases.matching import find_key, prepare

KEYS, RUNS, FRAME = 10_000, 7, 121
DERIVED = 20


def match_keys() -> None:
    """The worst case: nobody's key, so every one is looked at."""
    chance = random.Random(12)
    frame = KeyFrame(2, 1, chance.randbytes(32), bytes(16), chance.randbytes(FRAME))
    handshake = Handshake(Mac(1), Mac(2), b"Hollerau Cloister", chance.randbytes(32), frame)
    pmks = [chance.randbytes(32) for _ in range(KEYS)]
    began = time.perf_counter()
    keys = [prepare(number, pmk) for number, pmk in enumerate(pmks)]
    prepared = time.perf_counter() - began
    ours, plain = [], []
    for _ in range(RUNS):
        plain.append(_seconds(lambda: _two_hmacs(pmks, handshake)))
        ours.append(_seconds(lambda: find_key(keys, handshake)))
    share, cold = statistics.median(ours) / statistics.median(plain), statistics.median(ours)
    warm = statistics.median(_seconds(lambda: find_key(keys[:1], handshake)) for _ in range(99))
    print(
        f"a handshake among {KEYS:,} keys: {share:.2f} of two HMACs for each, {cold * 1000:.1f} ms; where the"
        f" device's key is known {warm * 1e6:.0f} us; their states are made in {prepared * 1000:.0f} ms"
    )
    each = (
        _seconds(lambda: [pmk_of(f"passphrase {n}", b"Hollerau Cloister") for n in range(DERIVED)]) / DERIVED
    )
    print(f"a PMK is derived in {each * 1000:.1f} ms on one core")


def _two_hmacs(pmks: list[bytes], handshake: Handshake) -> bool:
    seed, frame = PAIRWISE + b"\0" + handshake.context + b"\0", handshake.frame
    for pmk in pmks:
        kck = hmac.digest(pmk, seed, "sha1")[:KCK_LENGTH]
        if hmac.digest(kck, frame.signed, "sha1")[:KCK_LENGTH] == frame.mic:
            return True
    return False


def _seconds(work: Callable[[], object]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began
