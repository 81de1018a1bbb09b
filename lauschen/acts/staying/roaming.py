"""One guest in several stays: roaming between access points, and two devices that report the same guest."""

from lauschen.core.limits.counters import Count
from lauschen.road.memory import Elsewhere
from lauschen.road.tx import Tx
from lauschen.store import stays
from lauschen.store.stays import ROAMED, Stay

ROAM_S = 60.0
"""How long after one access point's Stop another one's Start still is the same presence."""


def join(tx: Tx, stay: Stay) -> list[Stay]:
    """Links a stay that begins to those it goes on from; returns the ones that are over by that.

    Rulings 4.1: by Acct-Multi-Session-Id, by our Class or Chargeable-User-Identity, or by a session id that the
    access devices share.
    """
    stay.counts = _counts(tx, stay)
    if stay.network is None:
        return []
    over = []
    for other in stays.stays_near(tx.conn, stay.mac, stay.network, tx.now - ROAM_S):
        if other.access_device == stay.access_device and other.nas_identifier == stay.nas_identifier:
            continue
        is_second_report = other.ended is None and not (stay.counts and other.counts)
        if not (is_second_report or _same_presence(stay, other)):
            if other.ended is None:
                tx.memory.note_elsewhere(stay.mac, Elsewhere(other.id, stay.access_device, tx.now))
            continue
        stay.root = other.root or other.id
        if other.ended is None and not is_second_report:
            over.append(other)
    return over


def go_on_counting(tx: Tx, stay: Stay, session_time: int, raw: tuple[int, int]) -> None:
    """The first report of a stay that was roamed into: a session that is kept may keep its counters too.

    What the access point before has reported of them is not counted again.
    """
    before = stays.last_with_session(tx.conn, stay.mac, stay.session_id, stay.id)
    if before is None or session_time < before.session_time:
        return
    if raw[0] >= before.octets_in.raw and raw[1] >= before.octets_out.raw:
        stay.octets_in = Count(before.octets_in.raw, stay.octets_in.total)
        stay.octets_out = Count(before.octets_out.raw, stay.octets_out.total)


def _counts(tx: Tx, stay: Stay) -> bool:
    """The network's rule, else the dialect's."""
    network = tx.config.networks.get(stay.network) if stay.network is not None else None
    if network is not None and network.counted_at is not None:
        return network.counted_at == stay.access_device
    device = tx.config.access_devices.get(stay.access_device)
    return device is None or tx.config.dialects[device.dialect].counts


def _same_presence(stay: Stay, other: Stay) -> bool:
    if other.ended is not None and other.end_cause == ROAMED:
        return False
    return any(
        mine and mine == theirs
        for mine, theirs in (
            (stay.multi_session_id, other.multi_session_id),
            (stay.user, other.user),
            (stay.session_id, other.session_id),
        )
    )
