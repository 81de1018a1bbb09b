"""What a network offers to let in, and the house rules that guests agree to."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from lauschen.acts.config.changes import save_network, there
from lauschen.acts.config.passcodes import check_passcode
from lauschen.core.errors import Invalid
from lauschen.core.ids import NetworkId
from lauschen.core.ways.passcode import Passcode
from lauschen.core.ways.self_registration import SelfRegistration, check_registration
from lauschen.core.ways.ways import Way
from lauschen.notify.addresses import read_mail, read_phone
from lauschen.road.tx import Tx
from lauschen.store.house import ways as stored

LONGEST_TEXT = 20_000


def offer_ways(tx: Tx, network: NetworkId, ways: Sequence[Way]) -> None:
    """In this order. Whoever is in by one that is not offered any more stays in."""
    found = there(tx.house.networks, network, "network")
    save_network(tx, replace(found, ways=tuple(_checked(tx, way) for way in ways)))


def _checked(tx: Tx, way: Way) -> Way:
    if isinstance(way, SelfRegistration):
        check_registration(way)
    if not isinstance(way, Passcode):
        return way
    check_passcode(way)
    gateway = tx.house.channels.text
    countries = gateway.countries if gateway is not None else ()
    tells = [read_mail(to, "ways") if "@" in to else read_phone(to, countries, "ways") for to in way.tells]
    return replace(way, tells=tuple(dict.fromkeys(tells)))


def write_house_rules(tx: Tx, texts: Mapping[str, str]) -> int:
    """A new version, unless nothing was changed; what was agreed to before stays readable."""
    kept = {lang: text.strip() for lang, text in texts.items() if text.strip()}
    if any(len(text) > LONGEST_TEXT for text in kept.values()):
        raise Invalid("house_rules_long", field="texts", mend=f"At most {LONGEST_TEXT} letters each.")
    before = tx.house.house_rules
    if dict(before.texts) == kept:
        return before.version
    version = stored.save_house_rules(tx.conn, kept, tx.now)
    tx.log("house_rules_written", facts={"version": version})
    return version
