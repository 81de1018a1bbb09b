"""One slice of whatever mass work is under way, after the act or the packet that began it, or after a restart."""

from lauschen.acts.desk.reaching import LET_GO, TELL
from lauschen.acts.messages.hurrying import HURRY
from lauschen.acts.staying.everybody import BY_NETWORK, BY_PLAN
from lauschen.acts.staying.restarting import RESTART
from lauschen.acts.staying.spent import SPENT
from lauschen.road.tx import Tx
from lauschen.store.moving import intents

_KINDS = {kind.name: kind for kind in (RESTART, SPENT, LET_GO, TELL, BY_PLAN, BY_NETWORK, HURRY)}


def do_slice(tx: Tx) -> bool:
    """Return whether more is due."""
    intent = intents.next_due(tx.conn, tx.now)
    if intent is None:
        return False
    _KINDS[intent.kind].do_slice(tx, intent)
    return intents.is_any_due(tx.conn, tx.now)
