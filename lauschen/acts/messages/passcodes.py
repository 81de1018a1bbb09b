"""Whoever hands out a passcode is told of each new one."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from lauschen.acts.messages.machines import LANG, that_hear
from lauschen.acts.messages.writing import note_not_written, write_message
from lauschen.core.config.config import Config
from lauschen.core.errors import Invalid
from lauschen.core.ids import ChannelId, NetworkId
from lauschen.core.messages.message import About, Channel, Draft, Kind
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import GoodPasscode
from lauschen.core.ways.passcode import Passcode
from lauschen.road.tx import Tx
from lauschen.sentences.slips import day_words
from lauschen.store.config import passcodes as stored
from lauschen.store.keys import KeyRing


@dataclass(frozen=True, slots=True)
class Untold:
    """Somebody who has not heard of the passcode of a network yet."""

    hearer: bytes
    network: NetworkId
    good: GoodPasscode
    channel: Channel
    to: str
    receiver: ChannelId | None


def untold(config: Config, keys: KeyRing, now: float, told: Mapping[bytes, float]) -> list[Untold]:
    """All who are to hear of a passcode, and did not of the newest."""
    found = []
    for network in config.networks.values():
        way = network.way(WayIn.PASSCODE)
        if not isinstance(way, Passcode) or way.is_off:
            continue
        hearers = _hearers(config, way)
        good = config.passcodes(network.id, keys.token_key, now)[:1] if hearers else []
        for one in good:
            for channel, to, receiver in hearers:
                mark = keys.lookup_hash(f"told {network.id} {channel} {to or receiver}")
                if told.get(mark) != one.since:
                    found.append(Untold(mark, network.id, one, channel, to, receiver))
    return found


def tell_passcodes(tx: Tx) -> dict[bytes, float]:
    """Writes to all who were not told yet; who knows of which now."""
    told = stored.told(tx.conn)
    for one in untold(tx.config, tx.keys, tx.now, told):
        _tell(tx, one)
        stored.note_told(tx.conn, one.hearer, one.good.since)
        told[one.hearer] = one.good.since
    return told


def _hearers(config: Config, way: Passcode) -> list[tuple[Channel, str, ChannelId | None]]:
    found: list[tuple[Channel, str, ChannelId | None]] = [(_channel(to), to, None) for to in way.tells]
    return found + [(channel, "", one) for channel, one in that_hear(config.channels, Kind.PASSCODE)]


def _tell(tx: Tx, one: Untold) -> None:
    config = tx.config
    words = {
        "network": config.networks[one.network].name,
        "code": one.good.text,
        "until": _until(one.good.until, config),
        "site": config.site_name,
    }
    draft = Draft(one.channel, Kind.PASSCODE, LANG, one.to, words, About(network=one.network), one.receiver)
    try:
        # The house itself asked for it: only what a day of text messages may cost bounds it.
        write_message(tx, draft, is_ours=True)
    except Invalid as refused:
        note_not_written(tx, Kind.PASSCODE, refused, network=one.network)


def _channel(to: str) -> Channel:
    return Channel.MAIL if "@" in to else Channel.TEXT


def _until(until: float | None, config: Config) -> str:
    if until is None:
        return "further notice"
    return day_words(datetime.fromtimestamp(until, config.zone), LANG)
