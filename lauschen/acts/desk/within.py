"""Whether whoever acts may do it: the limits of one of the desk, as they are in this very transaction."""

from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import CredentialId, Mac, MessageId, NetworkId
from lauschen.core.limits.left import left
from lauschen.core.people.limits import NO_LIMITS, Limits, check_longest
from lauschen.core.people.sight import Sight
from lauschen.road.tx import Tx
from lauschen.store import admissions, allowances, credentials
from lauschen.store.messages import outbox
from lauschen.store.people import staff


def limits_of(tx: Tx) -> Limits:
    """Of who acts; hosts and guests have their own, and time has none."""
    return NO_LIMITS if tx.staff is None else staff.limits_of(tx.conn, tx.staff)


def sight_of(tx: Tx) -> Sight:
    """Of who acts, as it is in this very transaction."""
    limits = limits_of(tx)
    return Sight(limits.networks, tx.staff, limits.own_only)


def check_theirs(tx: Tx, credential: CredentialId) -> None:
    """NotThere when there is none that they may see; Invalid when it is not for the actor to change."""
    issued_by, network = credentials.issued_where(tx.conn, credential)
    if not sight_of(tx).sees_issued(network, issued_by):
        raise NotThere("voucher")
    if network is not None:
        check_there(tx, network)


def check_message(tx: Tx, message: MessageId) -> None:
    """NotThere for a message about something that is not theirs to see."""
    found = outbox.get_message(tx.conn, tx.keys, message)
    if found is None:
        raise NotThere("message")
    issuer, network = None, found.about.network
    if found.about.credential is not None:
        issuer, network = credentials.issued_where(tx.conn, found.about.credential)
    sight = sight_of(tx)
    is_issued = found.about.credential is not None
    if not (sight.sees_issued(network, issuer) if is_issued else sight.sees(network)):
        raise NotThere("message")


def check_guest(tx: Tx, mac: Mac, network: NetworkId) -> None:
    """NotThere for a device that they may not see."""
    sight = sight_of(tx)
    if sight.is_whole:
        return
    credential, issuer = admissions.last_in_by(tx.conn, mac, network)
    if not sight.sees_guest(network, issuer, has_credential=credential is not None):
        raise NotThere("device")


def check_there(tx: Tx, network: NetworkId) -> None:
    """Invalid on a network that is not theirs."""
    limits = limits_of(tx)
    if limits.networks and network not in limits.networks:
        raise Invalid("network_not_theirs", field="network", mend="This network is not yours to help on.")


def check_more_time(tx: Tx, credential: CredentialId, seconds: int) -> None:
    """Invalid when with that much more it would last longer than they may give."""
    limits = limits_of(tx)
    if limits.longest_s is None:
        return
    for grant in allowances.allowances_of(tx.conn, credential):
        remains = left(tx.config.plan_of(grant), grant.use, tx.now)
        check_longest(limits, None if remains.seconds is None else remains.seconds + seconds, field="seconds")
