"""What became of asking for a host, as far as the visit that asked may know."""

from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.acts.hosts.addresses import address_of
from lauschen.acts.hosts.waiting import over_at
from lauschen.core.config.config import Config
from lauschen.core.ids import HostId
from lauschen.core.limits.left import CredentialState, credential_state
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.sponsor import Naming, Sponsor
from lauschen.core.ways.vouching import VouchingState
from lauschen.store import credentials
from lauschen.store.hosts import vouchings
from lauschen.store.hosts.vouchings import Vouching
from lauschen.store.keys import KeyRing
from lauschen.store.visits import visit_hash


@dataclass(frozen=True, slots=True)
class Asked:
    """Of one visit."""

    state: VouchingState
    host: str
    """Who was asked, where the guest chose them from the list; else nobody is named."""
    at: float
    until: float
    """When it is over at the latest, if nobody answers."""
    word: str
    """What the host said."""
    code: str
    """What was given; empty unless it is good now."""
    is_written_to: bool
    """The code comes by a message too."""


def load_asked(conn: Connection, keys: KeyRing, config: Config, visit_id: str, now: float) -> Asked | None:
    """None when nobody was asked, or the guest took it back."""
    found = vouchings.newest_of_visit(conn, keys, visit_hash(visit_id))
    if found is None or found.state is VouchingState.TAKEN_BACK:
        return None
    network = config.networks.get(found.network)
    way = network.way(WayIn.SPONSOR) if network is not None else None
    until, host = found.until or found.at, ""
    if isinstance(way, Sponsor):
        until = max(until, over_at(way, found.at))
        host = _chosen(config, way, found)
    is_written_to = address_of(config.channels, found) is not None
    code = _code(conn, keys, config, found, now)
    return Asked(found.state, host, found.at, until, found.word, code, is_written_to)


def _chosen(config: Config, way: Sponsor, found: Vouching) -> str:
    if way.naming is not Naming.LIST or not found.named.isdecimal():
        return ""
    host = config.hosts.get(HostId(int(found.named)))
    return "" if host is None else host.name


def _code(conn: Connection, keys: KeyRing, config: Config, found: Vouching, now: float) -> str:
    if found.credential is None:
        return ""
    issued = credentials.get_issued(conn, keys, found.credential)
    state = credential_state(config.plan_of(issued.grant), issued.grant.use, now)
    return issued.code if state in (CredentialState.FRESH, CredentialState.RUNNING) else ""
