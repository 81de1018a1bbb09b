"""Issuing vouchers: few at once inside the road; many with codes drawn and sealed by the worker process."""

import asyncio
import secrets
from collections.abc import Callable
from contextlib import suppress
from functools import lru_cache, partial
from pathlib import Path

from lauschen.acts.desk.within import limits_of
from lauschen.beside.worker import Worker
from lauschen.core.actor import Actor
from lauschen.core.config.config import Config
from lauschen.core.errors import Invalid, Unavailable
from lauschen.core.ids import BatchId, CredentialId, PlanId
from lauschen.core.limits.terms import AS_PLAN, Terms, plan_with
from lauschen.core.people.limits import check_given
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.codes import LENGTH, LONGEST, SHORTEST, code_count, make_code
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store import batches, credentials
from lauschen.store.batches import Said
from lauschen.store.config import settings
from lauschen.store.credentials import Prepared
from lauschen.store.keys import KeyRing, read_key_file
from lauschen.store.people import issued_once
from lauschen.store.people.issued_once import Once

MOST_VOUCHERS = 100_000
MOST_DEVICES = 999
FEW = 40
"""So many are drawn inside the road: some milliseconds."""
SLICE, PRESSED_SLICE = 50, 10
"""Stored in one piece: under two milliseconds."""
PAUSE_S = 0.005
PREPARED = 1000
"""Drawn in one piece by the worker."""
TAKEN_BACK = 200


async def issue_vouchers(
    road: Road,
    worker: Worker,
    key_file: Path,
    *,
    plan: PlanId,
    size: int,
    said: Said,
    by: Actor,
    terms: Terms = AS_PLAN,
    once: Once | None = None,
    length: int = LENGTH,
    made: Callable[[int], None] = lambda _: None,
) -> BatchId:
    """Issues all of them or, seen from outside, none. In slices, so that no packet waits for a large batch.

    `made` is told how many there are so far. When it is cancelled or raises, what was made is taken back.
    `once`: the request's own name, under which nothing is issued twice.
    """

    def begin(tx: Tx) -> tuple[BatchId, bool]:
        know_length(tx, length)
        return issue_once(
            tx, once, lambda tx: begin_batch(tx, plan=plan, size=size, said=said, terms=terms, length=length)
        )

    def issue_few(tx: Tx) -> tuple[BatchId, bool]:
        batch, is_new = begin(tx)
        if is_new:
            draw_vouchers(tx, batch=batch, plan=plan, count=size, terms=terms, length=length)
            finish_batch(tx, batch=batch, plan=plan, size=size)
        return batch, is_new

    if size <= FEW:
        return (await road.act(issue_few, by=by))[0]
    batch, is_new = await road.act(begin, by=by)
    if not is_new:
        return batch
    try:
        await _issue_many(road, worker, key_file, batch, plan, size, terms, length, made)
        await road.act(lambda tx: finish_batch(tx, batch=batch, plan=plan, size=size), by=by)
    except BaseException:
        await asyncio.shield(_take_back(road, batch))
        raise
    return batch


def issue_once(tx: Tx, once: Once | None, issue: Callable[[Tx], BatchId]) -> tuple[BatchId, bool]:
    """What was issued under this name before, and False; else what `issue` issues, remembered under it, and True.

    Invalid when something else was asked for under it, or the same is under way.
    """
    if once is None or tx.staff is None:
        return issue(tx), True
    known = issued_once.find(tx.conn, tx.staff, once)
    if known is None:
        batch = issue(tx)
        issued_once.note(tx.conn, tx.staff, once, batch, tx.now)
        return batch, True
    batch, is_same = known
    if not is_same:
        mend = "Something else was issued under this key. Each request has a key of its own."
        raise Invalid("key_used", field="Idempotency-Key", mend=mend)
    if not batches.is_valid(tx.conn, batch):
        raise Invalid("under_way", field="Idempotency-Key", mend="This very request is being carried out.")
    return batch, False


def check_new(tx: Tx, once: Once | None, check: Callable[[Tx], None]) -> None:
    """Before a job is begun: `check` raises what the job would, unless all was issued under this name before."""
    is_known = (
        once is not None and tx.staff is not None and issued_once.find(tx.conn, tx.staff, once) is not None
    )
    if not is_known:
        check(tx)


async def _take_back(road: Road, batch: BatchId) -> None:
    """A batch that is not valid is of no use to anybody; nor is a crash's, which `keeping` finds."""
    with suppress(Unavailable):
        while await road.act(lambda tx: batches.forget_unfinished(tx.conn, batch, TAKEN_BACK)):
            pass


def check_terms(config: Config, terms: Terms, now: float) -> None:
    """Invalid when nobody could ever use it."""
    if terms.network is not None and terms.network not in config.networks:
        raise Invalid("network", field="network", mend="Choose one that is there.")
    if terms.devices is not None and not 1 <= terms.devices <= MOST_DEVICES:
        raise Invalid("devices_out_of_range", field="devices", mend=f"1 to {MOST_DEVICES} devices.")
    if terms.valid_until is not None and terms.valid_until <= now:
        raise Invalid("until_past", field="until", mend="That moment is over already.")
    if None not in (terms.valid_from, terms.valid_until) and terms.valid_from >= terms.valid_until:  # type: ignore[operator]
        raise Invalid("until_before", field="until", mend="It would end before it begins.")


def begin_batch(
    tx: Tx, *, plan: PlanId, size: int, said: Said, terms: Terms = AS_PLAN, length: int = LENGTH
) -> BatchId:
    """A batch that is not valid yet: its vouchers come in slices, and `finish_batch` makes them count.

    Invalid as `check_batch` says.
    """
    check_batch(tx, plan=plan, size=size, terms=terms)
    return batches.add_batch(tx.conn, plan=plan, size=size, said=said, now=tx.now, by=tx.staff, length=length)


def check_batch(tx: Tx, *, plan: PlanId, size: int, terms: Terms = AS_PLAN) -> None:
    """Invalid if nobody could use it, or if the actor may not issue it."""
    check_terms(tx.config, terms, tx.now)
    found = tx.config.plans.get(plan)
    if found is None or found.is_removed:
        raise Invalid("plan_unknown", field="plan", mend="Choose one of the plans.")
    if not 1 <= size <= MOST_VOUCHERS:
        raise Invalid("count_out_of_range", field="count", mend=f"Issue 1 to {MOST_VOUCHERS} at a time.")
    limited = found if terms.own is None else plan_with(found, terms.own)
    check_given(limits_of(tx), limited, terms, size, tx.now)


def draw_vouchers(
    tx: Tx, *, batch: BatchId, plan: PlanId, count: int, terms: Terms = AS_PLAN, length: int = LENGTH
) -> None:
    """Draws codes and stores them, sealed."""
    for _ in range(count):
        draw_one(tx, way=WayIn.VOUCHER, batch=batch, plan=plan, terms=terms, length=length)


def know_length(tx: Tx, length: int) -> None:
    """Codes of this length are read as codes from now on. Invalid for one that no code has."""
    if not SHORTEST <= length <= LONGEST:
        raise Invalid("code_length", field="length", mend=f"{SHORTEST} to {LONGEST} signs.")
    if length not in tx.config.code_lengths:
        settings.set_code_lengths(tx.conn, {*tx.config.code_lengths, length})
        tx.reconfigure()


def draw_one(
    tx: Tx,
    *,
    way: WayIn,
    batch: BatchId,
    plan: PlanId,
    terms: Terms = AS_PLAN,
    length: int = LENGTH,
) -> tuple[CredentialId, str]:
    """One with a code that nobody has, and the code."""
    made = None
    while made is None:
        code = make_code(tx.chance.below(code_count(length)), length)
        made = credentials.add_issued(
            tx.conn, tx.keys, code, way=way, plan=plan, batch=batch, now=tx.now, terms=terms
        )
    return made, code


def finish_batch(tx: Tx, *, batch: BatchId, plan: PlanId, size: int) -> None:
    batches.make_valid(tx.conn, batch)
    tx.log("issued", facts={"count": size, "plan": plan, "batch": batch})


async def _issue_many(
    road: Road,
    worker: Worker,
    key_file: Path,
    batch: BatchId,
    plan: PlanId,
    size: int,
    terms: Terms,
    length: int,
    tell: Callable[[int], None],
) -> None:
    """The worker draws, hashes and seals the next ones while the road stores those before, a slice at a time."""

    async def prepare(count: int) -> list[Prepared]:
        first = await road.act(lambda tx: credentials.reserve(tx.conn, count))
        return await worker.run(prepare_codes, key_file, first, count, length)

    def add(tx: Tx, part: list[Prepared]) -> bool:
        return credentials.add_prepared(
            tx.conn, part, way=WayIn.VOUCHER, plan=plan, batch=batch, now=tx.now, terms=terms
        )

    async def store(part: list[Prepared]) -> None:
        while not await road.act(partial(add, part=part)):
            part = await prepare(len(part))  # one of them was issued before: other codes, under other ids

    made = 0
    coming = asyncio.ensure_future(prepare(min(PREPARED, size)))
    try:
        while made < size:
            ready = await coming
            left = size - made - len(ready)
            if left:
                coming = asyncio.ensure_future(prepare(min(PREPARED, left)))
            while ready:
                # Handed back in the gaps: while packets wait for each other, a few at a time.
                count = PRESSED_SLICE if road.is_pressed else SLICE
                part, ready = ready[:count], ready[count:]
                await store(part)
                made += len(part)
                tell(made)
                if road.is_pressed:
                    await asyncio.sleep(PAUSE_S)
    finally:
        coming.cancel()


def prepare_codes(key_file: Path, first: CredentialId, count: int, length: int = LENGTH) -> list[Prepared]:
    """In the worker: codes for the ids from `first` on, each hashed, and sealed into the row that it will have."""
    keys, space = _keys(key_file), code_count(length)
    prepared = []
    for number in range(count):
        code, row = make_code(secrets.randbelow(space), length), CredentialId(first + number)
        prepared.append(Prepared(row, keys.lookup_hash(code), credentials.seal_code(keys, code, row)))
    return prepared


@lru_cache(1)
def _keys(key_file: Path) -> KeyRing:
    return read_key_file(key_file)
