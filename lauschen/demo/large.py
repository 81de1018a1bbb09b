"""A house after a busy summer, for measuring and for looking at long lists: batches, guests, stays and log."""

import random
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from sqlite3 import Connection
from typing import Any
from zoneinfo import ZoneInfo

from lauschen.acts.desk.issuing import prepare_codes
from lauschen.core.decide.arrival import Medium
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.decide.trace import (
    BarsLine,
    CredentialLine,
    DeviceLine,
    LimitsLine,
    NetworkLine,
    Step,
    write_trace,
)
from lauschen.core.decide.wanted import ANSWER
from lauschen.core.ids import CredentialId, Mac, NetworkId, PlanId, RoleId, StaffId
from lauschen.core.limits.day import day_of
from lauschen.core.limits.terms import AS_PLAN
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.mac import spell_mac
from lauschen.demo import site
from lauschen.demo.year import agreed, around, asked, letters, registered, residents
from lauschen.store import batches, credentials
from lauschen.store.batches import Said
from lauschen.store.bulk import past
from lauschen.store.db import DATABASE_NAME, atomic, open_writer
from lauschen.store.keys import KEY_NAME, read_key_file

DAY_S = 86_400.0
LOG_S, STAYS_S, ISSUED_S = 29 * DAY_S, 170 * DAY_S, 60 * DAY_S
FIRST_MAC = 0x06_99_00_00_00_00
NETWORK, PLAN, STAFF = 1, PlanId(1), StaffId(1)
PLACES = (1, 2)
"""Access points of the Garden."""
KINDS = ("page_opened", "stay_ended")
DOOR = 1
ON_THE_WAY_OUT = 20
"""Devices that should be out, and whose access device does not answer."""
"""The role before login."""
_TRACE = write_trace(
    [
        NetworkLine(Step.NETWORK, "ssid", NetworkId(NETWORK)), DeviceLine(Step.DEVICE, "known", 1, Medium.ASKED),
        BarsLine(Step.BARS, "none"),
        CredentialLine(Step.CREDENTIAL, "admitted", CredentialId(1), None, WayIn.VOUCHER),
        LimitsLine(Step.LIMITS, "time", PLAN, 28_800, None, None, "left"),
    ]
)  # fmt: skip
_HINTS = '{"ssid":"Hollerau Garden","source":"127.77.0.11"}'


@dataclass(frozen=True, slots=True)
class Size:
    """How much of each; every device has its share of admissions, stays and log entries."""

    codes: int = 200_000
    batch: int = 10_000
    devices: int = 50_000
    inside: int = 5000
    stays: int = 1_000_000
    entries: int = 1_000_000
    messages: int = 20_000
    holders: int = 2000

    @property
    def rows(self) -> dict[str, int]:
        """How many rows of each large table that makes: before and after a change, the same house is compared."""
        return {
            "credential": self.codes + self.holders,
            "allowance": self.devices,
            "device": self.devices + self.holders // 2,
            "admission": ADMISSIONS_EACH * self.devices,
            "placement": ADMISSIONS_EACH * self.devices,
            "standing": self.devices,
            "wanted": self.devices,
            "stay": self.stays,
            "decision": self.entries // 2,
            "event": self.entries // 2,
            "address": 2 * self.devices,
            "message": self.messages,
            "visit": self.devices // 10,
            "registration": self.devices // 10,
            "vouching": self.devices // 10,
            "consent": self.devices // 10,
            "passphrase": self.holders,
            "passphrase_key": self.holders,
            "key_device": self.holders // 2,
        }


ADMISSIONS_EACH = 3
SUMMER = Size()


def fill(data: Path, now: float, size: Size = SUMMER) -> None:
    """Into the demo's site, before anything is started with it; the last of it happened a moment before `now`."""
    conn = open_writer(data / DATABASE_NAME)
    try:
        _codes(conn, data / KEY_NAME, now, size)
        role = past.first_guest_role(conn)
        for into, rows in _tables(size, role, now):
            past.add_all(conn, into, rows)
        for into, rows in around(size.devices, now):
            past.add_all(conn, into, rows)
        ring = read_key_file(data / KEY_NAME)
        letters(conn, ring, size.messages, now)
        asked(conn, ring, size.devices // 10, now)
        registered(conn, ring, size.devices // 10, size.inside, now)
        agreed(conn, ring, size.devices // 10, now)
        residents(conn, ring, size.holders, now)
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
    """Device n has the nth code and allowance; the first of them are inside."""
    devices = range(1, size.devices + 1)
    yield past.DEVICES, ((FIRST_MAC + n, now - STAYS_S, None) for n in devices)
    yield (
        past.ALLOWANCES,
        (
            (n, n, _begun(n, size, now), n * 7919 % 1_900_000_000, 3600 if n % 50 == 0 else 0,
             None if n % 90 or n <= size.inside else now - DAY_S)
            for n in devices
        ),
    )  # fmt: skip
    yield past.ADMISSIONS, _admissions(size, now)
    yield past.PLACEMENTS, _placements(size, role, now)
    yield past.STANDINGS, _standings(size, role, now)
    yield past.STAYS, _stays(size, now)
    yield past.DECISIONS, _decisions(size, role, now)
    yield past.EVENTS, _events(size, now)
    yield past.WANTED, _wanted(size, role, now)
    yield past.AT_PLACES, _at_places(size, role, now)


def _begun(n: int, size: Size, now: float) -> float:
    """Of whoever is inside in the last hours, of the others in the days before."""
    return now - 3 * 3600 * n / size.inside if n <= size.inside else now - DAY_S * (1 + n % 28)


def _admission(n: int, size: Size) -> int:
    """The newest of a device; those before have smaller ids."""
    return (ADMISSIONS_EACH - 1) * size.devices + n


def _times(k: int, n: int, size: Size, now: float) -> tuple[float, float | None]:
    """Return when the kth admission of a device began and ended; the newest one of a device inside is still open."""
    begun = _begun(n, size, now) - (ADMISSIONS_EACH - 1 - k) * 2 * DAY_S
    is_open = k == ADMISSIONS_EACH - 1 and n <= size.inside
    return begun, None if is_open else begun + 3600


def _admissions(size: Size, now: float) -> Iterator[tuple[Any, ...]]:
    for k in range(ADMISSIONS_EACH):
        for n in range(1, size.devices + 1):
            begun, ended = _times(k, n, size, now)
            yield (
                k * size.devices + n, FIRST_MAC + n, NETWORK, n, f"large-{k}-{n}", begun, ended,
                None if ended is None else Reason.TIME_USED_UP, begun if ended is None else None,
                '{"rules":1}' if n % 3 == 0 else None,
            )  # fmt: skip


def _placements(size: Size, role: RoleId, now: float) -> Iterator[tuple[Any, ...]]:
    for k in range(ADMISSIONS_EACH):
        for n in range(1, size.devices + 1):
            id = k * size.devices + n
            yield id, FIRST_MAC + n, NETWORK, _place(n), role, id, *_times(k, n, size, now)


def _place(n: int) -> int:
    return PLACES[n % len(PLACES)]


def _logged(id: int, size: Size, now: float) -> float:
    return now - LOG_S * (1 - id / (size.entries + 2))


def _state(n: int, size: Size) -> State:
    """Behind those inside, some are held, some at the door and a few barred; the others left."""
    for state, until in (
        (State.INSIDE, 1.0), (State.HELD, 1.2), (State.AT_DOOR, 1.7), (State.BARRED, 1.72),
    ):  # fmt: skip
        if n <= size.inside * until:
            return state
    return State.LEFT


_REASONS = {
    State.HELD: Reason.TIME_USED_UP, State.LEFT: Reason.TIME_USED_UP, State.BARRED: Reason.BARRED_BY_TRIES,
}  # fmt: skip


def _standings(size: Size, role: RoleId, now: float) -> Iterator[tuple[Any, ...]]:
    last = (size.entries // 2 - 1) // size.devices
    for n in range(1, size.devices + 1):
        state, mac, begun = _state(n, size), Mac(FIRST_MAC + n), _begun(n, size, now)
        is_in, is_here = state is State.INSIDE, state is not State.LEFT
        since = begun if is_in else now - 900 if is_here else begun + 3600
        reason = _REASONS.get(state)
        yield (
            mac, NETWORK, state, since, reason, None if reason is None else since, _place(n),
            f"large-{n}" if is_here else None, spell_mac(mac), f"127.77.0.{10 + _place(n)}",
            role if is_in else DOOR, _address(n) if is_here else None, now - n % 600 if is_here else since,
            since if state is State.AT_DOOR else None, since + 60 if state is State.AT_DOOR and n % 2 else None,
            _admission(n, size) if is_in else None, begun + 8 * 3600 if is_in else None,
            _decision(last, n, size) if last >= 0 else None, since,
            f"{_place(n)}:asked:admit:admitted:1:{role}:1", n % 9,
        )  # fmt: skip


def _wanted(size: Size, role: RoleId, now: float) -> Iterator[tuple[Any, ...]]:
    for n in range(1, size.devices + 1):
        state, begun = _state(n, size), _begun(n, size, now)
        is_here, stays = state is not State.LEFT, state is State.INSIDE and n > ON_THE_WAY_OUT
        yield (
            FIRST_MAC + n, NETWORK, n, State.HELD if state is State.INSIDE and not stays else state,
            (role if stays else DOOR) if is_here else None, _admission(n, size) if stays else None,
            begun + 8 * 3600 if stays else None, begun,
        )  # fmt: skip


def _at_places(size: Size, role: RoleId, now: float) -> Iterator[tuple[Any, ...]]:
    """The first devices are on their way out, and their access device does not answer."""
    for n in range(1, size.devices + 1):
        state, begun = _state(n, size), _begun(n, size, now)
        is_in, is_sure = state is State.INSIDE, n > ON_THE_WAY_OUT
        if state is State.LEFT:
            continue
        change = (0, None, None, None, None) if is_sure else (1, now + 60, "silent", now - 30, now + 7200)
        yield (
            FIRST_MAC + n, NETWORK, _place(n), f"large-{n}", spell_mac(Mac(FIRST_MAC + n)),
            f"127.77.0.{10 + _place(n)}", role if is_in else DOOR, _admission(n, size) if is_in else None,
            begun + 8 * 3600 if is_in else None, begun if is_sure else None, ANSWER, n, *change,
        )  # fmt: skip


def _address(n: int) -> str:
    return f"127.78.{n // 250}.{n % 250 + 1}"


def _stays(size: Size, now: float) -> Iterator[tuple[Any, ...]]:
    each, day = size.stays // size.devices, day_of(now, ZoneInfo(site.ZONE)).number
    for k in range(each):
        for n in range(1, size.devices + 1):
            is_open = k == each - 1 and n <= size.inside
            began = _begun(n, size, now) if is_open else now - STAYS_S * (1 - k / each) - DAY_S
            last = now - n % 600 if is_open else began + 1800
            up, down = n * 31 % 9_000_000, n * 977 % 90_000_000
            yield (
                FIRST_MAC + n, NETWORK, _place(n), f"place-{_place(n)}",
                f"large-{n}" if is_open else f"large-{n}-{k}", began, last, int(last - began), up, up, down, down,
                _address(n), None if is_open else began + 1800, None if is_open else "user_request",
                1 if n % 40 == 0 and k else None, f"multi-{n}" if n % 40 == 0 else None,
                f"large-{ADMISSIONS_EACH - 1}-{n}", 600.0, f"0277000000{_place(n):02x}", f"127.77.0.{10 + _place(n)}",
                (up + down) // 800, *(_now(n, day) if is_open else (0, 0, 0)),
            )  # fmt: skip


def _now(n: int, day: int) -> tuple[int, int, int]:
    """How fast the open stay of device n is, and what it used today."""
    return n * 613 % 400_000, day, n * 7919 % 300_000_000


def _decision(k: int, n: int, size: Size) -> int:
    """The id of the kth decision of device n: even, as events have the odd ones."""
    return 2 * (k * size.devices + n)


def _decisions(size: Size, role: RoleId, now: float) -> Iterator[tuple[Any, ...]]:
    each = size.entries // 2 // size.devices
    for k in range(each):
        for n in range(1, size.devices + 1):
            id = _decision(k, n, size)
            at = _logged(id, size, now)
            yield (
                id, at, FIRST_MAC + n, NETWORK, _place(n), Medium.ASKED, "admit", Reason.ADMITTED, role, 1,
                at + 3600, _TRACE, n % 9, _decision(k - 1, n, size) if k else None, 1, _HINTS,
            )  # fmt: skip


def _events(size: Size, now: float) -> Iterator[tuple[Any, ...]]:
    for k in range(size.entries // 2):
        id, n = 2 * k + 1, k % size.devices + 1
        actor = ("person", 1, "127.0.0.1") if k % 200 == 0 else (None, None, None)
        facts = '{"cause":"user_request","octets":1000000}'
        yield id, _logged(id, size, now), KINDS[k % 2], FIRST_MAC + n, NETWORK, _place(n), facts, *actor
