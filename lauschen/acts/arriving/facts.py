"""What the decision looks at, loaded; the one place where seats are counted."""

from lauschen.acts.arriving.finding import find_grant
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.grant import Grant
from lauschen.core.decide.judge import judge
from lauschen.core.decide.picture import Picture
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import Standing
from lauschen.core.decide.steps import decide
from lauschen.core.ids import Mac, NetworkId
from lauschen.core.limits.seats import Seats
from lauschen.core.ways.always import Known
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.ways import Offer
from lauschen.road.tx import Tx
from lauschen.store import admissions, devices


def load_picture(tx: Tx, mac: Mac, network: NetworkId) -> tuple[Picture, bool]:
    """The facts about a device on a network, and whether the device is known at all."""
    tx.settle()
    picture, is_known = devices.load_picture(tx.conn, tx.config, mac, network)
    count_seats(tx, picture, mac)
    return picture, is_known


def count_seats(tx: Tx, picture: Picture, mac: Mac) -> None:
    """Seats of the grant in question that other devices have; one that has its own is not asked about others."""
    picture.seats_taken = 0
    admission = picture.admission
    admitted = admission.grant if admission is not None else None
    grant = picture.offered or admitted
    if grant is None or grant.allowance is None:
        return
    has_seat = admission is not None and admission.has_seat
    if has_seat and admitted is not None and admitted.allowance == grant.allowance:
        return
    if grant.seats is Seats.AT_ONCE:
        picture.seats_taken = admissions.seats_taken(tx.conn, grant.allowance, mac)
    elif grant.seats is Seats.EVER:
        picture.seats_taken = admissions.devices_ever(tx.conn, grant.allowance, mac)


def put_offer(
    tx: Tx,
    picture: Picture,
    arrival: Arrival,
    network: NetworkId,
    offer: Offer,
    fault: Reason | None = None,
) -> None:
    """What the offer leads to, unless nothing may be offered now: then nothing is looked up.

    `fault`: why it was not proved.
    """
    arrival.offer = offer
    may_offer = (
        not offer.is_typed or picture.typing_barred_until is None or picture.typing_barred_until <= tx.now
    )
    if fault is not None:
        picture.offer_fault = fault
    elif picture.barred_since is None and may_offer:
        picture.offered, picture.offer_fault = find_grant(tx, network, arrival.mac, offer)
        count_seats(tx, picture, arrival.mac)


def offer_trust(tx: Tx, picture: Picture, arrival: Arrival, network: NetworkId) -> None:
    """A trusted device, or whatever is behind a trusted port, offers itself once on a network that takes it."""
    way = tx.config.networks[network].way(WayIn.ALWAYS)
    if way is None or way.is_off or arrival.offer is not None:
        return
    held = picture.admission
    if held is not None and held.grant.way is not WayIn.ALWAYS:
        held = None
    trusted = tx.config.trusts(arrival.mac, arrival.access_device, arrival.port_id)
    if held is not None and (
        arrival.medium is not Medium.ASKED or (trusted is not None and trusted.id == held.grant.trusted)
    ):
        return
    if held is not None and trusted is None:
        # It was let in for where it was plugged in, and is somewhere else now.
        admissions.end_admission(tx.conn, held.id, Reason.FORGOTTEN, tx.now)
        picture.admission = None
        if picture.standing is not None:
            picture.standing.admission = None
    if trusted is None:
        return
    put_offer(tx, picture, arrival, network, Known(trusted))
    if picture.offered is None or (picture.admission is not None and not _is_good(tx, picture.offered)):
        # It would not let it in now: what the device has besides may.
        arrival.offer = picture.offered = picture.offer_fault = None
        count_seats(tx, picture, arrival.mac)


def _is_good(tx: Tx, grant: Grant) -> bool:
    return judge(tx.config.plan_of(grant), grant, tx.now).reason is None


def as_if_asked(standing: Standing) -> Arrival:
    """What its access device would say if it asked now."""
    return Arrival(
        Medium.CHANGED,
        standing.mac,
        standing.access_device,
        network=standing.network,
        spelled=standing.spelled,
        session_id=standing.session_id,
        framed_ip=standing.framed_ip,
        source=standing.source,
    )


def decide_now(tx: Tx, standing: Standing) -> tuple[Decision, Picture]:
    """What the device would get if its access device asked now; nothing is changed by it."""
    picture, _ = load_picture(tx, standing.mac, standing.network)
    arrival = as_if_asked(standing)
    offer_trust(tx, picture, arrival, standing.network)
    decision = decide(arrival, picture, tx.now)
    if decision.answer is not Answer.ADMIT:
        picture.offered = None
    return decision, picture
