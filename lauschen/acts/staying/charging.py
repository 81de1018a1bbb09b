"""What was used is charged to the allowance it belongs to; one that is over ends the stay."""

from lauschen.acts.staying.reconsidering import reconsider
from lauschen.acts.staying.spent import end_for_all
from lauschen.core.decide.judge import judge
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import Standing
from lauschen.core.ids import NetworkId
from lauschen.core.limits.counters import share_after
from lauschen.core.limits.left import INTERIM_S, interim_interval
from lauschen.road.tx import Tx
from lauschen.store import allowances, placements, stays
from lauschen.store.placements import Charged
from lauschen.store.stays import Stay


def charge(tx: Tx, stay: Stay, network: NetworkId, used: int, before: float) -> None:
    """Charges each allowance what was used while the device was placed by it (rulings 4.6).

    Ends the stay when that was the last of it.
    """
    if used == 0:
        return
    for placed, share in _shares(tx, stay, network, used, before):
        grant = placed.grant
        assert grant.allowance is not None
        tx.charge(grant.allowance, share)
        if not placed.is_open:
            continue
        verdict = judge(tx.config.plan_of(grant), grant, tx.now)
        if verdict.reason is None:
            continue
        if verdict.reason is Reason.DATA_USED_UP and grant.use.data_out_at is None:
            tx.memory.note_data_out(grant, stay.last_event)
            allowances.note_data_out(tx.conn, grant.allowance, stay.last_event)
            end_for_all(tx, grant.allowance, stay.mac)
        standing = tx.read_standing(stay.mac, network)
        if standing is not None:
            reconsider(tx, standing)


def _shares(tx: Tx, stay: Stay, network: NetworkId, used: int, before: float) -> list[tuple[Charged, int]]:
    """Which part of `used`, spread evenly since the report before, fell into which placement."""
    newest = _newest(tx, stay, network)
    if newest is None or newest.placed_until <= before:
        return []
    if newest.placed_from <= before and newest.placed_until >= stay.last_event:
        return [(newest, used)]
    tx.settle()
    shares = []
    for placed in placements.placements_after(tx.conn, stay.mac, network, before):
        share = share_after(used, before, stay.last_event, placed.placed_from)
        share -= share_after(used, before, stay.last_event, placed.placed_until)
        shares.append((tx.memory.share_grant(placed), share))
    return shares


def _newest(tx: Tx, stay: Stay, network: NetworkId) -> Charged | None:
    """The newest placement of a device: a last report may come after its end."""
    is_known, charged = tx.memory.find_charged(stay.mac, network)
    if is_known:
        return charged
    tx.settle()
    found = placements.newest_placement(tx.conn, stay.mac, network)
    tx.memory.keep_charged(stay.mac, network, found)
    return found


def next_interval(tx: Tx, standing: Standing, octets_left: int | None) -> int:
    """Seconds until the next interim update should come, from the rate of the stay so far."""
    if octets_left is None:
        return INTERIM_S
    rate = tx.memory.find_rate(standing.mac)
    if rate is None:
        session = standing.session_id
        tx.settle()
        stay = stays.open_stay(tx.conn, standing.mac, session, standing.access_device) if session else None
        octets, seconds = (
            (stay.octets_in.total + stay.octets_out.total, stay.session_time) if stay else (0, 0)
        )
        tx.memory.note_rate(standing.mac, octets, seconds)
        rate = tx.memory.find_rate(standing.mac) or 0.0
    return interim_interval(octets_left, rate)
