"""Private groups: which VLAN of its network's pool a passphrase has. What is over keeps none from others."""

from lauschen.core.errors import Invalid
from lauschen.core.ids import CredentialId, NetworkId
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.passphrase import PrivatePassphrase
from lauschen.road.tx import Tx
from lauschen.store.passphrases import groups


def free_vlans(tx: Tx, network: NetworkId, at_least: int = 1) -> list[int]:
    """Those of its pool that nobody has. Invalid when they are fewer."""
    found = tx.config.networks.get(network)
    way = None if found is None else found.way(WayIn.PASSPHRASE)
    pool = way.groups if isinstance(way, PrivatePassphrase) else range(0)
    free = groups.free(tx.conn, pool, tx.now)
    if len(free) < at_least:
        mend = "There are not so many private groups left: a larger pool is set in *Networks*, at *is asked*."
        raise Invalid("groups_full", field="is_group", mend=mend)
    return free


def keep_apart(tx: Tx, credential: CredentialId) -> None:
    """It is good again, and somebody may have its VLAN by now: then it gets another. Invalid when there is none."""
    network = groups.shares_with_others(tx.conn, credential, tx.now)
    if network is not None:
        groups.give(tx.conn, credential, free_vlans(tx, network)[0])
