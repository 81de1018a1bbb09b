"""A message is written in the transaction that wants it; whether there may be one more is decided there too."""

from lauschen.core.errors import Invalid
from lauschen.core.ids import Mac, MessageId, NetworkId
from lauschen.core.messages.budgets import (
    ADDRESS_DAY,
    DEVICE_DAY,
    DOMAIN_DAY,
    HOST_DAY,
    NETWORK_DAY,
    Spent,
    budget_over,
    texts_for_guests,
)
from lauschen.core.messages.message import Channel, Draft, Kind
from lauschen.road.tx import Tx
from lauschen.store.messages import outbox

_OVER = {
    "address": f"{ADDRESS_DAY} messages went to this address within a day. It can be written to again later.",
    "host": f"{HOST_DAY} messages went to this host within a day. The next can go again later.",
    "domain": f"{DOMAIN_DAY} messages went to this domain within a day. It can be written to again later.",
    "device": f"{DEVICE_DAY} messages were asked for by this device within a day. That must do for today.",
    "network": f"{NETWORK_DAY} messages were asked for on this network within a day. That must do for today.",
    "texts": "The text messages of this day are used up. *Settings* says how many there are.",
}


def write_message(tx: Tx, draft: Draft, *, is_ours: bool = False, to_host: bool = False) -> MessageId:
    """Into the outbox. Invalid when its channel is not set up, or a budget is used up.

    `by_house`: no guest can bring it about, so the budgets of addresses and networks do not count. `to_host`: an
    address of the house, which many guests may bring mail to.
    """
    check_channel(tx, draft.channel)
    gateway = tx.config.channels.text
    texts_day = gateway.texts_day if gateway is not None and draft.channel is Channel.TEXT else None
    if texts_day is not None and draft.about.mac is not None:
        texts_day = texts_for_guests(texts_day)
    spent = outbox.spent(tx.conn, tx.keys, draft, tx.now)
    over = budget_over(Spent(texts=spent.texts) if is_ours else spent, texts_day, to_host=to_host)
    if over is not None:
        raise Invalid("messages_many", field="to", mend=_OVER[over])
    written = outbox.add_message(tx.conn, tx.keys, draft, mark=tx.chance.name(12), now=tx.now)
    tx.has_messages = True
    return written


def note_not_written(
    tx: Tx, kind: Kind, refused: Invalid, *, network: NetworkId | None, mac: Mac | None = None
) -> None:
    """For whatever must go on without it: the log says why nobody could be written to."""
    tx.log("message_not_written", mac=mac, network=network, facts={"about": kind, "answer": refused.mend})


def check_channel(tx: Tx, channel: Channel) -> None:
    """Invalid when nothing carries it."""
    if channel is Channel.MAIL and tx.config.channels.mail is None:
        raise Invalid("no_mail", field="to", mend="No mail server is set yet: *Settings* has its place.")
    if channel is Channel.TEXT and tx.config.channels.text is None:
        raise Invalid("no_text", field="to", mend="No text gateway is set yet: *Settings* has its place.")


def send_again(tx: Tx, message: MessageId) -> MessageId:
    """What was given up, as a message of its own to the same address. Invalid for what it said no more."""
    found = outbox.get_message(tx.conn, tx.keys, message)
    if found is None or not found.words:
        mend = "What it said is kept no longer. Send the pass again from the desk."
        raise Invalid("message_gone", field="message", mend=mend)
    if found.next_at is not None:
        outbox.postpone(tx.conn, message, tx.now)
        tx.has_messages = True
        return message
    draft = Draft(found.channel, found.kind, found.lang, found.to, found.words, found.about, found.receiver)
    return write_message(tx, draft)
