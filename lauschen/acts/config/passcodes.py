"""Passcodes by hand: another one now, and the end of an overlap."""

from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import NetworkId
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.passcode import LONGEST, SHORTEST, Passcode, Schedule
from lauschen.core.words.plain import plain_words
from lauschen.road.tx import Tx
from lauschen.store.config import passcodes

LONGEST_TEXT = 40


def check_passcode(way: Passcode) -> None:
    """Invalid for what no passcode can be."""
    if not SHORTEST <= way.length <= LONGEST:
        raise Invalid("passcode_length", field="ways", mend=f"A passcode has {SHORTEST} to {LONGEST} signs.")
    if way.schedule is Schedule.HOURLY and 24 % way.every_hours:
        mend = "Every 1, 2, 3, 4, 6, 8 or 12 hours, so that each day has the same times."
        raise Invalid("passcode_hours", field="ways", mend=mend)


def new_passcode(tx: Tx, network: NetworkId, text: str | None = None) -> None:
    """*New one now*: a text, or another one by the same rule. The one before goes on for its overlap."""
    way = _way(tx, network)
    if text is None and way.schedule is Schedule.NEVER:
        raise Invalid("passcode_text", field="text", mend="A fixed passcode is what you write.")
    if text is not None:
        words = plain_words(text)
        if len(words) < SHORTEST or len(text) > LONGEST_TEXT:
            mend = f"{SHORTEST} letters and digits at least, {LONGEST_TEXT} at most."
            raise Invalid("passcode_text", field="text", mend=mend)
        text = text.strip()
    passcodes.renew(tx.conn, tx.keys, network, text, tx.now)
    tx.log("passcode_renewed", network=network)


def end_overlap(tx: Tx, network: NetworkId) -> None:
    """*End the overlap now*: the one before lets nobody in any more; who is in by it stays in."""
    _way(tx, network)
    passcodes.end_overlap(tx.conn, network, tx.now)
    tx.log("passcode_overlap_ended", network=network)


def _way(tx: Tx, network: NetworkId) -> Passcode:
    found = tx.config.networks.get(network)
    way = None if found is None else found.way(WayIn.PASSCODE)
    if not isinstance(way, Passcode):
        raise NotThere("passcode")
    return way
