"""A house after a busy summer, for measuring and for looking at long lists: batches, guests, stays and log."""

import random
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from sqlite3 import Connection
from typing import Any
from zoneinfo import ZoneInfo

from lauschen.acts.desk.issuing import prepare_codes
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.ids import Mac, PlanId, RoleId, StaffId
from lauschen.core.limits.day import day_of
from lauschen.core.limits.terms import AS_PLAN
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.mac import spell_mac
from lauschen.demo import site
from lauschen.store import batches, credentials
from lauschen.store.batches import Said
from lauschen.store.bulk import past
from lauschen.store.db import DATABASE_NAME, atomic, open_writer
from lauschen.store.keys import KEY_NAME

DAY_S = 86_400.0
LOG_S, STAYS_S, ISSUED_S = 29 * DAY_S, 170 * DAY_S, 60 * DAY_S
FIRST_MAC = 0x06_99_00_00_00_00
NETWORK, PLAN, STAFF = 1, PlanId(1), StaffId(1)
PLACES = (1, 2)
"""Access points of the Garden."""
KINDS = ("page_opened", "stay_began")


@dataclass(frozen=True, slots=True)
class Size:
    """How much of each; every device has its share of stays and log entries."""

    codes: int = 200_000
    batch: int = 10_000
    devices: int = 50_000
    inside: int = 5000
    stays: int = 1_000_000
    entries: int = 1_000_000


SUMMER = Size()


def fill(data: Path, now: float, size: Size = SUMMER) -> None:
    """Into the demo's site, before anything is started with it; the last of it happened a moment before `now`."""
    conn = open_writer(data / DATABASE_NAME)
    try:
        _codes(conn, data / KEY_NAME, now, size)
        role = past.first_guest_role(conn)
        for into, rows in _tables(size, role, now):
            past.add_all(conn, into, rows)
        past.count_used(conn)
    finally:
        conn.close()


def _codes(conn: Connection, key_file: Path, now: float, size: Size) -> None:
    chance = random.Random(7)
    for begun in range(0, size.codes, size.batch):
        count = min(size.batch, size.codes - begun)
        label = (
            f"{chance.choice(site.FIRST_NAMES)} {chance.choice(site.LAST_NAMES)}, {begun // size.batch + 1}"
        )
        at = now - ISSUED_S * (1 - begun / size.codes)
        with atomic(conn):
            batch = batches.add_batch(conn, plan=PLAN, size=count, said=Said(label), now=at, by=STAFF)
            prepared = prepare_codes(key_file, credentials.reserve(conn, count), count)
            credentials.add_prepared(
                conn, prepared, way=WayIn.VOUCHER, plan=PLAN, batch=batch, now=at, terms=AS_PLAN
            )
            batches.make_valid(conn, batch)


def _tables(size: Size, role: RoleId, now: float) -> Iterator[tuple[str, Iterator[tuple[Any, ...]]]]:
    """Device n has the nth code, allowance and admission; the first of them are inside."""
    devices = range(1, size.devices + 1)
    yield (
        past.DEVICES,
        ((FIRST_MAC + n, now - STAYS_S) for n in devices),
    )
    yield (
        past.ALLOWANCES,
        ((n, n, _begun(n, size, now), n * 7919 % 1_900_000_000) for n in devices),
    )
    yield (
        past.ADMISSIONS,
        (
            (n, FIRST_MAC + n, NETWORK, n, f"large-{n}", _begun(n, size, now), *_ended(n, size, now), None)
            for n in devices
        ),
    )
    yield _standings(size, role, now)
    yield _stays(size, now)
    yield _decisions(size, role, now)
    yield (
        past.EVENTS,
        (
            (id, _logged(id, size, now), KINDS[id // 2 % 2], FIRST_MAC + n, NETWORK, _place(n))
            for id, n in ((2 * k + 1, k % size.devices + 1) for k in range(size.entries // 2))
        ),
    )


def _begun(n: int, size: Size, now: float) -> float:
    """Of whoever is inside in the last hours, of the others in the days before."""
    return now - 3 * 3600 * n / size.inside if n <= size.inside else now - DAY_S * (1 + n % 28)


def _ended(n: int, size: Size, now: float) -> tuple[float | None, str | None]:
    return (None, None) if n <= size.inside else (_begun(n, size, now) + 3600, Reason.TIME_USED_UP)


def _place(n: int) -> int:
    return PLACES[n % len(PLACES)]


def _logged(id: int, size: Size, now: float) -> float:
    return now - LOG_S * (1 - id / (size.entries + 2))


def _standings(size: Size, role: RoleId, now: float) -> tuple[str, Iterator[tuple[Any, ...]]]:
    last = (size.entries // 2 - 1) // size.devices

    def rows() -> Iterator[tuple[Any, ...]]:
        for n in range(1, size.devices + 1):
            is_in, mac = n <= size.inside, Mac(FIRST_MAC + n)
            yield (
                mac, NETWORK, State.INSIDE if is_in else State.LEFT,
                _begun(n, size, now) + (0 if is_in else 3600), _place(n), f"large-{n}", spell_mac(mac),
                role if is_in else None, _address(n) if is_in else None, now, n if is_in else None,
                _decision(last, n, size) if last >= 0 else None,
            )  # fmt: skip

    return (
        past.STANDINGS,
        rows(),
    )


def _address(n: int) -> str:
    return f"127.78.{n // 250}.{n % 250 + 1}"


def _stays(size: Size, now: float) -> tuple[str, Iterator[tuple[Any, ...]]]:
    each, day = size.stays // size.devices, day_of(now, ZoneInfo(site.ZONE)).number

    def rows() -> Iterator[tuple[Any, ...]]:
        for k in range(each):
            for n in range(1, size.devices + 1):
                is_open = k == each - 1 and n <= size.inside
                began = _begun(n, size, now) if is_open else now - STAYS_S * (1 - k / each) - DAY_S
                yield (
                    FIRST_MAC + n, NETWORK, _place(n), f"large-{n}" if is_open else f"large-{n}-{k}", began,
                    now if is_open else began + 1800, n * 31 % 9_000_000, n * 977 % 90_000_000,
                    None if is_open else began + 1800, *(_now(n, day) if is_open else (0, 0, 0)),
                )  # fmt: skip

    return (
        past.STAYS,
        rows(),
    )


def _now(n: int, day: int) -> tuple[int, int, int]:
    """How fast the open stay of device n is, and what it used today."""
    return n * 613 % 400_000, day, n * 7919 % 300_000_000


def _decision(k: int, n: int, size: Size) -> int:
    """The id of the kth decision of device n: even, as events have the odd ones."""
    return 2 * (k * size.devices + n)


def _decisions(size: Size, role: RoleId, now: float) -> tuple[str, Iterator[tuple[Any, ...]]]:
    each = size.entries // 2 // size.devices

    def rows() -> Iterator[tuple[Any, ...]]:
        for k in range(each):
            for n in range(1, size.devices + 1):
                id = _decision(k, n, size)
                yield (
                    id, _logged(id, size, now), FIRST_MAC + n, NETWORK, _place(n), "mac", "admit", Reason.ADMITTED,
                    role, "[]", _decision(k - 1, n, size) if k else None,
                )  # fmt: skip

    return (
        past.DECISIONS,
        rows(),
    )
