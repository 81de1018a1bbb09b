"""From what is offered to what it leads to: a grant that exists, or one that would be issued at the door."""

from lauschen.core.decide.grant import Grant
from lauschen.core.decide.reason import Reason
from lauschen.core.ids import Mac, NetworkId
from lauschen.core.limits.use import Use
from lauschen.core.ways.finder import Finder
from lauschen.core.ways.lead import AtDoor
from lauschen.core.ways.ways import Offer
from lauschen.road.tx import Tx
from lauschen.store import credentials

Found = dict[tuple[Finder, Mac | None], Grant | None]


def find_grant(tx: Tx, network: NetworkId, mac: Mac, offer: Offer) -> tuple[Grant | None, Reason | None]:
    """The grant by the first way of the network that knows it, or why there is none."""
    at = AtDoor(network, mac, tx.now, tx.house.house_rules.version)
    fault: Reason | None = None
    looked: Found = {}
    for way in tx.house.networks[network].ways:
        whose = mac if way.counts_per_device else None
        for lead in way.leads(offer, at):
            if isinstance(lead, Reason):
                fault = fault or lead
                continue
            key = lead.finder, whose
            found = looked[key] if key in looked else credentials.find(tx.conn, tx.keys, *key)
            looked[key] = found
            if found is not None and found.way is not way.way:
                found = None
            if found is not None and not way.begins_anew(found.use, tx.now):
                return found, None
            if lead.plan is not None:
                return Grant(way.way, lead.plan, Use(tx.now), None, None, finder=lead.finder), None
            fault = fault or offer.missing
    if fault is offer.missing and any(looked.values()):
        fault = Reason.NOT_OFFERED  # it is good, but not here
    return None, fault or Reason.NOT_OFFERED
