"""The devices of one credential, for a visit that typed it: who they are, and sending one of them out."""

from lauschen.acts.moving.moves import end_stay
from lauschen.acts.page.visiting import find_visit
from lauschen.core.config.config import Config
from lauschen.core.decide.grant import Grant
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import Standing
from lauschen.core.errors import NotThere
from lauschen.core.ids import CredentialId, Mac, NetworkId
from lauschen.core.limits.seats import Seats
from lauschen.road.tx import Tx
from lauschen.store import devices
from lauschen.store.visits import Visit


def shared_credential(config: Config, visit: Visit, standing: Standing, grant: Grant) -> bool:
    """Whether what let the device in is one person's, or a party's.

    Of a passcode or an agreement each device has its own; what is for any number of devices is for strangers.
    """
    found = config.networks[visit.network].way(grant.way)
    is_own = standing.admission is not None and standing.admission == visit.admission
    is_shared = found is not None and not found.counts_per_device and grant.seats is not Seats.ANY
    return is_own and is_shared


def send_out(tx: Tx, visit_id: str, source: str, mac: Mac, network: NetworkId) -> None:
    """Ends the stay of another device by the same credential, or forgets one that is away; NotThere for others."""
    visit = find_visit(tx, visit_id, source)
    credential = _credential(tx, visit)
    for standing in devices.standings_where_admitted(tx.conn, credential):
        if (standing.mac, standing.network) == (mac, network) and mac != visit.mac:
            end_stay(tx, standing, Reason.LOGGED_OUT)
            tx.log("sent_out", mac=mac, network=network, access_device=standing.access_device)
            return
    raise NotThere("device")


def _credential(tx: Tx, visit: Visit) -> CredentialId:
    """What this very visit typed; it says who asks only where it is one person's."""
    standing = devices.find_standing(tx.conn, visit.mac, visit.network)
    admission = devices.open_admission_of(tx.conn, visit.mac, visit.network)
    if standing is None or admission is None or admission.grant.credential is None:
        raise NotThere("stay")
    if not shared_credential(tx.config, visit, standing, admission.grant):
        raise NotThere("stay")
    return admission.grant.credential
