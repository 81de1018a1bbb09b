"""Which way in is open at the page now."""

from typing import TypeVar

from lauschen.core.errors import Invalid
from lauschen.core.ids import NetworkId
from lauschen.core.ways.offering import Offering
from lauschen.core.ways.ways import Way
from lauschen.road.tx import Tx

W = TypeVar("W", bound=Offering)


def open_way(tx: Tx, network: NetworkId, kind: type[W]) -> W:
    """Its settings; Invalid when nobody gets in by it now, which the page showed a moment ago."""
    found = tx.config.networks.get(network)
    way: Way | None = next((one for one in found.ways if isinstance(one, kind)), None) if found else None
    if found is None or not isinstance(way, kind):
        raise _gone()
    is_paused = found.pause is not None and found.pause.holds(tx.now)
    if is_paused or not way.is_open(tx.now) or tx.config.why_idle(network, way) is not None:
        raise _gone()
    return way


def _gone() -> Invalid:
    return Invalid("way_gone", field="way", mend="Take one of those that are offered now.")
