"""Who may sign in."""

from lauschen.road.tx import Tx
from lauschen.store import staff


def put_first_password(tx: Tx, name: str, password_hash: str, *, good_for_s: float) -> None:
    """For somebody new or known; must be changed at first use, and all their sessions end."""
    staff.put_first_password(tx.conn, name, password_hash, until=tx.now + good_for_s)
    tx.log("first_password", facts={"name": name})
