"""What was used is charged to the admission it belongs to, and limits are kept."""

from lauschen.core.counters import share_after
from lauschen.core.ids import NetworkId
from lauschen.core.limits import INTERIM_S, Binds, interim_interval, left
from lauschen.core.picture import Reason, Standing
from lauschen.road.moves import Wake, end_stay
from lauschen.road.tx import Tx
from lauschen.store import admissions, stays
from lauschen.store.admissions import Charged
from lauschen.store.stays import Stay


def charge(tx: Tx, stay: Stay, network: NetworkId, used: int, before: float, wake: Wake) -> None:
    """Charges what came after the admission (rulings 4.6) and ends the stay when that was the last of it."""
    if used == 0:
        return
    charged = _charged(tx, stay, network)
    if charged is None or charged.placed_until <= before:
        return
    if charged.placed_from <= before and charged.placed_until >= stay.last_event:
        share = used
    else:
        share = share_after(used, before, stay.last_event, charged.placed_from)
        share -= share_after(used, before, stay.last_event, charged.placed_until)
    credential = charged.credential
    tx.charge(credential.id, share)
    if not charged.is_open:
        return
    remains = left(tx.house.plans[credential.plan], credential.use, tx.now)
    if not remains.is_over:
        return
    standing = tx.read_standing(stay.mac, network)
    if standing is not None:
        reason = Reason.DATA_USED_UP if remains.binds is Binds.DATA else Reason.TIME_USED_UP
        end_by_limit(tx, standing, reason, wake)


def _charged(tx: Tx, stay: Stay, network: NetworkId) -> Charged | None:
    """The newest admission of a device: a last report may come after its end."""
    key = stay.mac, network
    if key in tx.memory.charged:
        return tx.memory.charged[key]
    tx.settle()
    found = admissions.charged_admission(tx.conn, stay.mac, network)
    tx.memory.keep_charged(stay.mac, network, found)
    return found


def end_by_limit(tx: Tx, standing: Standing, reason: Reason, wake: Wake) -> None:
    """A limit is reached: the stay is over, and the log says why."""
    end_stay(tx, standing, reason, wake)
    tx.hear(
        "limit_reached",
        mac=standing.mac,
        network=standing.network,
        access_device=standing.access_device,
        facts={"reason": reason},
    )


def next_interval(tx: Tx, standing: Standing, octets_left: int | None) -> int:
    """Seconds until the next interim update should come, from the rate of the stay so far."""
    if octets_left is None:
        return INTERIM_S
    rate = tx.memory.rates.get(standing.mac)
    if rate is None:
        session = standing.session_id
        tx.settle()
        stay = stays.open_stay(tx.conn, standing.mac, session, standing.access_device) if session else None
        octets, seconds = (
            (stay.octets_in.total + stay.octets_out.total, stay.session_time) if stay else (0, 0)
        )
        tx.memory.note_rate(standing.mac, octets, seconds)
        rate = tx.memory.rates[standing.mac]
    return interim_interval(octets_left, rate)
