"""An arrival: load the picture, decide, write down what follows (rulings 1.2)."""

from lauschen.acts.arriving.admitting import admit
from lauschen.acts.arriving.facts import count_seats, load_picture, offer_trust
from lauschen.acts.arriving.placing import move, refuse
from lauschen.acts.arriving.users import answer_user
from lauschen.acts.passphrases.arriving import answer_keyed
from lauschen.acts.staying.restarting import catch_up
from lauschen.core.decide.again import decide_again
from lauschen.core.decide.arrival import Arrival
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.picture import Picture
from lauschen.core.decide.steps import decide, is_served, network_of
from lauschen.core.ids import NetworkId
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.passphrase import Signed
from lauschen.road.tx import Tx
from lauschen.store import devices
from lauschen.store.config import access_devices


def answer_arrival(tx: Tx, arrival: Arrival) -> tuple[Decision, Picture]:
    """Decides what an access device's request gets and moves the device there."""
    network = network_of(tx.config, arrival)
    if network is not None and not is_served(arrival, tx.config, network):
        access_devices.note_not_served(tx.conn, arrival.access_device, network.id, tx.now)
        return refuse(tx, arrival)
    if network is None or arrival.refusal is not None:
        return refuse(tx, arrival)
    if arrival.access_device in tx.memory.restarting:
        catch_up(tx, arrival.mac, arrival.access_device)
    if network.by_key:
        return answer_keyed(tx, arrival.on(network.id), network)
    if arrival.offer is not None and not isinstance(arrival.offer, Signed):
        return answer_user(tx, arrival, network.id)
    return _answer_device(tx, arrival, network.id)


def _answer_device(tx: Tx, heard: Arrival, network: NetworkId) -> tuple[Decision, Picture]:
    """An access device asks for a device, which offers nothing."""
    kept, is_known = tx.memory.find(heard.mac, network), True
    if (
        kept is not None
        and kept.config is tx.config
        and not _is_trusted(tx, heard, kept)
        and (again := decide_again(heard, kept, tx.now))
        and tx.repeats(kept)
    ):
        return again, kept
    arrival = heard.on(network)
    arrival.offer = None  # a handshake: there are no keys here
    if kept is None:
        picture, is_known = load_picture(tx, arrival.mac, network)
    else:
        picture = kept
        picture.config = tx.config
        count_seats(tx, picture, arrival.mac)
    if tx.config.trusted:
        offer_trust(tx, picture, arrival, network)
    decision = decide(arrival, picture, tx.now)
    if not is_known:
        devices.add_device(tx.conn, arrival.mac, tx.now)
    if arrival.offer is not None and decision.answer is Answer.ADMIT:
        admit(tx, picture, arrival.mac, network, arrival.offer)
        move(tx, arrival, picture, decision)
        tx.memory.forget(arrival.mac, network)
        return decision, picture
    move(tx, arrival, picture, decision)
    picture.offered = picture.offer_fault = None  # the picture is kept, and what was offered is over
    if kept is None:
        tx.memory.keep(arrival.mac, network, picture)
    picture.memo, picture.memo_medium = decision, arrival.medium
    return decision, picture


def _is_trusted(tx: Tx, arrival: Arrival, kept: Picture) -> bool:
    """Whether it is let in always, or was: that hangs on where it asks, which is looked at each time."""
    if not tx.config.trusted:
        return False
    if kept.admission is not None and kept.admission.grant.way is WayIn.ALWAYS:
        return True
    return tx.config.trusts(arrival.mac, arrival.access_device, arrival.port_id) is not None
