"""Pools of VLANs for private groups: nobody else may be placed in them, or a group would not be by itself."""

from collections.abc import Mapping

from lauschen.core.config.config import Config
from lauschen.core.errors import Invalid
from lauschen.core.ids import NetworkId
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.passphrase import PrivatePassphrase

Given = Mapping[NetworkId, int]
"""Networks whose groups have one of the VLANs in question, also where it is in no pool any more."""


def check_pool(config: Config, network: NetworkId, way: PrivatePassphrase, given: Given) -> None:
    """Invalid where a role, or the groups of another network, have a VLAN of its pool."""
    role = next((role for role in config.roles.values() if role.vlan in way.groups), None)
    if role is not None:
        mend = f"VLAN {role.vlan} is that of the role {role.name}: a group would not be by itself there."
        raise Invalid("groups_shared", field="ways", mend=mend)
    shared = dict(given)
    for other, pool in _pools(config).items():
        both = range(max(pool.start, way.groups.start), min(pool.stop, way.groups.stop))
        if both:
            shared[other] = both.start
    shared.pop(network, None)
    if shared:
        other, vlan = next(iter(shared.items()))
        mend = f"VLAN {vlan} is for the groups of {config.networks[other].name}."
        raise Invalid("groups_shared", field="ways", mend=mend)


def check_vlan(config: Config, vlan: int, given: Given) -> None:
    """Invalid for a role's VLAN that is one of a pool."""
    theirs = [*given, *(network for network, pool in _pools(config).items() if vlan in pool)]
    if theirs:
        mend = f"VLAN {vlan} is for the private groups of {config.networks[theirs[0]].name}."
        raise Invalid("vlan_of_groups", field="vlan", mend=mend)


def _pools(config: Config) -> dict[NetworkId, range]:
    ways = ((network.id, network.way(WayIn.PASSPHRASE)) for network in config.networks.values())
    return {network: way.groups for network, way in ways if isinstance(way, PrivatePassphrase) and way.groups}
