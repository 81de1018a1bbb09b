"""A queue that does not lose patience: what must reach somebody outside goes again until it did, or is given up.

Entries live in the database, written in the transaction that wants them. One bad entry never blocks another; one with
the same key is on its way at a time; every answer is stored through the road.
"""

import asyncio
from abc import ABC, abstractmethod
from collections.abc import Coroutine, Hashable, Sequence
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from lauschen.core.errors import Unavailable
from lauschen.road.clock import Timer
from lauschen.road.road import Road
from lauschen.road.slices import Slice
from lauschen.road.tx import Tx

TROUBLE_S = 5.0
"""After the database could not be asked."""

Entry = TypeVar("Entry")
Errand = TypeVar("Errand")
Answer = TypeVar("Answer")


@dataclass(frozen=True, slots=True)
class Due(Generic[Entry]):
    """What may be taken now."""

    entries: Sequence[Entry]
    again_in: float | None = None
    """Seconds until more may go that is due already; None: nothing else is."""


class PatientQueue(ABC, Generic[Entry, Errand, Answer]):
    """What is carried, and how, is said by a subclass. `wake` it when something was written or is due."""

    fault: str
    """The kind under which what raises for one entry is counted; what raises in the queue itself, under `sender`."""

    def __init__(self, road: Road) -> None:
        self._road = road
        self._in_flight: set[Hashable] = set()
        self._tasks: set[asyncio.Task[None]] = set()
        self._timer: Timer | None = None
        self._is_looking = False
        self._look_again = False

    def look(self) -> None:
        """Called before each look at what is due, outside of the transaction: what a subclass counts is brought up to
        date here, and in `begun`."""

    @abstractmethod
    def due(self, tx: Tx) -> Due[Entry]:
        """Return entries whose time has come, a slice of them. Changes nothing, as it may be asked twice."""

    @abstractmethod
    def next_due(self, tx: Tx) -> float | None:
        """When the next one's time comes; None when there is none."""

    @abstractmethod
    def key(self, entry: Entry) -> Hashable:
        """Of two with the same one, one waits for the other."""

    @abstractmethod
    def name(self, entry: Entry) -> str:
        """Return what Now calls it when something of ours fails."""

    @abstractmethod
    def take(self, tx: Tx, entry: Entry) -> Errand | None:
        """Everything that is needed to carry it; None when it is over. It must not be due while it is on its way."""

    def begun(self, errand: Errand) -> None:
        """It is on its way, and that is committed."""

    @abstractmethod
    def put_off(self, tx: Tx, entry: Entry) -> None:
        """Taking it raised: it is noted as failed, and waits."""

    @abstractmethod
    async def carry(self, errand: Errand) -> tuple[Errand, Answer]:
        """The errand as it was carried in the end, and what came of it."""

    @abstractmethod
    def failed(self, errand: Errand) -> Answer:
        """What is noted when carrying it raised."""

    @abstractmethod
    def note(self, tx: Tx, errand: Errand, answer: Answer) -> None:
        """Stores what came of it: done, or due again later, or given up."""

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
            self.look()
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
        for key, errand in errands:
            self._in_flight.add(key)
            self.begun(errand)
            self._spawn(self._run(key, errand))
        if next_due is not None:
            self._wake_after(next_due - self._road.clock.now())
        if self._look_again:
            self._look_again = False
            self.wake()

    def _take_due(self, tx: Tx) -> tuple[list[tuple[Hashable, Errand]], float | None]:
        errands: dict[Hashable, Errand] = {}
        due, slice_ = self.due(tx), Slice()
        again_in = due.again_in
        for entry in due.entries:
            if slice_.is_over:
                again_in = 0.0
                break
            key = self.key(entry)
            if key in self._in_flight or key in errands:
                continue  # looked at again when its answer comes
            slice_.done += 1
            name, taken = self.name(entry), list[Errand | None]()
            if not tx.attempt(self.fault, name, lambda e=entry, t=taken: t.append(self.take(tx, e))):  # type: ignore[misc]
                tx.attempt(self.fault, name, lambda e=entry: self.put_off(tx, e))  # type: ignore[misc]
            elif taken[0] is not None:
                errands[key] = taken[0]
        next_due = self.next_due(tx)
        if again_in is not None:
            soon = tx.now + again_in
            next_due = soon if next_due is None else min(soon, next_due)
        return list(errands.items()), next_due

    async def _run(self, key: Hashable, errand: Errand) -> None:
        try:
            carried, answer = await self._carry(errand)
            await self._road.act(lambda tx: self.note(tx, carried, answer))
        except Unavailable:
            # What came of it could not be stored; it goes again, a little later.
            self._wake_after(TROUBLE_S)
            return
        except Exception as exc:
            self._road.faults.note("sender", exc)
            self._wake_after(TROUBLE_S)
            return
        finally:
            self._in_flight.discard(key)
        self.wake()

    async def _carry(self, errand: Errand) -> tuple[Errand, Answer]:
        try:
            return await self.carry(errand)
        except Exception as exc:
            self._road.faults.note(self.fault, exc)
            return errand, self.failed(errand)

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
