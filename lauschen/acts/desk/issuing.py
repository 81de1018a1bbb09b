"""Issuing vouchers: few at once inside the road; many with codes drawn and sealed by the worker process."""

import asyncio
import os
import secrets
from collections.abc import Callable
from contextlib import suppress
from functools import lru_cache
from pathlib import Path

from lauschen.core.actor import Actor
from lauschen.core.errors import Invalid, Unavailable
from lauschen.core.ids import BatchId, CredentialId, PlanId
from lauschen.core.limits.terms import AS_PLAN, Terms
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.codes import CODE_COUNT, make_code
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.road.worker import Worker
from lauschen.store import credentials
from lauschen.store.keys import KeyRing, read_key_file

MOST_VOUCHERS = 10_000
MOST_DEVICES = 999
FEW = 40
"""So many are drawn inside the road: some milliseconds."""
SLICE = 100
TAKEN_BACK = 200


async def issue_vouchers(
    road: Road,
    worker: Worker,
    key_file: Path,
    *,
    plan: PlanId,
    size: int,
    label: str,
    by: Actor,
    terms: Terms = AS_PLAN,
    made: Callable[[int], None] = lambda _: None,
) -> BatchId:
    """Issues all of them or, seen from outside, none. In slices, so that no packet waits for a large batch.

    `made` is told how many there are so far. When it is cancelled or raises, what was made is taken back.
    """

    def begin(tx: Tx) -> BatchId:
        check_terms(tx, terms)
        return begin_batch(tx, plan=plan, size=size, label=label)

    batch = await road.act(begin, by=by)
    try:
        if size <= FEW:
            await road.act(lambda tx: draw_vouchers(tx, batch=batch, plan=plan, count=size, terms=terms))
        else:
            await _issue_many(road, worker, key_file, batch, plan, size, terms, made)
        await road.act(lambda tx: finish_batch(tx, batch=batch, plan=plan, size=size), by=by)
    except BaseException:
        await asyncio.shield(_take_back(road, batch))
        raise
    return batch


async def _take_back(road: Road, batch: BatchId) -> None:
    """A batch that is not valid is of no use to anybody; nor is a crash's, which `keeping` finds."""
    with suppress(Unavailable):
        while await road.act(
            lambda tx: credentials.forget_unfinished(tx.conn, batch, TAKEN_BACK), keeps_facts=True
        ):
            pass


def check_terms(tx: Tx, terms: Terms) -> None:
    """Invalid when nobody could ever use it."""
    if terms.devices is not None and not 1 <= terms.devices <= MOST_DEVICES:
        raise Invalid("devices_out_of_range", field="devices", mend=f"1 to {MOST_DEVICES} devices.")
    if terms.valid_until is not None and terms.valid_until <= tx.now:
        raise Invalid("until_past", field="until", mend="That moment is over already.")
    if None not in (terms.valid_from, terms.valid_until) and terms.valid_from >= terms.valid_until:  # type: ignore[operator]
        raise Invalid("until_before", field="until", mend="It would end before it begins.")


def begin_batch(tx: Tx, *, plan: PlanId, size: int, label: str) -> BatchId:
    """A batch that is not valid yet: its vouchers come in slices, and `finish_batch` makes them count."""
    found = tx.house.plans.get(plan)
    if found is None or found.is_removed:
        raise Invalid("plan_unknown", field="plan", mend="Choose one of the plans.")
    if not 1 <= size <= MOST_VOUCHERS:
        raise Invalid("count_out_of_range", field="count", mend=f"Issue 1 to {MOST_VOUCHERS} at a time.")
    return credentials.add_batch(tx.conn, plan=plan, size=size, label=label, now=tx.now, by=tx.staff)


def draw_vouchers(tx: Tx, *, batch: BatchId, plan: PlanId, count: int, terms: Terms = AS_PLAN) -> None:
    """Draws codes and stores them, sealed."""
    for _ in range(count):
        draw_one(tx, way=WayIn.VOUCHER, batch=batch, plan=plan, terms=terms)


def draw_one(
    tx: Tx, *, way: WayIn, batch: BatchId, plan: PlanId, terms: Terms = AS_PLAN
) -> tuple[CredentialId, str]:
    """One with a code that nobody has, and the code."""
    made = None
    while made is None:
        code = make_code(tx.chance.below(CODE_COUNT))
        made = credentials.add_issued(
            tx.conn, tx.keys, code, way=way, plan=plan, batch=batch, now=tx.now, terms=terms
        )
    return made, code


def finish_batch(tx: Tx, *, batch: BatchId, plan: PlanId, size: int) -> None:
    credentials.make_valid(tx.conn, batch)
    tx.log("issued", facts={"count": size, "plan": plan, "batch": batch})


async def _issue_many(
    road: Road,
    worker: Worker,
    key_file: Path,
    batch: BatchId,
    plan: PlanId,
    size: int,
    terms: Terms,
    tell: Callable[[int], None],
) -> None:
    """The worker draws and hashes, the road gives ids, the worker seals each code into its row, the road stores."""
    made = 0
    while made < size:
        wanted = min(SLICE, size - made)
        drawn, _ = await worker.run(draw_codes, key_file, wanted)
        ids = await road.act(
            lambda tx, drawn=drawn: credentials.add_unsealed(  # type: ignore[misc]
                tx.conn, [digest for _, digest in drawn], plan=plan, batch=batch, now=tx.now, terms=terms
            )
        )
        placed = [(row, code) for row, (code, _) in zip(ids, drawn, strict=True) if row is not None]
        sealed = await worker.run(seal_codes, key_file, placed)
        await road.act(lambda tx, sealed=sealed: credentials.seal_all(tx.conn, sealed))  # type: ignore[misc]
        made += len(placed)
        tell(made)


def draw_codes(key_file: Path, count: int) -> tuple[list[tuple[str, bytes]], int]:
    """In the worker: codes with their keyed hashes, and the number of the process that drew them."""
    keys = _keys(key_file)
    codes = [make_code(secrets.randbelow(CODE_COUNT)) for _ in range(count)]
    return [(code, keys.lookup_hash(code)) for code in codes], os.getpid()


def seal_codes(key_file: Path, placed: list[tuple[CredentialId, str]]) -> list[tuple[bytes, CredentialId]]:
    """In the worker: each code sealed into the row that it belongs to."""
    keys = _keys(key_file)
    return [
        (keys.seal(code.encode(), table="credential", column="code_sealed", row=row), row)
        for row, code in placed
    ]


@lru_cache(1)
def _keys(key_file: Path) -> KeyRing:
    return read_key_file(key_file)
