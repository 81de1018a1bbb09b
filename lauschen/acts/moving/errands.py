"""One change at an access device on its way: what it is about, and what is done about the answer."""

from dataclasses import dataclass
from typing import Protocol

from lauschen.acts.arriving.arrivals import answer_arrival
from lauschen.acts.arriving.facts import as_if_asked, decide_now
from lauschen.acts.staying.comings import leave
from lauschen.acts.staying.endings import close_gone
from lauschen.core.decide.arrival import Arrival
from lauschen.core.decide.decision import Decision
from lauschen.core.decide.picture import AdmissionFacts
from lauschen.core.decide.standing import Standing, State
from lauschen.core.house.access_device import AccessDevice
from lauschen.core.house.dialect import Dialect, Move
from lauschen.road.tx import Tx
from lauschen.store import devices, stays
from lauschen.store.moving import wanted
from lauschen.store.moving.wanted import Wanted

LATER_S = (60.0, 120.0, 300.0, 600.0)
ACCEPTED = "accepted"
SILENT = "silent"
GONE = "nak:503"
"""Session-Context-Not-Found (RFC 5176 section 3.5): there is no such session any more."""
FAILED = "failed"
"""It could not even be sent: something of ours raised."""


@dataclass(frozen=True, slots=True)
class Errand:
    """Everything that is needed to carry one change to an access device."""

    wish: Wanted
    standing: Standing
    device: AccessDevice
    dialect: Dialect
    how: Move
    arrival: Arrival
    decision: Decision
    """What the device would be told if it asked now."""
    admission: AdmissionFacts | None
    began: float | None
    """When its session began, if it is known."""


class Mover(Protocol):
    """Carries errands; `service.Movers` picks the real one."""

    async def move(self, errand: Errand) -> str:
        """`accepted`, `silent`, `nak:<Error-Cause>` or `http:<what was wrong>`; `failed` is ours to say."""


def later(wish: Wanted) -> float:
    """Seconds until a change that was not confirmed goes again."""
    return LATER_S[min(wish.tries, len(LATER_S) - 1)]


def make_errand(tx: Tx, wish: Wanted, how: Move | None) -> Errand | None:
    """None when the stay has ended or been replaced: a late request must not end the next one.

    `how` None takes the dialect's way.
    """
    standing = devices.find_standing(tx.conn, wish.mac, wish.network)
    if standing is None or standing.state is State.LEFT or wish.network not in tx.house.networks:
        return None
    if wish.session_id is not None and standing.session_id != wish.session_id:
        return None
    device = tx.house.access_devices.get(standing.access_device)
    if device is None:
        return None
    dialect = tx.house.dialects[device.dialect]
    decision, picture = decide_now(tx, standing)
    move = how or (dialect.login_move if wish.what == wanted.IN else dialect.end_move)
    if decision.role is None and move in (Move.ATTRIBUTES, Move.REAUTHORISE):
        move = Move.DISCONNECT  # there is no door that it could be placed at
    session = standing.session_id
    stay = stays.open_stay(tx.conn, wish.mac, session, device.id) if session is not None else None
    began = stay.started if stay is not None else None
    return Errand(
        wish, standing, device, dialect, move, as_if_asked(standing), decision, picture.admission, began
    )


def give_up_when_over(tx: Tx, wish: Wanted) -> bool:
    """True when what was to be changed has ended by itself meanwhile, unconfirmed to the last."""
    if wish.until is None or tx.now < wish.until:
        return False
    wanted.drop(tx.conn, wish.mac, wish.network)
    standing = devices.find_standing(tx.conn, wish.mac, wish.network)
    if standing is not None:
        if wish.what == wanted.OUT:
            leave(tx, standing)
        else:
            standing.going = None
            tx.write_standing(standing)
    tx.log(
        "given_up",
        mac=wish.mac,
        network=wish.network,
        access_device=standing.access_device if standing is not None else None,
        facts={"what": wish.what, "answer": wish.last_answer},
    )
    return True


def note_answer(tx: Tx, errand: Errand, answer: str) -> None:
    """An accepted request is not yet a confirmed change: it goes again unless the new placement is heard.

    New attributes and calls to a controller are the exceptions: their answer is all there will be (rulings 2.2).
    """
    wish = errand.wish
    tx.log(
        "device_answered",
        mac=wish.mac,
        network=wish.network,
        access_device=errand.device.id,
        facts={"answer": answer, "how": errand.how, "what": wish.what},
    )
    is_newest = wanted.note_answer(
        tx.conn,
        wish,
        answer=None if answer == ACCEPTED else answer,
        at=tx.now,
        tries=wish.tries + 1,
        next_at=tx.now + later(wish),
    )
    if is_newest and answer == GONE and errand.how is not Move.CALLED:
        _end_session(tx, errand)
        return
    holds = errand.how is Move.CALLED or (errand.how is Move.ATTRIBUTES and errand.dialect.ack_confirms)
    if is_newest and holds and answer == ACCEPTED:
        # Decided anew with the facts of now; a change of them since then has made a newer wish.
        answer_arrival(tx, errand.arrival)


def _end_session(tx: Tx, errand: Errand) -> None:
    """The session that was to be changed is gone already: its stay ends, and no change is left (rulings 8.4)."""
    standing = devices.find_standing(tx.conn, errand.wish.mac, errand.wish.network)
    if standing is None or standing.session_id != errand.standing.session_id:
        return
    stay = None
    if standing.session_id is not None:
        stay = stays.open_stay(tx.conn, standing.mac, standing.session_id, errand.device.id)
    if stay is not None:
        close_gone(tx, stay)
    else:
        leave(tx, standing)
