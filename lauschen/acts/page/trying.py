"""What guests do at the page: offer something, log out. Each is one act on the road; visiting.py opens the page."""

from dataclasses import dataclass

from lauschen.acts.arriving.admitting import admit, count_wrong_at_page
from lauschen.acts.arriving.facts import load_picture, put_offer
from lauschen.acts.arriving.posted import hand_out
from lauschen.acts.moving.moves import end_stay, let_in
from lauschen.acts.page.visiting import LOOK, check_served, find_visit, is_in, may_only_look
from lauschen.core.config.dialect import Move
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.picture import Picture
from lauschen.core.decide.reason import WRONG_TRIES, Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.decide.steps import decide
from lauschen.core.errors import NotThere
from lauschen.core.ids import AdmissionId
from lauschen.core.ways.ways import Offer
from lauschen.core.words.codes import Typo
from lauschen.road.tx import Tx
from lauschen.store import admissions, devices, visits
from lauschen.store.visits import Visit, visit_hash


@dataclass(frozen=True, slots=True)
class Tried:
    """What came of an offer."""

    reason: Reason
    """ADMITTED, or why not."""
    barred_until: float | None
    wait_s: float
    """How long the answer should be held back (rulings 8.2)."""


def try_offer(tx: Tx, visit_id: str, offer: Offer, source: str, fault: Reason | None = None) -> Tried:
    """Decides about what was offered at the page; `fault`: why it was not proved."""
    visit, standing = here(tx, visit_id, source)
    return decide_offer(tx, visit_hash(visit_id), visit, standing, offer, source, fault)


def decide_offer(
    tx: Tx,
    digest: bytes,
    visit: Visit,
    standing: Standing,
    offer: Offer,
    source: str,
    fault: Reason | None = None,
) -> Tried:
    """Decides about what is offered in a visit, whose hash is `digest`."""
    picture, _ = load_picture(tx, visit.mac, visit.network)
    picture.typing_barred_until = visit.barred_until
    picture.only_same = may_only_look(visit, standing)
    arrival = Arrival(Medium.PAGE, visit.mac, standing.access_device, network=visit.network)
    put_offer(tx, picture, arrival, visit.network, offer, fault)
    decision = decide(arrival, picture, tx.now)
    if standing.code_tried is None:
        standing.code_tried = tx.now
    tx.decided(arrival, decision, standing)
    if decision.answer is Answer.ADMIT:
        admission = _let_in(tx, digest, picture, standing, decision, offer)
        visits.note_visit(tx.conn, digest, admission=admission, answer=Reason.ADMITTED, now=tx.now)
        return Tried(Reason.ADMITTED, None, 0.0)
    tx.write_standing(standing)
    until, wait = visit.barred_until, 0.0
    if decision.reason in WRONG_TRIES:
        until, wait = count_wrong_at_page(tx, digest, visit, source)
    visits.note_visit(tx.conn, digest, admission=None, answer=decision.reason, now=tx.now)
    return Tried(decision.reason, until, wait)


def note_typo(tx: Tx, visit_id: str, typo: Typo, source: str) -> None:
    """A failed check character is not a guess: nothing is counted and no code is looked up."""
    visit, _ = here(tx, visit_id, source)
    visits.note_visit(tx.conn, visit_hash(visit_id), admission=None, answer=f"typo:{typo}", now=tx.now)
    tx.log(
        "code_mistyped",
        mac=visit.mac,
        network=visit.network,
        access_device=visit.access_device,
        facts={"typo": typo},
    )


def here(tx: Tx, visit_id: str, source: str) -> tuple[Visit, Standing]:
    """The visit, and where its device stands; NotThere when nothing can be offered for it."""
    visit = find_visit(tx, visit_id, source)
    standing = tx.read_standing(visit.mac, visit.network)
    if standing is None or standing.state is State.LEFT:
        raise NotThere("device")
    check_served(tx, standing.access_device, visit.network)
    if visit.proof == LOOK and not is_in(standing):
        # It came to look at a stay that is over, and could let in whoever has the address now.
        raise NotThere("stay")
    return visit, standing


def _let_in(
    tx: Tx, digest: bytes, picture: Picture, standing: Standing, decision: Decision, offer: Offer
) -> AdmissionId:
    """A new admission, or the open one, whose rights this visit has from now on (rulings 8.3)."""
    known, offered = picture.admission, picture.offered
    assert offered is not None
    dialect = tx.config.dialects[tx.config.access_devices[standing.access_device].dialect]
    is_settled = False
    if known is not None and known.grant.credential == offered.credential:
        is_settled = known.has_seat and is_in(standing)
        admissions.take_seat(tx.conn, known.id, tx.now)
    else:
        known = admit(tx, picture, standing.mac, standing.network, offer)
    if is_settled and standing.wanted is State.INSIDE:
        tx.write_standing(standing)
    else:
        let_in(tx, standing, known.id, decision.good_until, dialect.pause_ms / 1000)
    if dialect.login_move is Move.POSTED and standing.going is State.INSIDE:
        hand_out(tx, digest)
    return known.id


def hand_out_again(tx: Tx, visit_id: str, source: str) -> None:
    """The guest's browser did not post in time: another one-time login for the visit that logged in."""
    visit = find_visit(tx, visit_id, source)
    standing = devices.find_standing(tx.conn, visit.mac, visit.network)
    if visit.admission is None or standing is None or standing.admission != visit.admission:
        raise NotThere("stay")
    hand_out(tx, visit_hash(visit_id))


def log_out(tx: Tx, visit_id: str, source: str) -> None:
    """Ends the stay that this very visit began, or whose code it typed; another visit of the device may not."""
    visit = find_visit(tx, visit_id, source)
    standing = devices.find_standing(tx.conn, visit.mac, visit.network)
    if standing is None or standing.admission is None or standing.admission != visit.admission:
        raise NotThere("stay")
    end_stay(tx, standing, Reason.LOGGED_OUT)
    visits.note_visit(tx.conn, visit_hash(visit_id), admission=None, answer=Reason.LOGGED_OUT, now=tx.now)
    tx.log("logged_out", mac=visit.mac, network=visit.network, access_device=visit.access_device)
