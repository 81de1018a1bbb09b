"""Sends what waits in the outbox until it got through, or is given up."""

from collections import Counter
from collections.abc import Hashable
from dataclasses import dataclass

from lauschen.acts.messages.costs import note_cost
from lauschen.core.messages.message import Channel, Message
from lauschen.core.messages.waits import next_try
from lauschen.notify.answer import Answer
from lauschen.notify.carriers import Carriers, Parcel, pack
from lauschen.road.patient import Due, PatientQueue
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store.log import Facts
from lauschen.store.messages import outbox

AT_ONCE = 4
"""Messages of one channel, or of one receiver, that are on their way together: a slow one holds up no other."""
SLICE = 20
PACE, PRESSED_PACE, BURST = 5.0, 1.0, 10
"""Messages of one channel in a second, while the road is at ease and while it is not, and how many may go at once
after a rest. One costs the loop some 10 ms, most of them for TLS; packets go first."""
IN_FLIGHT_S = 120.0
"""Longer than any try; after a crash what was on its way goes again then, under the same mark."""


@dataclass(frozen=True, slots=True)
class Errand:
    """A message with all that is needed to carry it; `parcel` None: it cannot be sent now, and why."""

    message: Message
    parcel: Parcel | None
    why: str = ""


class Outbox(PatientQueue[Message, Errand, Answer]):
    """Carries messages to whom they are for."""

    fault = "message"

    def __init__(self, road: Road, carriers: Carriers) -> None:
        super().__init__(road)
        self._carriers = carriers
        self._busy: Counter[tuple[Channel, int]] = Counter()
        self._may: dict[Channel, float] = dict.fromkeys(Channel, float(BURST))
        """How many of each channel may go now, as of the last look."""
        self._looked_at = road.clock.monotonic()
        self._pace = PACE
        road.wake_outbox = self.wake

    def look(self) -> None:
        now, is_pressed = self._road.clock.monotonic(), self._road.is_pressed
        self._pace, burst = (PRESSED_PACE, 1.0) if is_pressed else (PACE, float(BURST))
        for channel, may in self._may.items():
            self._may[channel] = min(burst, may + (now - self._looked_at) * self._pace)
        self._looked_at = now

    def due(self, tx: Tx) -> Due[Message]:
        found: list[Message] = []
        busy, is_paced = self._busy.copy(), False
        for channel in Channel:
            full = [receiver for (one, receiver), n in busy.items() if one is channel and n >= AT_ONCE]
            taken = 0 if full else sum(n for (one, _), n in busy.items() if one is channel)
            room = SLICE if channel in (Channel.SYSLOG, Channel.WEBHOOK) else AT_ONCE - taken
            if 0 in full or room <= 0:
                continue
            may = min(room, int(self._may[channel]))
            some = outbox.due(tx.conn, tx.keys, channel, tx.now, may + 1, full)
            is_paced |= len(some) > may and may < room
            for message in some[:may]:
                if busy[_place(message)] < AT_ONCE:  # else looked at again when one of them is back
                    busy[_place(message)] += 1
                    found.append(message)
        return Due(found, 1 / self._pace if is_paced else None)

    def next_due(self, tx: Tx) -> float | None:
        return outbox.next_due_after(tx.conn, tx.now)

    def key(self, entry: Message) -> Hashable:
        return entry.id

    def name(self, entry: Message) -> str:
        return f"message {entry.id}"

    def take(self, tx: Tx, entry: Message) -> Errand | None:
        outbox.postpone(tx.conn, entry.id, tx.now + IN_FLIGHT_S)
        parcel, why = pack(tx.config, entry)
        return Errand(entry, parcel, why)

    def begun(self, errand: Errand) -> None:
        self._busy[_place(errand.message)] += 1
        self._may[errand.message.channel] -= 1

    def put_off(self, tx: Tx, entry: Message) -> None:
        _not_sent(tx, entry, Answer(False, "It could not be made ready."))

    async def carry(self, errand: Errand) -> tuple[Errand, Answer]:
        try:
            if errand.parcel is None:
                return errand, Answer(False, errand.why)
            return errand, await self._carriers.carry(errand.parcel)
        finally:
            self._busy[_place(errand.message)] -= 1

    def failed(self, errand: Errand) -> Answer:
        return Answer(False, "It could not be sent.")

    def note(self, tx: Tx, errand: Errand, answer: Answer) -> None:
        message = errand.message
        if answer.is_sent:
            outbox.note_sent(tx.conn, tx.keys, message, answer=answer.text, now=tx.now)
            note_cost(tx, message.channel)
            if message.about.credential is not None:
                tx.log("message_sent", facts=_facts(message), mac=message.about.mac)
        else:
            _not_sent(tx, message, answer)


def _place(message: Message) -> tuple[Channel, int]:
    return message.channel, message.receiver or 0


def _not_sent(tx: Tx, message: Message, answer: Answer) -> None:
    again = (
        None if answer.is_final else next_try(message.channel, message.tries + 1, message.written_at, tx.now)
    )
    outbox.note_try(tx.conn, message.id, answer=answer.text, now=tx.now, next_at=again)
    if again is None:
        tx.log("message_given_up", facts={**_facts(message), "answer": answer.text}, mac=message.about.mac)


def _facts(message: Message) -> Facts:
    return {"channel": message.channel, "about": message.kind, "name": message.words.get("name", "")}
