"""Which lines of the log, and which sentences of Now, somebody may see."""

from sqlite3 import Connection

from lauschen.api.now.models import Attention
from lauschen.core.ids import Mac, NetworkId
from lauschen.core.people.sight import Sight
from lauschen.core.words.mac import read_mac
from lauschen.store import admissions, log


def sees_row(conn: Connection, sight: Sight, row: log.LogRow) -> bool:
    """Return whether a line of the log is theirs to see: what they did, and what happened to guests they may see."""
    if not sight.own_only:
        return sight.sees(row.network)
    if isinstance(row, log.EventRow) and row.actor is not None and row.actor.staff == sight.staff:
        return True
    if row.mac is None or row.network is None:
        return False
    return _sees_device(conn, sight, row.mac, row.network)


def sees_attention(conn: Connection, sight: Sight, one: Attention) -> bool:
    """Return whether it is theirs to see. That nothing can be stored is for everybody."""
    if one.network is None or one.kind == "trouble":
        return not sight.networks or one.kind == "trouble"
    network, mac = NetworkId(one.network), None if one.mac is None else read_mac(one.mac)
    return sight.sees(network) and (mac is None or _sees_device(conn, sight, mac, network))


def _sees_device(conn: Connection, sight: Sight, mac: Mac, network: NetworkId) -> bool:
    if not sight.own_only:
        return sight.sees(network)
    credential, issuer = admissions.last_in_by(conn, mac, network)
    return sight.sees_guest(network, issuer, has_credential=credential is not None)
