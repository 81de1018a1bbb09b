"""What a network offers to let in."""

from collections.abc import Sequence
from dataclasses import replace

from lauschen.acts.config.changes import save_network, there
from lauschen.acts.config.passcodes import check_passcode
from lauschen.core.config.network import GuestNetwork, Match
from lauschen.core.config.pools import check_pool
from lauschen.core.errors import Invalid
from lauschen.core.ids import NetworkId
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.passcode import Passcode
from lauschen.core.ways.passphrase import PrivatePassphrase, check_files, check_groups
from lauschen.core.ways.self_registration import SelfRegistration, check_registration
from lauschen.core.ways.sponsor import Sponsor, check_sponsor
from lauschen.core.ways.ways import Way
from lauschen.core.words.addresses import read_mail, read_phone
from lauschen.road.tx import Tx
from lauschen.store.passphrases import groups


def offer_ways(tx: Tx, network: NetworkId, ways: Sequence[Way]) -> None:
    """In this order. Whoever is in by one that is not offered any more stays in."""
    found = there(tx.config.networks, network, "network")
    _check_alone(found, ways)
    save_network(tx, replace(found, ways=tuple(_checked(tx, network, way) for way in ways)))


def _check_alone(network: GuestNetwork, ways: Sequence[Way]) -> None:
    """Invalid where some of a Wi-Fi's devices would need a key that those by its other ways do not have."""
    if not any(way.way is WayIn.PASSPHRASE for way in ways):
        return
    if len(ways) > 1:
        mend = (
            "Where devices have private passphrases, nobody can join by anything else. Take the others away."
        )
        raise Invalid("passphrase_alone", field="ways", mend=mend)
    if network.ssid.match is not Match.EXACT:
        mend = "A passphrase makes a key for one SSID: let the network be recognised by its exact SSID first."
        raise Invalid("passphrase_ssid", field="ways", mend=mend)


def _check_files_apart(tx: Tx, network: NetworkId, own: PrivatePassphrase) -> None:
    """Invalid for a file that another network writes: each would overwrite the other's passphrases."""
    names = {one.file for one in own.files}
    for other in tx.config.networks.values():
        way = other.way(WayIn.PASSPHRASE)
        if other.id == network or not isinstance(way, PrivatePassphrase):
            continue
        for one in way.files:
            if one.file in names:
                mend = f"{one.file} is the file of {other.name} already: choose another name."
                raise Invalid("key_files", field="ways", mend=mend)


def _checked(tx: Tx, network: NetworkId, way: Way) -> Way:
    if isinstance(way, SelfRegistration):
        check_registration(way)
    if isinstance(way, Sponsor):
        way = replace(
            way, domains=tuple(dict.fromkeys(one.strip().lower() for one in way.domains if one.strip()))
        )
        check_sponsor(way)
        if way.stand_in is not None and way.stand_in not in tx.config.hosts:
            raise Invalid("stand_in", field="ways", mend="Choose a host who is on the list.")
    if isinstance(way, PrivatePassphrase):
        check_groups(way)
        check_pool(tx.config, network, way, groups.owners(tx.conn, way.groups, tx.now))
        check_files(way)
        if any(one.access_device not in tx.config.access_devices for one in way.files):
            raise Invalid("key_files", field="ways", mend="Choose an access device that is there.")
        _check_files_apart(tx, network, way)
    if not isinstance(way, Passcode):
        return way
    check_passcode(way)
    gateway = tx.config.channels.text
    countries = gateway.countries if gateway is not None else ()
    tells = [read_mail(to, "ways") if "@" in to else read_phone(to, countries, "ways") for to in way.tells]
    return replace(way, tells=tuple(dict.fromkeys(tells)))
