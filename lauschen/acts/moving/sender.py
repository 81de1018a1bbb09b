"""Sends what is wanted until it is seen to hold (rulings 2): one request in flight per device."""

from collections.abc import Hashable
from dataclasses import replace

from lauschen.acts.moving.errands import (
    FAILED,
    Errand,
    Mover,
    give_up_when_over,
    later,
    make_errand,
    note_answer,
)
from lauschen.core.house.dialect import Move
from lauschen.core.ids import DialectId
from lauschen.core.words.mac import spell_mac
from lauschen.road.patient import Due, PatientQueue
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store.moving import wanted
from lauschen.store.moving.wanted import Wanted

AT_ONCE = 200
IN_FLIGHT_S = 60.0
UNSUPPORTED = ("nak:402", "nak:405")


class Sender(PatientQueue[Wanted, Errand, str]):
    """Carries changes to access devices."""

    fault = "wish"

    def __init__(self, road: Road, mover: Mover) -> None:
        super().__init__(road)
        self._mover = mover
        self.without_reauthorise: set[DialectId] = set()
        """Dialects whose devices said that they do not support it; Disconnect is used instead."""
        road.wake_sender = self.wake

    async def start(self) -> None:
        """After a start all unconfirmed changes go again."""
        await self._road.act(lambda tx: wanted.hurry(tx.conn, tx.now))
        self.wake()

    def due(self, tx: Tx) -> Due[Wanted]:
        return Due(wanted.due(tx.conn, tx.now, AT_ONCE))

    def next_due(self, tx: Tx) -> float | None:
        return wanted.next_due_after(tx.conn, tx.now)

    def key(self, entry: Wanted) -> Hashable:
        return entry.mac

    def name(self, entry: Wanted) -> str:
        return spell_mac(entry.mac)

    def take(self, tx: Tx, entry: Wanted) -> Errand | None:
        if give_up_when_over(tx, entry):
            return None
        errand = make_errand(tx, entry, None)
        if errand is None:
            wanted.drop(tx.conn, entry.mac, entry.network)
            return None
        # Not due again while in flight: a silent access device must not fill the slice for all others.
        wanted.postpone(tx.conn, entry, tx.now + IN_FLIGHT_S)
        if errand.how is Move.REAUTHORISE and errand.dialect.id in self.without_reauthorise:
            return replace(errand, how=Move.DISCONNECT)
        return errand

    def put_off(self, tx: Tx, entry: Wanted) -> None:
        """Shown as a change that was not confirmed."""
        wanted.put_off(tx.conn, entry, answer=FAILED, at=tx.now, later=later(entry))

    async def carry(self, errand: Errand) -> tuple[Errand, str]:
        answer = await self._mover.move(errand)
        if errand.how is Move.REAUTHORISE and answer in UNSUPPORTED:
            self.without_reauthorise.add(errand.dialect.id)
            errand = replace(errand, how=Move.DISCONNECT)
            answer = await self._mover.move(errand)
        return errand, answer

    def failed(self, errand: Errand) -> str:
        return FAILED

    def note(self, tx: Tx, errand: Errand, answer: str) -> None:
        note_answer(tx, errand, answer)
