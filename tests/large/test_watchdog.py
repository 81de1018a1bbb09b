"""No callback computes for longer than 20 ms in a house after a busy year, with 5,000 inside and a million stays.

Processor time of the loop's thread is counted, so waiting for the disk in COMMIT is none. Two things that a busy host
does to a virtual machine are taken off: processor time that it stole meanwhile, and its slower pace in some minutes.
"""

import asyncio
import gc
import hashlib
import os
import threading
import time
from asyncio import events
from collections.abc import Awaitable, Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from math import inf
from pathlib import Path

import httpx
import pytest

from lauschen.acts.config.configuring import configured
from lauschen.acts.config.pauses import end_pause, pause_network
from lauschen.acts.config.plans import save_plan
from lauschen.core.actor import person
from lauschen.core.ids import Mac, NetworkId, PlanId, StaffId
from lauschen.core.words.mac import spell_mac
from lauschen.demo import site
from lauschen.demo.large import FIRST_MAC, SUMMER
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.numbers import Kind, ServiceType, StatusType
from lauschen.radius.wire.signing import Secret
from lauschen.road.clock import MovableClock
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.serve import rounds
from lauschen.serve.service import Options, Service

LONGEST_S = 0.020
OUTLIERS, WORST_S = 20, 0.25
"""So many longer ones in a phase of thousands are the machine's own pauses, if none is this long."""
PMK_S, SLOWEST = 0.0025, 4.0
"""What deriving one key takes on the machine that the limits are for, and how much slower one may be."""
PATIENCE_S = 240.0
SECRET = Secret(site.SECRET)
GARDEN, PLAN, BY = NetworkId(1), PlanId(1), person(StaffId(1))
ROOMS = (
    "now", "guests", "guests?find=77", "guests?sort=used", "desk", "networks", "rules", "passphrases", "people",
    "settings", "log", "messages", "hosts",
)  # fmt: skip
READS = 6


@contextmanager
def watched(what: str, outliers: int = OUTLIERS) -> Iterator[None]:
    """Fails when callbacks hold the loop; the collector's time is not theirs (serve keeps it away)."""
    run, here, held = events.Handle._run, threading.get_ident(), list[tuple[float, str]]()
    pace = slowness()

    def timed(handle: events.Handle) -> None:
        if threading.get_ident() != here:
            run(handle)
            return
        began, stolen = time.thread_time(), stolen_s()
        run(handle)
        took = time.thread_time() - began
        if took > LONGEST_S * pace:
            took -= stolen_s() - stolen
        if took > LONGEST_S * pace and "test_watchdog" not in (whose := name_of(handle)):
            held.append((took, whose))

    gc.collect()
    gc.disable()
    try:
        with pytest.MonkeyPatch.context() as patched:
            patched.setattr(events.Handle, "_run", timed)
            yield
    finally:
        gc.enable()
    held.sort(reverse=True)
    assert len(held) <= outliers, f"{what}: {held[:9]}"
    assert not held or held[0][0] < WORST_S * pace, f"{what}: {held}"


def slowness() -> float:
    """How many times slower than usual this machine computes just now."""
    took = []
    for _ in range(9):
        began = time.thread_time()
        hashlib.pbkdf2_hmac("sha1", b"vase-trumpet-elbow-9", b"Hollerau", 4096, 32)
        took.append(time.thread_time() - began)
    return min(SLOWEST, max(1.0, sorted(took)[4] / PMK_S))


def stolen_s() -> float:
    """Seconds that the host of a virtual machine took from its processors; 0 where nobody counts them."""
    try:
        counts = Path("/proc/stat").read_text("ascii").split("\n", 1)[0].split()
    except OSError:
        return 0.0
    return int(counts[8]) / os.sysconf("SC_CLK_TCK")


def name_of(handle: events.Handle) -> str:
    task = getattr(handle._callback, "__self__", None)
    return repr(task.get_coro()) if isinstance(task, asyncio.Task) else repr(handle)


def who(number: int) -> bytes:
    mac = spell_mac(Mac(FIRST_MAC + number))
    called = a.text(Kind.CALLED_STATION_ID, f"02-77-00-00-00-11:{site.SSID}")
    return a.text(Kind.CALLING_STATION_ID, mac) + called + a.text(Kind.ACCT_SESSION_ID, f"large-{number}")


def request(number: int) -> bytes:
    body = who(number) + a.integer(Kind.SERVICE_TYPE, ServiceType.CALL_CHECK)
    return SECRET.access_request(number & 0xFF, os.urandom(16), body)


def report(number: int) -> bytes:
    said = a.integer(Kind.ACCT_STATUS_TYPE, StatusType.INTERIM_UPDATE) + a.integer(
        Kind.ACCT_SESSION_TIME, 11_000
    )
    body = who(number) + said + a.integer(Kind.ACCT_OUTPUT_OCTETS, 95_000_000 + number)
    return SECRET.accounting_request(
        number & 0xFF, body + a.text(Kind.NAS_IDENTIFIER, f"place-{1 + number % 2}")
    )


async def until(service: Service, is_so: Callable[[], bool]) -> None:
    async with asyncio.timeout(PATIENCE_S):
        while not is_so():  # noqa: ASYNC110 - what is looked at is in the database
            await asyncio.sleep(0.1)


def count(service: Service, sql: str) -> int:
    return int(service.reader.execute(sql).fetchone()[0])


async def mass_work_done(service: Service) -> None:
    await until(service, lambda: count(service, "SELECT count(*) FROM intent") == 0)


async def pass_time(clock: MovableClock, seconds: float, times: int) -> None:
    for _ in range(times):
        clock.advance(seconds)
        await asyncio.sleep(0.1)


async def packets(service: Service) -> None:
    for number in range(1, 400):
        known = number * 7 % SUMMER.inside + 1 if number % 2 else SUMMER.inside * 2 + number
        service._radius[0]._take(request(known), ("127.77.0.11", 4000 + number))
        inside = number * 11 % SUMMER.inside + 1
        service._radius[1]._take(report(inside), (f"127.77.0.{11 + inside % 2}", 5000 + number))
        await asyncio.sleep(0.001)


async def look_at_rooms(service: Service) -> None:
    base = f"http://127.0.0.1:{service.ports['staff']}"
    async with httpx.AsyncClient(base_url=base, timeout=PATIENCE_S) as web:
        await web.post("/api/session", json={"name": site.STAFF_NAME, "password": site.STAFF_PASSWORD})
        numbers = (3, SUMMER.inside - 3, SUMMER.inside + 3, SUMMER.devices - 3)
        dossiers = [f"guests/{FIRST_MAC + number:012x}/1" for number in numbers]
        for path in (*ROOMS, *dossiers):
            await best(path, lambda path=path: look(web, path))  # type: ignore[misc]


async def look(web: httpx.AsyncClient, path: str) -> None:
    answer = await web.get(f"/api/{path}")
    if answer.status_code != 200:
        raise LookupError(path, answer.text)


async def best(what: str, work: Callable[[], Awaitable[None]], outliers: int = 0) -> None:
    """What is read for the first time comes from the disk: the best of some is what it costs."""
    for number in range(READS):
        try:
            with watched(what, outliers):
                await work()
            return
        except AssertionError:
            if number == READS - 1:
                raise


async def test_nothing_holds_the_loop(year: tuple[Path, float], monkeypatch: pytest.MonkeyPatch) -> None:
    data, now = year
    monkeypatch.setattr(rounds, "COLLECT_S", inf)  # garbage is collected whole, in an idle second
    options = Options(data, ("127.0.0.1", 0), ("127.0.0.1", 0), "127.0.0.1", 0, 0, warms_up=True)
    service = Service(options, MovableClock(now + 1))
    await service.start()
    road, clock = service.road, service.clock
    assert isinstance(clock, MovableClock)
    try:
        await best("sweeps", lambda: pass_time(clock, 2, 10), outliers=2)
        await best("packets", lambda: packets(service), outliers=5)
        await look_at_rooms(service)
        with watched("a plan is changed"):
            await change(road, lambda tx: save_plan(tx, replace(tx.config.plans[PLAN], seconds=9 * 3600)))
            await mass_work_done(service)
        with watched("a network is paused"):
            await change(road, lambda tx: pause_network(tx, GARDEN, until=None, why="", ends_stays=True))
            await mass_work_done(service)
            await change(road, lambda tx: end_pause(tx, GARDEN))
            await mass_work_done(service)
        with watched("an access point of half of them began anew"):
            on = a.integer(Kind.ACCT_STATUS_TYPE, StatusType.ON) + a.text(Kind.NAS_IDENTIFIER, "place-2")
            service._radius[1]._take(SECRET.accounting_request(7, on), ("127.77.0.12", 4999))
            await until(
                service, lambda: count(service, "SELECT count(*) FROM intent") > 0 or closed(service) > 0
            )
            await mass_work_done(service)
        assert closed(service) > SUMMER.inside * 0.4
        with watched("the time of all is over"):
            clock.advance(12 * 3600)
            due = f"SELECT count(*) FROM standing WHERE reconsider_at < {clock.now()} AND state <> 'left'"
            await until(service, lambda: count(service, due) == 0)
        with watched("retention"):
            await pass_time(clock, 3, 30)
    finally:
        await service.close()


def closed(service: Service) -> int:
    return count(
        service,
        "SELECT coalesce(max(json_extract(facts, '$.closed')), 0) FROM event WHERE kind = 'device_on'",
    )


async def change(road: Road, act: Callable[[Tx], object]) -> None:
    await road.act(configured(act), by=BY)
