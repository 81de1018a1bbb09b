"""A network lets nobody in for a while: guests are told why, since when and until when."""

from dataclasses import replace

from lauschen.acts.config.changes import save_network, there
from lauschen.acts.staying.everybody import reconsider_on_network
from lauschen.core.config.network import Pause
from lauschen.core.errors import Invalid
from lauschen.core.ids import NetworkId
from lauschen.road.tx import Tx

LONGEST_WHY = 200


def pause_network(tx: Tx, network: NetworkId, *, until: float | None, why: str, ends_stays: bool) -> None:
    """From now on. `ends_stays`: those inside go to the door, and are in again afterwards."""
    found = there(tx.config.networks, network, "network")
    if until is not None and until <= tx.now:
        raise Invalid("pause_over", field="until", mend="A moment that is still to come.")
    if len(why) > LONGEST_WHY:
        raise Invalid("pause_why", field="why", mend=f"At most {LONGEST_WHY} letters.")
    is_paused = found.pause is not None and found.pause.holds(tx.now)
    since = found.pause.since if found.pause is not None and is_paused else tx.now
    save_network(tx, replace(found, pause=Pause(since, until, why.strip(), ends_stays)))
    reconsider_on_network(tx, network)
    tx.log("network_paused", network=network, facts={"until": until})


def end_pause(tx: Tx, network: NetworkId) -> None:
    """Whoever it kept out is let in again, some seconds later."""
    found = there(tx.config.networks, network, "network")
    if found.pause is None:
        return
    save_network(tx, replace(found, pause=None))
    reconsider_on_network(tx, network)
    tx.log("network_pause_ended", network=network)
