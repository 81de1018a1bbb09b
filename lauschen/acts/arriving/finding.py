"""From what is offered to what it leads to: a grant that exists, or one that would be issued at the door."""

from lauschen.core.decide.grant import Grant
from lauschen.core.decide.reason import Reason
from lauschen.core.ids import Mac, NetworkId
from lauschen.core.limits.use import Use
from lauschen.core.ways.ways import Offer
from lauschen.road.tx import Tx
from lauschen.store import credentials


def find_grant(tx: Tx, network: NetworkId, mac: Mac, offer: Offer) -> tuple[Grant | None, Reason | None]:
    """The grant, or why there is none."""
    way = tx.house.networks[network].way(offer.way)
    if way is None:
        return None, Reason.NOT_OFFERED
    fault = offer.fault(tx.house.house_rules.version)
    if fault is not None:
        return None, fault
    whose = mac if way.counts_per_device else None
    found = credentials.find(tx.conn, tx.keys, offer.finder(mac), whose)
    if found is not None and not way.begins_anew(found.use, tx.now):
        return found, None
    if way.plan is None:
        return None, offer.missing
    return Grant(way.way, way.plan, Use(tx.now), None, None), None
