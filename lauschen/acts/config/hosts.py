"""The list of hosts: taken up, changed, let go."""

from dataclasses import replace

from lauschen.acts.config.changes import there
from lauschen.acts.config.record import changes
from lauschen.core.config.checks import check_room
from lauschen.core.config.host import Host
from lauschen.core.errors import Invalid
from lauschen.core.ids import HostId
from lauschen.core.ways.sponsor import Sponsor
from lauschen.core.words.addresses import read_mail
from lauschen.road.tx import Tx
from lauschen.store.config import hosts as stored

LONGEST_NAME = 60
LANGS = ("en", "de")
LONGEST_S = 366 * 24 * 60
MOST_AT_ONCE = 500


def save_host(tx: Tx, wanted: Host) -> HostId:
    """A new one when its id is 0. Invalid says what of it cannot be."""
    wanted = replace(
        wanted,
        name=" ".join(wanted.name.split()),
        mail=read_mail(wanted.mail),
        department=wanted.department.strip(),
    )
    _check(tx, wanted)
    if wanted.id == 0:
        check_room("host", len(tx.config.hosts))
        added = stored.add_host(tx.conn, wanted)
        tx.log("host_added", facts={"host": wanted.name})
        return added
    there(tx.config.hosts, wanted.id, "host")
    stored.save_host(tx.conn, wanted)
    facts = {"host": wanted.name, **changes(tx.config, tx.config.hosts.get(wanted.id), wanted)}
    tx.log("host_changed", facts=facts)
    return wanted.id


def remove_host(tx: Tx, host: HostId) -> None:
    """Nobody can ask them any more; what they vouched for goes on. Invalid while they stand in for others."""
    found = there(tx.config.hosts, host, "host")
    for network in tx.config.networks.values():
        if any(isinstance(way, Sponsor) and way.stand_in == host for way in network.ways):
            mend = f"{found.name} is asked on {network.name} when nobody answers: choose somebody else there first."
            raise Invalid("host_stands_in", field="name", mend=mend)
    stored.remove_host(tx.conn, host, tx.now)
    tx.log("host_removed", facts={"host": found.name})


def _check(tx: Tx, wanted: Host) -> None:
    if not wanted.name or len(wanted.name) > LONGEST_NAME:
        raise Invalid("host_name", field="name", mend=f"A name of up to {LONGEST_NAME} letters.")
    mail = wanted.mail.casefold()
    same = next(
        (one for one in tx.config.hosts.values() if one.mail.casefold() == mail and one.id != wanted.id), None
    )
    if same is not None:
        raise Invalid("host_mail_taken", field="mail", mend=f"{same.name} has this address already.")
    if len(wanted.department) > LONGEST_NAME:
        raise Invalid("host_department", field="department", mend=f"Up to {LONGEST_NAME} letters.")
    if wanted.lang not in LANGS:
        raise Invalid("host_lang", field="lang", mend="English or German.")
    for network in wanted.networks:
        if network not in tx.config.networks:
            raise Invalid("host_network", field="networks", mend="Choose those that are there.")
    for plan in wanted.plans:
        if plan not in tx.config.plans or tx.config.plans[plan].is_removed:
            raise Invalid("host_plan", field="plans", mend="Choose those that are there.")
    if wanted.longest_minutes is not None and not 5 <= wanted.longest_minutes <= LONGEST_S:
        raise Invalid("host_longest", field="longest_minutes", mend="Between five minutes and a year.")
    if wanted.at_once is not None and not 1 <= wanted.at_once <= MOST_AT_ONCE:
        raise Invalid("host_at_once", field="at_once", mend=f"1 to {MOST_AT_ONCE} guests at once.")
