"""Brings about what is wanted until it is seen to hold (rulings 2): one request in flight for each place."""

from collections.abc import Hashable, Sequence

from lauschen.acts.moving.errands import (
    FAILED,
    Enforcer,
    Errand,
    Saw,
    give_up_when_over,
    later,
    make_errand,
    note_answer,
)
from lauschen.core.decide.wanted import Place
from lauschen.core.words.mac import spell_mac
from lauschen.road.patient import Due, PatientQueue
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store.moving import places

AT_ONCE = 200
IN_FLIGHT_S = 60.0


class Sender(PatientQueue[Place, Errand, Saw]):
    """Gives each place whose state is not as wanted to the first enforcer that takes it."""

    fault = "wish"

    def __init__(self, road: Road, enforcers: Sequence[Enforcer]) -> None:
        super().__init__(road)
        self._enforcers = enforcers
        road.wake_sender = self.wake

    async def start(self) -> None:
        """After a start everything that is not confirmed goes again."""
        await self._road.act(lambda tx: places.hurry(tx.conn, tx.now))
        self.wake()

    def due(self, tx: Tx) -> Due[Place]:
        return Due(places.due(tx.conn, tx.now, AT_ONCE))

    def next_due(self, tx: Tx) -> float | None:
        return places.next_due_after(tx.conn, tx.now)

    def key(self, entry: Place) -> Hashable:
        return entry.mac, entry.access_device, entry.session_id

    def name(self, entry: Place) -> str:
        return spell_mac(entry.mac)

    def take(self, tx: Tx, entry: Place) -> Errand | None:
        if give_up_when_over(tx, entry):
            return None
        errand = make_errand(tx, entry)
        if errand is None:
            places.forget(tx.conn, entry.mac, entry.network, entry.access_device, entry.session_id)
            return None
        # Not due again while in flight: a silent access device must not fill the slice for all others.
        places.set_out(tx.conn, entry, tx.now, tx.now + IN_FLIGHT_S)
        return errand

    def put_off(self, tx: Tx, entry: Place) -> None:
        """Shown as a change that was not confirmed."""
        places.note_answer(
            tx.conn, entry, answer=FAILED, at=tx.now, tries=entry.tries + 1, next_at=tx.now + later(entry)
        )

    async def carry(self, errand: Errand) -> tuple[Errand, Saw]:
        enforcer = next((one for one in self._enforcers if one.takes(errand)), None)
        return errand, Saw(FAILED) if enforcer is None else await enforcer.bring_about(errand)

    def failed(self, errand: Errand) -> Saw:
        return Saw(FAILED)

    def note(self, tx: Tx, errand: Errand, answer: Saw) -> None:
        note_answer(tx, errand, answer)
