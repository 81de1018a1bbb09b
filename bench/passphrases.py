"""Which of ten thousand keys signed a handshake, beside two plain HMACs each; and issuing as many beside packets."""

import asyncio
import hmac
import itertools
import random
import statistics
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import httpx

from bench.load import Measured
from lauschen.core.errors import Unavailable
from lauschen.core.ids import AccessDeviceId, KeyId, Mac, NetworkId
from lauschen.core.passphrases.derive import KCK_LENGTH, PAIRWISE, pmk_of
from lauschen.core.passphrases.eapol import KeyFrame
from lauschen.core.passphrases.handshake import Handshake, kck_of, mic_of
from lauschen.core.passphrases.matching import find_key, prepare
from lauschen.core.ways.passphrase import Signed
from lauschen.demo.site import CLOISTER_SSID
from lauschen.proofs.handshakes import Handshakes
from lauschen.road.clock import Clock
from lauschen.serve.first_run import open_data
from lauschen.store.config.settings import load_config
from lauschen.store.db import DATABASE_NAME
from lauschen.store.keys import KEY_NAME
from lauschen.store.passphrases.keys import open_pmk, pmk_of_device

KEYS, RUNS, FRAME = 10_000, 7, 121
PAIRS, COLD, SEASON = 5, 9, 5
SSID = CLOISTER_SSID.encode()
DERIVED = 20
TICK_S = 0.001
HERE, THERE = AccessDeviceId(5), AccessDeviceId(6)
FLOOD_HZ, BESIDE, AGAIN_S = 40, 20, 0.25


def match_keys() -> None:
    """The worst case: nobody's key, so every one is looked at."""
    chance = random.Random(12)
    frame = KeyFrame(2, 1, chance.randbytes(32), bytes(16), chance.randbytes(FRAME))
    handshake = Handshake(Mac(1), Mac(2), SSID, chance.randbytes(32), frame)
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
        f"a handshake among {KEYS:,} keys in one process: {share:.2f} of two HMACs for each, {cold * 1000:.1f} ms;"
        f" where the device's key is known {warm * 1e6:.0f} us; their states are made in {prepared * 1000:.0f} ms"
    )
    each = _seconds(lambda: [pmk_of(f"passphrase {n}", SSID) for n in range(DERIVED)]) / DERIVED
    print(f"a PMK is derived in {each * 1000:.1f} ms on one core")


def issue_beside(web: httpx.Client, load: Callable[[random.Random], Measured]) -> None:
    """MAC answers while passphrases are issued, alternating with the same alone; then all of them, and how long."""
    chance, pairs = random.Random(23), []
    for number in range(PAIRS):
        load(chance)
        alone = load(chance).rate
        job = _begin(web, f"Bench {number}")
        load(chance)
        beside = load(chance).rate
        assert web.get(f"/api/jobs/{job}").json()["state"] == "running"
        web.post(f"/api/jobs/{job}/cancel")
        pairs.append(beside / alone)
    began = time.perf_counter()
    job = _begin(web, "Resident")
    while (state := web.get(f"/api/jobs/{job}").json())["state"] == "running":
        time.sleep(0.2)
    took = time.perf_counter() - began
    assert state["state"] == "done", state
    print(
        f"{KEYS:,} passphrases issued in {took:.1f} s ({KEYS / took:,.0f}/s); MAC answers keep"
        f" {statistics.median(pairs):.2f} of their rate meanwhile",
        flush=True,
    )


def _begin(web: httpx.Client, name: str) -> int:
    names = [f"{name} {number}" for number in range(KEYS)]
    answer = web.post(
        "/api/passphrases/many", json={"plan": SEASON, "kind": "room", "text": "\n".join(names)}
    )
    assert answer.status_code == 202, answer.text
    return int(answer.json()["id"])


async def ask_cold(data: Path) -> None:
    """As the server asks: by the processes that have them all, and how long the loop is held meanwhile."""
    conn, keys = open_data(data)
    house, clock = load_config(conn, keys), Clock()

    def had(mac: Mac, network: NetworkId, ssid: bytes) -> tuple[KeyId, bytes] | None:
        return pmk_of_device(conn, keys, mac, network, ssid)

    prover = Handshakes(lambda: house, data / DATABASE_NAME, data / KEY_NAME, clock.monotonic, had)
    await prover.begin()
    (count,) = conn.execute("SELECT count(*) FROM passphrase_key").fetchone()
    chance, took, held = random.Random(5), [], 0.0
    for number in range(COLD):
        asked = _signed(chance, Mac(0x020000000000 + number), bytes(32))
        assert prover.waits(asked)
        task, last = asyncio.ensure_future(_timed(prover, asked)), time.thread_time()
        while not task.done():
            await asyncio.sleep(TICK_S)
            now = time.thread_time()  # not what the system gives to others meanwhile
            held, last = max(held, now - last), now
        took.append(task.result())
    pmks, shake = [chance.randbytes(32) for _ in range(count)], _signed(chance, Mac(2), bytes(32)).handshake
    plain = statistics.median(_seconds(lambda: _two_hmacs(pmks, shake)) for _ in range(RUNS))
    row = conn.execute("SELECT id, pmk_sealed FROM passphrase_key LIMIT 1").fetchone()
    pmk = open_pmk(keys, row[1], row[0])
    await prover(_signed(chance, Mac(1), pmk))
    warm = []
    for _ in range(99):
        asked = _signed(chance, Mac(1), pmk)
        began = time.perf_counter()
        assert not prover.waits(asked)
        warm.append(time.perf_counter() - began)
    cold = statistics.median(took)
    print(
        f"a handshake among {count:,} stored keys, nobody's: {cold * 1000:.0f} ms, {cold / plain:.2f} of two HMACs"
        f" for each; the loop held {held * 1000:.1f} ms at most; of a device that was seen"
        f" {statistics.median(warm) * 1e6:.0f} us",
        flush=True,
    )
    await _flood(prover, chance, pmk)
    prover.close()
    conn.close()


async def _flood(prover: Handshakes, chance: random.Random, pmk: bytes) -> None:
    """One access device passes on wrong handshakes, with a new address each, beside right ones of new devices."""
    addresses = map(Mac, itertools.count(0x060000000000))

    async def send_wrong() -> None:
        sent = set[asyncio.Task[bool]]()
        while True:
            asked = _signed(chance, next(addresses), bytes(32))
            assert prover.waits(asked)
            sent.add(asyncio.create_task(_is_answered(prover, asked)))
            await asyncio.sleep(1 / FLOOD_HZ)

    flood = asyncio.create_task(send_wrong())
    await asyncio.sleep(1)
    took: dict[AccessDeviceId, list[float]] = {THERE: [], HERE: []}
    for where, waits in took.items():
        for _ in range(BESIDE):
            began, station = time.perf_counter(), next(addresses)
            while prover.waits(asked := _signed(chance, station, pmk, where)):
                if not await _is_answered(prover, asked):
                    await asyncio.sleep(AGAIN_S)
            waits.append(time.perf_counter() - began)
    flood.cancel()
    print(
        f"beside {FLOOD_HZ} wrong handshakes a second of one access device, with a new address each, a new device is"
        f" known at another one after {_waits(took[THERE])}, at that one after {_waits(took[HERE])}",
        flush=True,
    )


def _waits(seconds: list[float]) -> str:
    return f"{statistics.median(seconds) * 1000:.0f} ms (at most {max(seconds):.1f} s)"


async def _is_answered(prover: Handshakes, asked: Signed) -> bool:
    try:
        await prover(asked)
    except Unavailable:
        return False
    return True


async def _timed(prover: Handshakes, asked: Signed) -> float:
    began = time.perf_counter()
    await prover(asked)
    return time.perf_counter() - began


def _signed(chance: random.Random, station: Mac, pmk: bytes, at: AccessDeviceId = HERE) -> Signed:
    unsigned = KeyFrame(2, 1, chance.randbytes(32), bytes(16), chance.randbytes(FRAME))
    shake = Handshake(Mac(1), station, SSID, chance.randbytes(32), unsigned)
    frame = replace(unsigned, mic=mic_of(kck_of(pmk, shake), unsigned))
    return Signed(replace(shake, frame=frame), at)


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
