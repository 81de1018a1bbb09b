"""Syslog servers and webhooks are told of what they are to hear of."""

from collections.abc import Mapping

from lauschen.acts.messages.writing import note_not_written, write_message
from lauschen.core.errors import Invalid
from lauschen.core.ids import ChannelId
from lauschen.core.messages.channels import Channels
from lauschen.core.messages.message import About, Channel, Draft, Kind
from lauschen.road.tx import Tx

LANG = "en"
"""The console's language."""


def that_hear(channels: Channels, kind: Kind) -> list[tuple[Channel, ChannelId]]:
    """The machines that are to hear of it."""
    found = [(Channel.SYSLOG, one.id) for one in channels.syslog if kind in one.hears]
    return found + [(Channel.WEBHOOK, one.id) for one in channels.webhooks if kind in one.hears]


def tell_machines(tx: Tx, kind: Kind, words: Mapping[str, str], about: About) -> None:
    """One message for each that hears of it. What cannot be written is noted, and holds up nothing."""
    for channel, receiver in that_hear(tx.config.channels, kind):
        try:
            write_message(tx, Draft(channel, kind, LANG, "", dict(words), about, receiver))
        except Invalid as refused:
            note_not_written(tx, kind, refused, mac=about.mac, network=about.network)
