"""What time alone brings about: what the clock alone changes, bars that end, seats that nobody took."""

from dataclasses import dataclass

from lauschen.acts.arriving.placing import enter
from lauschen.acts.desk.helping import lift_bar_by_tries
from lauschen.acts.passphrases.changing import end_old_keys
from lauschen.acts.staying.reconsidering import reconsider
from lauschen.acts.staying.reports import close_lost
from lauschen.core.decide.standing import State
from lauschen.core.ids import Mac
from lauschen.core.limits.left import DOOR_SESSION_S, INTERIM_S
from lauschen.road.tx import Tx
from lauschen.store import admissions, devices, stays

AT_ONCE = 50
"""Some milliseconds of ends; packets are served between slices."""
WALKED_AT_ONCE = 500
"""Open stays looked at in one turn."""
DOOR_GRACE_S = 600
"""A device before login asks again at Doorstep's time-out; silence beyond this means that it has left."""
OVER_GRACE_S = 10
"""The access device keeps Session-Timeout itself; this long after it we do."""
SEAT_GRACE_S = 120


@dataclass(slots=True)
class Swept:
    """How much was done; a full slice means that there is more."""

    reconsidered: int
    has_more: bool


class Sweeper:
    """Walks over the open stays from turn to turn, for those that fell silent."""

    def __init__(self) -> None:
        self._walked_to = Mac(0)

    def sweep(self, tx: Tx) -> Swept:
        """One slice of everything that became due by `tx.now`."""
        lost, self._walked_to = stays.silent_stays(
            tx.conn, tx.now, INTERIM_S, self._walked_to, WALKED_AT_ONCE
        )
        close_lost(tx, lost)
        return _sweep(tx)


def _sweep(tx: Tx) -> Swept:
    due = devices.to_reconsider(tx.conn, tx.now - OVER_GRACE_S, AT_ONCE)
    for standing in due:
        reconsider(tx, standing)
    for mac in devices.ended_bars(tx.conn, tx.now, AT_ONCE):
        lift_bar_by_tries(tx, mac)
    gone = _leave_silently(tx)
    ended = end_old_keys(tx, AT_ONCE)
    seats = admissions.free_seats_without_stay(tx.conn, tx.now - SEAT_GRACE_S, AT_ONCE)
    return Swept(len(due), max(len(due), gone, seats, ended) >= AT_ONCE)


def _leave_silently(tx: Tx) -> int:
    gone = 0
    for network in tx.house.networks:
        silent = devices.silent_at_door(tx.conn, network, tx.now - DOOR_SESSION_S - DOOR_GRACE_S, AT_ONCE)
        for standing in silent:
            enter(standing, State.LEFT, tx.now)
            standing.session_id = standing.reconsider_at = None
            tx.write_standing(standing)
        gone += len(silent)
    return gone
