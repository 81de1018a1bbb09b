"""One slice of whatever mass work is under way, after the act or the packet that began it, or after a restart."""

from lauschen.acts.desk.reaching import LET_GO, TELL
from lauschen.acts.mass.intents import work
from lauschen.acts.staying.restarting import RESTART
from lauschen.road.tx import Tx
from lauschen.store.moving import intents

_KINDS = {kind.name: kind for kind in (RESTART, LET_GO, TELL)}


def do_slice(tx: Tx) -> bool:
    """Return whether more is due."""
    intent = intents.next_due(tx.conn, tx.now)
    if intent is None:
        return False
    work(tx, _KINDS[intent.kind], intent)
    return intents.is_any_due(tx.conn, tx.now)
