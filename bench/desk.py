"""The desk: many vouchers beside bare drawing and inserting, and a PDF of a thousand slips."""

import asyncio
import secrets
import sqlite3
import tempfile
import time
from pathlib import Path

from lauschen.acts.desk.issuing import issue_vouchers
from lauschen.beside.worker import Worker
from lauschen.core.actor import person
from lauschen.core.ids import BatchId, PlanId, StaffId
from lauschen.road.chance import SystemChance
from lauschen.road.clock import Clock
from lauschen.road.road import Road
from lauschen.serve.first_run import open_data
from lauschen.slips.pdf import Wanted, make_slips
from lauschen.store.batches import Said
from lauschen.store.config.settings import load_config
from lauschen.store.db import DATABASE_NAME
from lauschen.store.keys import KEY_NAME

VOUCHERS, SLIPS = 100_000, 1000
RUNS = 3


def bare(count: int) -> float:
    """Codes/s of nothing but random signs and one insert each, in transactions of a hundred."""
    with tempfile.TemporaryDirectory() as folder:
        conn = sqlite3.connect(Path(folder) / "bare.sqlite3", isolation_level=None)
        conn.execute("PRAGMA journal_mode = WAL")
        conn.execute("PRAGMA synchronous = FULL")
        conn.execute("CREATE TABLE code (id INTEGER PRIMARY KEY, code TEXT NOT NULL UNIQUE)")
        began = time.perf_counter()
        for _ in range(count // 100):
            conn.execute("BEGIN IMMEDIATE")
            drawn = [
                ("".join(secrets.choice("23456789ABCDEFGHJKLMNPQRTVWXY") for _ in range(10)),)
                for _ in range(100)
            ]
            conn.executemany("INSERT INTO code (code) VALUES (?)", drawn)
            conn.execute("COMMIT")
        took = time.perf_counter() - began
        conn.close()
        return count / took


async def issued(data: Path, count: int) -> tuple[float, float]:
    """Codes/s as the desk issues them, and the longest that the loop was held (seconds)."""
    conn, keys = open_data(data)
    clock = Clock()
    road = Road(conn, keys, load_config(conn, keys), clock, SystemChance(), fsync_s=0.0)
    worker = Worker()
    await worker.run(time.sleep, 0)
    began = time.perf_counter()
    await issue_vouchers(
        road, worker, data / KEY_NAME, plan=PlanId(1), size=count, said=Said("bench"), by=person(StaffId(1))
    )
    took = time.perf_counter() - began
    worker.close()
    longest = road.longest_hold_s
    road.close()
    return count / took, longest


def slips(data: Path) -> float:
    """Seconds for a PDF of a thousand, read and unsealed too."""
    began = time.perf_counter()
    _, count, _ = make_slips(
        data / DATABASE_NAME, data / KEY_NAME, Wanted(batch=_newest(data), at_most=SLIPS)
    )
    assert count == SLIPS
    return time.perf_counter() - began


def _newest(data: Path) -> BatchId:
    conn = sqlite3.connect(data / DATABASE_NAME)
    try:
        return BatchId(conn.execute("SELECT max(id) FROM batch").fetchone()[0])
    finally:
        conn.close()


def at_the_desk(data: Path, vouchers: int = VOUCHERS) -> None:
    """Prints the figures; both alternate in one run."""
    plain, ours, held = [], [], []
    for _ in range(RUNS):
        plain.append(bare(vouchers))
        rate, longest = asyncio.run(issued(data, vouchers))
        ours.append(rate)
        held.append(longest)
    rates = sorted(one / other for one, other in zip(ours, plain, strict=True))
    print(
        f"vouchers, {vouchers:,} at once: {sorted(ours)[RUNS // 2]:,.0f}/s, {rates[RUNS // 2]:.2f} of bare drawing"
        f" and inserting; the loop held {max(held) * 1000:.1f} ms at most"
    )
    took = sorted(slips(data) for _ in range(RUNS))
    print(f"a PDF of {SLIPS:,} slips: {took[RUNS // 2]:.2f} s")
