"""What waits to be sent is tried at once, after its server was set up or mended."""

from lauschen.acts.mass.intents import Pieces, begin_pieces
from lauschen.core.messages.message import Channel
from lauschen.road.tx import Tx
from lauschen.store.messages import outbox
from lauschen.store.moving.intents import Intent

_KEYS = (Channel.MAIL, Channel.TEXT)


def hurry(tx: Tx, channel: Channel) -> None:
    """However many they are: after an outage ten thousand may wait."""
    begin_pieces(tx, HURRY, _KEYS.index(channel))


def _hurry_some(tx: Tx, intent: Intent, at_most: int) -> int:
    tx.has_messages = True
    return outbox.hurry(tx.conn, _KEYS[intent.key], tx.now, intent.at, at_most)


HURRY = Pieces("hurry_messages", _hurry_some)
