"""One change on its way: what should hold at one place, who brings it about, and what comes of the answer."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

from lauschen.acts.arriving.arrivals import answer_arrival
from lauschen.acts.arriving.facts import as_if_asked, decide_now
from lauschen.acts.arriving.placing import put_wanted
from lauschen.acts.moving.moves import is_told_apart
from lauschen.acts.staying.comings import leave
from lauschen.acts.staying.endings import close_gone
from lauschen.core.config.access_device import AccessDevice
from lauschen.core.config.config import Config
from lauschen.core.config.dialect import Dialect, Move
from lauschen.core.decide.arrival import Arrival
from lauschen.core.decide.decision import Decision
from lauschen.core.decide.picture import AdmissionFacts
from lauschen.core.decide.standing import Standing, State
from lauschen.core.decide.wanted import ACCEPTED, Place
from lauschen.core.ids import RoleId
from lauschen.road.tx import Tx
from lauschen.store import devices, stays
from lauschen.store.moving import places

LATER_S = (60.0, 120.0, 300.0, 600.0)
FAILED = "failed"
"""It could not even be sent: something of ours raised."""


class Seen(StrEnum):
    """What an enforcer saw at the place when it was done."""

    NOTHING = "nothing"
    """It cannot see whether the change holds; that is heard of otherwise, or the request goes again."""
    HOLDS = "holds"
    """What was wanted holds there."""
    GONE = "gone"
    """The device is not there: no session, or whatever the enforcer knows it by."""


@dataclass(frozen=True, slots=True)
class Saw:
    """What an enforcer reports."""

    answer: str
    """`accepted`, `silent`, or in a few words what was answered instead: it is shown and kept in the log."""
    seen: Seen = Seen.NOTHING
    how: Move | None = None
    """By what, where that is not what the dialect says."""


@dataclass(frozen=True, slots=True)
class Errand:
    """What should hold at one place, with everything that any enforcer needs to bring it about."""

    place: Place
    standing: Standing
    """Of the device. Its session and address are those of the place."""
    lets_in: bool
    role: RoleId | None
    """None: the place should hold nothing."""
    config: Config
    device: AccessDevice
    dialect: Dialect
    how: Move
    """As the dialect says."""
    arrival: Arrival
    decision: Decision
    """What the device would be told if it asked now."""
    admission: AdmissionFacts | None
    began: float | None
    """When its session began, if it is known."""


class Enforcer(Protocol):
    """Brings about what should hold at places of one kind, and says what it saw. It knows of no other enforcer."""

    def takes(self, errand: Errand) -> bool:
        """Return whether this place is one of its kind."""

    async def bring_about(self, errand: Errand) -> Saw:
        """One attempt, however long that takes. What it raises is counted, and tried again later."""


def later(place: Place) -> float:
    """Seconds until a change that was not confirmed goes again."""
    return LATER_S[min(place.tries, len(LATER_S) - 1)]


def make_errand(tx: Tx, place: Place) -> Errand | None:
    """None when the session there has ended or been replaced: a late request must not end the next one."""
    standing = devices.find_standing(tx.conn, place.mac, place.network)
    device = tx.config.access_devices.get(place.access_device)
    if standing is None or standing.state is State.LEFT or device is None:
        return None
    if place.network not in tx.config.networks:
        return None
    dialect = tx.config.dialects[device.dialect]
    stay = None
    if place.session_id:
        stay = stays.newest_of_session(tx.conn, place.mac, place.session_id, place.access_device)
    is_here = standing.at == place.at
    if not is_here:
        if not is_told_apart(tx.config, place, standing):
            return None
        standing.access_device, standing.session_id = place.access_device, place.session_id
        standing.spelled, standing.source, standing.framed_ip = place.spelled, place.source, None
    decision, picture = decide_now(tx, standing)
    if is_here:
        put_wanted(tx, standing, decision)
    admission, role, lets_in = picture.admission, decision.role, standing.wanted is State.INSIDE
    if place.is_left:
        admission, role, lets_in = None, None, False
    move = dialect.login_move if lets_in else dialect.end_move
    if move is Move.POSTED or (role is None and move in (Move.ATTRIBUTES, Move.REAUTHORISE)):
        move = Move.DISCONNECT  # no guest is at the page, or there is nothing that it could be placed in
    return Errand(
        place, standing, lets_in, role, tx.config, device, dialect, move, as_if_asked(standing), decision, admission,
        stay.started if stay is not None and stay.ended is None else None,
    )  # fmt: skip


def give_up_when_over(tx: Tx, place: Place) -> bool:
    """True when what was to be changed has ended by itself meanwhile, unconfirmed to the last."""
    if place.over_at is None or tx.now < place.over_at:
        return False
    places.forget(tx.conn, place.mac, place.network, place.access_device, place.session_id)
    standing = devices.find_standing(tx.conn, place.mac, place.network)
    is_out = standing is None or standing.wanted is not State.INSIDE
    if standing is not None and standing.at == place.at:
        if is_out:
            leave(tx, standing)
        else:
            standing.wanted = standing.state
            tx.write_standing(standing)
    tx.log(
        "given_up",
        mac=place.mac,
        network=place.network,
        access_device=place.access_device,
        facts={"what": "out" if is_out else "in", "answer": place.last_answer},
    )
    return True


def note_answer(tx: Tx, errand: Errand, saw: Saw) -> None:
    """An accepted request is not yet a confirmed change: it goes again unless the new placement is heard, or its
    enforcer saw that it holds (rulings 2.2)."""
    place = errand.place
    tx.log(
        "device_answered",
        mac=place.mac,
        network=place.network,
        access_device=errand.device.id,
        facts={"answer": saw.answer, "how": saw.how or errand.how, "what": "in" if errand.lets_in else "out"},
    )
    is_newest = places.note_answer(
        tx.conn,
        place,
        answer=None if saw.answer == ACCEPTED else saw.answer,
        at=tx.now,
        tries=place.tries + 1,
        next_at=tx.now + later(place),
    )
    if not is_newest:
        return
    standing = devices.find_standing(tx.conn, place.mac, place.network)
    is_here = standing is not None and standing.at == place.at
    if standing is None or (not is_here and _is_over_there(errand, saw)):
        places.forget(tx.conn, place.mac, place.network, place.access_device, place.session_id)
    elif is_here and saw.seen is Seen.GONE:
        _end_session(tx, errand, standing)
    elif saw.seen is Seen.HOLDS:
        # Decided again with the facts of now; a change of them since then has made a newer revision.
        answer_arrival(tx, errand.arrival)


def _is_over_there(errand: Errand, saw: Saw) -> bool:
    """Whether a place that is not the device's own holds no session of it any more."""
    is_ended = saw.answer == ACCEPTED and (saw.how or errand.how) is Move.DISCONNECT
    if errand.role is None:
        return saw.answer == ACCEPTED or saw.seen is not Seen.NOTHING
    return is_ended or saw.seen is Seen.GONE


def _end_session(tx: Tx, errand: Errand, standing: Standing) -> None:
    """What was to be changed is gone already: its stay ends, and no change is left (rulings 8.4)."""
    stay = None
    if standing.session_id is not None:
        stay = stays.open_stay(tx.conn, standing.mac, standing.session_id, errand.device.id)
    if stay is not None:
        close_gone(tx, stay)
    else:
        leave(tx, standing)
