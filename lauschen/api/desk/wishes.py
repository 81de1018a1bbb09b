"""What somebody wants to be issued, from the shapes of the API to our own."""

from lauschen.acts.messages.passes import Address
from lauschen.api.desk.models import OwnTerms, SendTo
from lauschen.core.config.config import Config
from lauschen.core.ids import NetworkId
from lauschen.core.limits.civil import read_civil
from lauschen.core.limits.terms import Own, Terms
from lauschen.core.messages.message import Channel
from lauschen.core.words.addresses import read_mail, read_phone
from lauschen.store.batches import Said
from lauschen.store.people.issued_once import Once


def once_of(what: str, key: str | None, wish: OwnTerms) -> Once | None:
    """The request's own name, if it has one, and what it asks for."""
    return None if key is None else Once(key, f"{what} {wish.model_dump_json()}")


def said_of(wish: OwnTerms) -> Said:
    return Said(wish.label, wish.words.strip(), wish.note.strip(), wish.price)


def read_terms(config: Config, wish: OwnTerms) -> Terms:
    """Invalid for a moment that nobody can read."""
    own = Own(wish.seconds, wish.octets, wish.down_bps, wish.up_bps)
    return Terms(
        own=None if own == Own() else own,
        network=None if wish.network is None else NetworkId(wish.network),
        devices=wish.devices,
        seats=wish.seats,
        valid_from=None if wish.since is None else read_civil(wish.since, config.zone, "since"),
        valid_until=None if wish.until is None else read_civil(wish.until, config.zone, "until"),
    )


def read_address(config: Config, wish: SendTo | None) -> Address | None:
    """Where to send, if anywhere; Invalid for what is no address."""
    if wish is None:
        return None
    channel = Channel(wish.channel)
    if channel is Channel.MAIL:
        return Address(channel, read_mail(wish.to, "to"), wish.lang)
    gateway = config.channels.text
    return Address(channel, read_phone(wish.to, gateway.countries if gateway else (), "to"), wish.lang)
