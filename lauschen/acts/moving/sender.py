"""Sends what is wanted until it is seen to hold (rulings 2): one request in flight per device."""

import asyncio
from collections.abc import Coroutine
from dataclasses import replace
from typing import Any

from lauschen.acts.moving.errands import (
    FAILED,
    Errand,
    Mover,
    give_up_when_over,
    later,
    make_errand,
    note_answer,
)
from lauschen.core.errors import Unavailable
from lauschen.core.house.dialect import Move
from lauschen.core.ids import DialectId, Mac
from lauschen.road.clock import Timer
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store import wanted
from lauschen.store.wanted import Wanted

AT_ONCE = 200
TROUBLE_S = 5.0
IN_FLIGHT_S = 60.0
UNSUPPORTED = ("nak:402", "nak:405")


class Sender:
    """Wakes when something is wanted or due; every answer is stored through the road."""

    def __init__(self, road: Road, mover: Mover) -> None:
        self._road = road
        self._mover = mover
        self._in_flight: set[Mac] = set()
        self._tasks: set[asyncio.Task[None]] = set()
        self._timer: Timer | None = None
        self._is_looking = False
        self._look_again = False
        self.without_reauthorise: set[DialectId] = set()
        """Dialects whose devices said that they do not support it; Disconnect is used instead."""
        road.wake_sender = self.wake

    async def start(self) -> None:
        """After a start all unconfirmed changes go again."""
        await self._road.act(lambda tx: wanted.hurry(tx.conn, tx.now))
        self.wake()

    def wake(self) -> None:
        if self._is_looking:
            self._look_again = True
            return
        self._is_looking = True
        self._spawn(self._look())

    async def close(self) -> None:
        if self._timer:
            self._timer.cancel()
        for task in list(self._tasks):
            task.cancel()
        await asyncio.gather(*self._tasks, return_exceptions=True)

    async def _look(self) -> None:
        try:
            errands, next_due = await self._road.act(self._take_due)
        except Unavailable:
            self._wake_after(TROUBLE_S)
            return
        except Exception as exc:
            self._road.faults.note("sender", exc)
            self._wake_after(TROUBLE_S)
            return
        finally:
            self._is_looking = False
        for errand in errands:
            self._in_flight.add(errand.standing.mac)
            self._spawn(self._run(errand))
        if next_due is not None:
            self._wake_after(next_due - self._road.clock.now())
        if self._look_again:
            self._look_again = False
            self.wake()

    def _take_due(self, tx: Tx) -> tuple[list[Errand], float | None]:
        errands = []
        for wish in wanted.due(tx.conn, tx.now, AT_ONCE):
            if wish.mac in self._in_flight:
                continue  # looked at again when its answer comes
            try:
                with tx.inner():
                    errand = self._take(tx, wish)
            except Exception as exc:
                # One bad wish never blocks another: it waits, and is shown as a change that was not confirmed.
                self._road.faults.note("wish", exc)
                wanted.put_off(tx.conn, wish, answer=FAILED, at=tx.now, later=later(wish))
                continue
            if errand is not None:
                errands.append(errand)
        return errands, wanted.next_due_after(tx.conn, tx.now)

    def _take(self, tx: Tx, wish: Wanted) -> Errand | None:
        if give_up_when_over(tx, wish):
            return None
        errand = make_errand(tx, wish, None)
        if errand is None:
            wanted.drop(tx.conn, wish.mac, wish.network)
            return None
        # Not due again while in flight: a silent access device must not fill the slice for all others.
        wanted.postpone(tx.conn, wish, tx.now + IN_FLIGHT_S)
        if errand.how is Move.REAUTHORISE and errand.dialect.id in self.without_reauthorise:
            return replace(errand, how=Move.DISCONNECT)
        return errand

    async def _run(self, errand: Errand) -> None:
        try:
            errand, answer = await self._carry(errand)
            await self._road.act(lambda tx: note_answer(tx, errand, answer))
        except Unavailable:
            # What came of it could not be stored; it goes again, a little later.
            self._wake_after(TROUBLE_S)
            return
        finally:
            self._in_flight.discard(errand.standing.mac)
        self.wake()

    async def _carry(self, errand: Errand) -> tuple[Errand, str]:
        """The errand as it was carried in the end, and what came of it."""
        try:
            answer = await self._mover.move(errand)
            if errand.how is Move.REAUTHORISE and answer in UNSUPPORTED:
                self.without_reauthorise.add(errand.dialect.id)
                errand = replace(errand, how=Move.DISCONNECT)
                answer = await self._mover.move(errand)
        except Exception as exc:
            self._road.faults.note("wish", exc)
            return errand, FAILED
        return errand, answer

    def _wake_after(self, seconds: float) -> None:
        if self._timer:
            self._timer.cancel()
        self._timer = self._road.clock.call_later(seconds, self.wake)

    def _spawn(self, work: Coroutine[Any, Any, None]) -> None:
        task = asyncio.get_running_loop().create_task(work)
        self._tasks.add(task)
        task.add_done_callback(self._finished)

    def _finished(self, task: asyncio.Task[None]) -> None:
        self._tasks.discard(task)
        if not task.cancelled() and (error := task.exception()) is not None:
            self._road.faults.note("sender", error)
