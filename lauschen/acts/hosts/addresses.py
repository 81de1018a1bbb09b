"""Where a guest who asked for a host can be written to."""

from lauschen.acts.messages.passes import Address
from lauschen.core.messages.channels import Channels
from lauschen.core.messages.message import Channel
from lauschen.core.ways.offers.fields import MAIL, PHONE
from lauschen.store.hosts.vouchings import Vouching


def address_of(channels: Channels, vouching: Vouching) -> Address | None:
    """By what they said, and what carries it; None: they cannot be."""
    answers = vouching.answers
    if answers.get(MAIL) and channels.mail is not None:
        return Address(Channel.MAIL, answers[MAIL], vouching.lang)
    if answers.get(PHONE, "").startswith("+") and channels.text is not None:
        return Address(Channel.TEXT, answers[PHONE], vouching.lang)
    return None
