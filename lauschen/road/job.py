"""What is queued on the road: packets, and acts that somebody waits for."""

import asyncio
from collections.abc import Callable
from typing import Generic, Protocol, TypeVar

from lauschen.core.actor import Actor
from lauschen.core.errors import LauschenError, Unavailable
from lauschen.road.tx import Tx

T = TypeVar("T")


class Job(Protocol):
    """One arrival or act. `run` loads, decides and applies in one step inside the open transaction.

    It may run twice (rulings 9.1): what it is given never changes, and what is no part of the transaction (flags,
    counters, sends) changes in `done`, or by `Tx.after_commit`.
    """

    is_packet: bool
    """Report from an access device, and counted as such."""

    def run(self, tx: Tx) -> None: ...

    def done(self) -> None:
        """After COMMIT: now the answer may leave."""

    def failed(self, error: Exception) -> bool:
        """Nothing of it was stored; no answer leaves. True when the job itself tells of the reason."""


class Act(Generic[T]):
    """A job for somebody who waits for its result."""

    is_packet = False

    def __init__(self, act: Callable[[Tx], T], *, by: Actor | None, holds_wishes: bool) -> None:
        self._act = act
        self._by = by
        self._holds_wishes = holds_wishes
        self.result: asyncio.Future[T] = asyncio.get_running_loop().create_future()
        self._value: T
        self.error: Exception | None = None

    def run(self, tx: Tx) -> None:
        self.error = None
        try:
            with tx.inner(by=self._by, holds_wishes=self._holds_wishes):
                self._value = self._act(tx)
        except LauschenError as exc:
            self.error = exc

    def done(self) -> None:
        if self.error is not None:
            settle(self.result, error=self.error)
        else:
            settle(self.result, self._value)

    def failed(self, error: Exception) -> bool:
        meanwhile = "Nothing was changed. Try again in a moment."
        settle(self.result, error=self.error or Unavailable("database", meanwhile=meanwhile))
        return False


async def pass_on(there: "asyncio.Future[T]", result: "asyncio.Future[T]") -> None:
    try:
        answer = await there
    except Exception as exc:
        settle(result, error=exc)
    else:
        settle(result, answer)


def settle(result: "asyncio.Future[T]", answer: T | None = None, *, error: Exception | None = None) -> None:
    if result.done():  # whoever asked has gone
        return
    if error is not None:
        result.set_exception(error)
    else:
        result.set_result(answer)  # type: ignore[arg-type]
