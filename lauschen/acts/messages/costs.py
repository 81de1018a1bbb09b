"""What sending costs, by the months of the site's calendar."""

from datetime import datetime

from lauschen.core.messages.message import Channel
from lauschen.road.tx import Tx
from lauschen.store.messages import outbox


def note_cost(tx: Tx, channel: Channel) -> None:
    """One more was sent, at the price that is set now."""
    text = tx.config.channels.text
    price, currency = (text.price, text.currency) if channel is Channel.TEXT and text is not None else (0, "")
    month = f"{datetime.fromtimestamp(tx.now, tx.config.zone):%Y-%m}"
    outbox.add_cost(tx.conn, month=month, channel=channel, currency=currency, price=price)
