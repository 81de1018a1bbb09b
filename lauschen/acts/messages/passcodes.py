"""Whoever hands out a passcode is told of each new one."""

from datetime import datetime

from lauschen.acts.messages.writing import write_message
from lauschen.core.errors import Invalid
from lauschen.core.house.house import House
from lauschen.core.ids import NetworkId
from lauschen.core.messages.channels import SyslogServer, Webhook
from lauschen.core.messages.message import About, Channel, Draft, Kind
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import GoodPasscode
from lauschen.core.ways.passcode import Passcode
from lauschen.road.tx import Tx
from lauschen.store.house import passcodes as stored

LANG = "en"
"""The console's language: they are the house's own people."""


def passcodes_now(house: House, key: bytes, now: float) -> dict[NetworkId, GoodPasscode]:
    """The newest passcode of each network where somebody is told of it."""
    receivers: list[SyslogServer | Webhook] = [*house.channels.syslog, *house.channels.webhooks]
    hears = any(Kind.PASSCODE in one.hears for one in receivers)
    found = {}
    for network in house.networks.values():
        way = network.way(WayIn.PASSCODE)
        if isinstance(way, Passcode) and not way.is_off and (way.tells or hears):
            good = house.passcodes(network.id, key, now)
            if good:
                found[network.id] = good[0]
    return found


def tell_passcodes(tx: Tx) -> dict[NetworkId, float]:
    """Writes to all who are to hear of one that they were not told of yet; since when each holds."""
    told = stored.told(tx.conn)
    for network, good in passcodes_now(tx.house, tx.keys.token_key, tx.now).items():
        if told.get(network) != good.since:
            _tell(tx, network, good)
            stored.note_told(tx.conn, network, good.since)
            told[network] = good.since
    return told


def _tell(tx: Tx, network: NetworkId, good: GoodPasscode) -> None:
    house = tx.house
    found = house.networks[network]
    words = {
        "network": found.name,
        "code": good.text,
        "until": _until(good.until, house),
        "site": house.site_name,
    }
    way = found.way(WayIn.PASSCODE)
    assert isinstance(way, Passcode)
    drafts = [Draft(_channel(to), Kind.PASSCODE, LANG, to, words) for to in way.tells]
    for channel, receivers in (
        (Channel.SYSLOG, house.channels.syslog),
        (Channel.WEBHOOK, house.channels.webhooks),
    ):
        drafts += [
            Draft(channel, Kind.PASSCODE, LANG, "", words, About(network=network), one.id)
            for one in receivers
            if Kind.PASSCODE in one.hears
        ]
    for draft in drafts:
        try:
            # The house itself asked for these: only what a day of text messages may cost bounds them.
            write_message(tx, draft, by_house=True)
        except Invalid as refused:
            tx.log(
                "message_not_written", network=network, facts={"about": Kind.PASSCODE, "answer": refused.mend}
            )


def _channel(to: str) -> Channel:
    return Channel.MAIL if "@" in to else Channel.TEXT


def _until(until: float | None, house: House) -> str:
    if until is None:
        return "further notice"
    then = datetime.fromtimestamp(until, house.zone)
    return f"{then:%a} {then.day} {then:%b}, {then:%H:%M}"
