"""A stay is over: said, silent, or gone at its access device."""

from lauschen.acts.staying.comings import gone
from lauschen.road.tx import Tx
from lauschen.store import admissions, stays
from lauschen.store.stays import GONE, LOST, Stay


def end(tx: Tx, stay: Stay, at: float, cause: str) -> None:
    """It ends, whatever that means to where its device stands."""
    stays.end_stay(tx.conn, stay, at, cause)
    tx.memory.forget_stay(stay)
    tx.memory.forget_elsewhere(stay.mac)  # it is at fewer places now, however this one ended
    if stay.network is not None:
        admissions.set_seats(tx.conn, stay.mac, stay.network, 1)


def close_lost(tx: Tx, stay: Stay) -> None:
    """Nothing was heard of it for three intervals; a late packet opens it again."""
    end(tx, stay, stay.last_event, LOST)
    gone(tx, stay)


def close_gone(tx: Tx, stay: Stay) -> None:
    """Its access device says that there is no such session; a late packet opens it again."""
    end(tx, stay, stay.last_event, GONE)
    gone(tx, stay)
