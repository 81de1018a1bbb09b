"""One MAC address at two places, both in use: two devices may have it (rulings 6.12 and 9.3)."""

from dataclasses import replace

from lauschen.road.memory import Elsewhere
from lauschen.road.tx import Tx
from lauschen.store import addresses, admissions, stays
from lauschen.store.stays import Stay

BOTH_S = 60.0
"""How long both must grow before staff are told: while a device roams, both places report it for a moment."""
SAID_AGAIN_S = 3600.0
TURN_S = 600.0


def look_elsewhere(tx: Tx, stay: Stay, elsewhere: Elsewhere) -> None:
    """A stay grew whose device began another one elsewhere a while ago, which roaming does not explain."""
    if stay.id != elsewhere.stay or tx.now - elsewhere.noted_at < BOTH_S:
        return
    other = _grows(tx, stay)
    if other is not None:
        tx.memory.note_elsewhere(stay.mac, replace(elsewhere, noted_at=tx.now + SAID_AGAIN_S - BOTH_S))
        say_two(tx, stay, other)


def look_where_it_was(tx: Tx, stay: Stay) -> None:
    """A stay grew that its device had roamed away from: it should be over."""
    if stay.network is None:
        return
    other = _grows(tx, stay)
    known = tx.memory.elsewhere.get(stay.mac)
    if other is None or tx.now - other.started < BOTH_S or (known is not None and known.noted_at > tx.now):
        return
    said = Elsewhere(stay.id, other.access_device, tx.now + SAID_AGAIN_S - BOTH_S)
    tx.memory.note_elsewhere(stay.mac, said)
    say_two(tx, stay, other)


def _grows(tx: Tx, stay: Stay) -> Stay | None:
    """Another stay of this MAC address on the network that is open, and used something at its last report."""
    if stay.network is None:
        return None
    tx.settle()
    near = stays.stays_near(tx.conn, stay.mac, stay.network, tx.now)
    return next(
        (
            one
            for one in near
            if one.id != stay.id
            and one.counts
            and one.octets_per_s > 0
            and tx.now - one.last_event <= one.two_intervals
        ),
        None,
    )


def say_two(tx: Tx, stay: Stay, other: Stay) -> None:
    """*Two devices with one address?* From now on they have two seats, until one of the stays ends."""
    assert stay.network is not None
    admissions.set_seats(tx.conn, stay.mac, stay.network, 2)
    tx.log(
        "two_places",
        mac=stay.mac,
        network=stay.network,
        access_device=stay.access_device,
        facts={"other": other.access_device},
    )


def look_at_address(tx: Tx, stay: Stay, address: str) -> None:
    """Back at an address that it had a while ago: two devices may take turns."""
    if stay.framed_ip is None:
        return
    # The old address was in use until this report, so its time is noted before it is compared.
    addresses.note_addresses(tx.conn, stay.mac, [stay.framed_ip], addresses.ACCOUNTING, tx.now)
    until = addresses.last_seen(tx.conn, stay.mac, address, addresses.ACCOUNTING)
    if until is not None and tx.now - until < TURN_S:
        tx.log(
            "two_addresses",
            mac=stay.mac,
            network=stay.network,
            access_device=stay.access_device,
            facts={"one": address, "other": stay.framed_ip},
        )
