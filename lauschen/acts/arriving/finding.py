"""From what is offered to what it leads to: a grant that exists, or one that would be issued at the door."""

from lauschen.core.decide.grant import Grant
from lauschen.core.decide.reason import Reason
from lauschen.core.ids import Mac, NetworkId
from lauschen.core.limits.use import Use
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import AtDoor, Finder, GoodPasscode, Lead
from lauschen.core.ways.passcode import Passcode
from lauschen.core.ways.ways import Offer
from lauschen.road.tx import Tx
from lauschen.store import credentials

Found = dict[tuple[Finder, Mac | None], Grant | None]


def find_grant(tx: Tx, network: NetworkId, mac: Mac, offer: Offer) -> tuple[Grant | None, Reason | None]:
    """The grant by the first way of the network that knows it, or why there is none."""
    at = AtDoor(network, mac, tx.now, tx.config.house_rules.version, passcodes_now(tx, network))
    fault: Reason | None = None
    looked: Found = {}
    for way in tx.config.networks[network].ways:
        if way.is_off:
            continue
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
            if not way.is_open(tx.now):
                if found is not None or lead.plan is not None:
                    fault = Reason.WAY_CLOSED
                continue
            if found is not None and not way.begins_anew(found.use, tx.now) and not _is_old(found, lead):
                return found, None
            if lead.plan is not None:
                made = Grant(
                    way.way,
                    lead.plan,
                    Use(tx.now),
                    None,
                    None,
                    role=lead.role,
                    trusted=lead.trusted,
                    finder=lead.finder,
                )
                return made, None
            fault = fault or offer.missing
    if fault is offer.missing and any(looked.values()):
        fault = Reason.NOT_OFFERED  # it is good, but not here
    return None, fault or Reason.NOT_OFFERED


def passcodes_now(tx: Tx, network: NetworkId) -> list[GoodPasscode]:
    """Those that are good on this network; none where no passcode is offered."""
    way = tx.config.networks[network].way(WayIn.PASSCODE)
    return tx.config.passcodes(network, tx.keys.token_key, tx.now) if isinstance(way, Passcode) else []


def _is_old(found: Grant, lead: Lead) -> bool:
    first = found.use.first_used
    return lead.anew_before is not None and first is not None and first < lead.anew_before
