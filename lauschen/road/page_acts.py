"""What guests do at the page: open it, try a code, log out. Each is one act on the road."""

from dataclasses import dataclass
from urllib.parse import urlsplit

from lauschen.core.codes import Slip, TypedCode, read_code
from lauschen.core.decide import decide
from lauschen.core.decision import Answer
from lauschen.core.errors import NotThere
from lauschen.core.picture import Arrival, Medium, Picture, Reason, Standing, State
from lauschen.core.tokens import PortalToken
from lauschen.core.tries import (
    BARRED_S,
    DEVICE_TRIES,
    SOURCE_TRIES,
    WINDOW_S,
    barred_until,
    slow_down,
)
from lauschen.road.arrivals import enter
from lauschen.road.moves import Wake, end_stay, let_in
from lauschen.road.tx import Tx
from lauschen.store import admissions, credentials, devices, visits
from lauschen.store.visits import Visit

LONGEST_GOING = 1500


@dataclass(frozen=True, slots=True)
class TryResult:
    """What came of a typed code."""

    slip: Slip | None
    reason: Reason | None
    """ADMITTED, or why not."""
    barred_until: float | None
    wait_s: float
    """How long the answer should be held back (rulings 6.4)."""


def open_visit(tx: Tx, token: PortalToken, visit_id: str, going: str | None) -> None:
    """The first GET with a good token: a visit begins, and the device has opened the page."""
    standing = devices.find_standing(tx.conn, token.mac, token.network)
    if standing is None:
        raise NotThere("device")
    visits.add_visit(
        tx.conn,
        visit_id,
        Visit(
            token.mac,
            token.network,
            token.access_device,
            going,
            tx.now,
            float(token.expires),
            None,
            None,
            None,
        ),
    )
    if standing.page_opened is None and standing.state is not State.INSIDE:
        standing.page_opened = tx.now
        tx.write_standing(standing)
        tx.hear("page_opened", mac=token.mac, network=token.network, access_device=token.access_device)


def try_code(tx: Tx, visit_id: str, unverified_text: str, source: str, wake: Wake) -> TryResult:
    """Decides about a code that was typed at the page."""
    visit = _visit(tx, visit_id)
    standing = devices.find_standing(tx.conn, visit.mac, visit.network)
    if standing is None or standing.state is State.LEFT:
        raise NotThere("device")
    typed = read_code(unverified_text)
    if isinstance(typed, Slip):
        # A failed check character is not a guess: nothing is counted and no code is looked up.
        _note(tx, visit_id, visit, f"slip:{typed}")
        return TryResult(typed, None, None, 0.0)
    picture = _picture(tx, visit, standing, source, typed)
    arrival = Arrival(Medium.PAGE, visit.mac, standing.access_device, network=visit.network)
    decision = decide(arrival, picture, tx.now)
    if standing.code_tried is None:
        standing.code_tried = tx.now
    tx.decided(arrival, decision, standing)
    if decision.answer is Answer.ADMIT:
        _admit(tx, visit_id, visit, standing, picture, decision.left.until if decision.left else None, wake)
        return TryResult(None, Reason.ADMITTED, None, 0.0)
    tx.write_standing(standing)
    wait = 0.0
    if decision.reason is Reason.CODE_UNKNOWN:
        wait = _count_wrong(tx, visit, standing, source)
    elif decision.reason is Reason.BARRED_BY_TRIES:
        _note(tx, visit_id, visit, decision.reason)
        return TryResult(None, decision.reason, picture.typing_barred_until, 0.0)
    _note(tx, visit_id, visit, decision.reason)
    return TryResult(None, decision.reason, devices.typing_barred_until(tx.conn, visit.mac), wait)


def log_out(tx: Tx, visit_id: str, wake: Wake) -> None:
    """Ends the stay that this very visit began; another visit of the same device may not."""
    visit = _visit(tx, visit_id)
    standing = devices.find_standing(tx.conn, visit.mac, visit.network)
    if standing is None or standing.admission is None or standing.admission != visit.admission:
        raise NotThere("stay")
    end_stay(tx, standing, Reason.LOGGED_OUT, wake)
    _note(tx, visit_id, visit, Reason.LOGGED_OUT)
    tx.hear("logged_out", mac=visit.mac, network=visit.network, access_device=visit.access_device)


def going_on(unverified_url: str, slip_host: str) -> tuple[str | None, str | None]:
    """Where the guest was going, and the code if that was a slip's address. Believed for nothing else."""
    if len(unverified_url) > LONGEST_GOING:
        return None, None
    try:
        parts = urlsplit(unverified_url)
        host = parts.hostname
    except ValueError:
        return None, None
    if parts.scheme not in ("http", "https") or not host:
        return None, None
    if host == slip_host:
        typed = read_code(parts.path.strip("/"))
        return None, typed.signs if isinstance(typed, TypedCode) else None
    return unverified_url, None


def _picture(tx: Tx, visit: Visit, standing: Standing, source: str, typed: TypedCode) -> Picture:
    picture, _ = devices.load_picture(tx.conn, tx.house, visit.mac, visit.network)
    picture.offers_code = True
    since = tx.now - WINDOW_S - BARRED_S
    from_source = barred_until(visits.wrong_tries_from(tx.conn, source, since), SOURCE_TRIES, tx.now)
    if from_source is not None:
        picture.typing_barred_until = max(picture.typing_barred_until or 0.0, from_source)
    may_type = picture.typing_barred_until is None or picture.typing_barred_until <= tx.now
    if picture.barred_since is None and may_type:
        picture.offered = credentials.find_by_code(tx.conn, tx.keys, typed.signs)
        if picture.offered is not None:
            picture.seats_taken = admissions.seats_taken(tx.conn, picture.offered.id, visit.mac)
    return picture


def _admit(
    tx: Tx, visit_id: str, visit: Visit, standing: Standing, picture: Picture, until: float | None, wake: Wake
) -> None:
    assert picture.offered is not None
    if picture.admission is not None:
        admissions.end_admission(tx.conn, picture.admission.id, Reason.LOGGED_OUT, tx.now)
    credentials.start_use(tx.conn, picture.offered.id, tx.now)
    admission = admissions.add_admission(
        tx.conn,
        mac=visit.mac,
        network=visit.network,
        credential=picture.offered.id,
        token=tx.chance.name(8),
        now=tx.now,
    )
    dialect = tx.house.dialects[tx.house.access_devices[standing.access_device].dialect]
    let_in(tx, standing, admission, until, wake, dialect.pause_ms / 1000)
    visits.note_visit(tx.conn, visit_id, admission=admission, answer=Reason.ADMITTED, now=tx.now)


def _count_wrong(tx: Tx, visit: Visit, standing: Standing, source: str) -> float:
    visits.add_wrong_try(tx.conn, mac=visit.mac, network=visit.network, source=source, now=tx.now)
    since = tx.now - WINDOW_S - BARRED_S
    until = barred_until(visits.wrong_tries_of(tx.conn, visit.mac, since), DEVICE_TRIES, tx.now)
    if until is not None:
        devices.bar_typing(tx.conn, visit.mac, until)
        if standing.state in (State.AT_DOOR, State.HELD):
            standing.reason = Reason.BARRED_BY_TRIES
            enter(standing, State.BARRED, tx.now)
            tx.write_standing(standing)
    return slow_down(visits.count_wrong_tries(tx.conn, visit.network, tx.now - WINDOW_S))


def _visit(tx: Tx, visit_id: str) -> Visit:
    visit = visits.find_visit(tx.conn, visit_id, tx.now)
    if visit is None:
        raise NotThere("visit")
    return visit


def _note(tx: Tx, visit_id: str, visit: Visit, answer: str) -> None:
    visits.note_visit(tx.conn, visit_id, admission=None, answer=answer, now=tx.now)
    if answer.startswith("slip:"):
        tx.hear(
            "code_slip",
            mac=visit.mac,
            network=visit.network,
            access_device=visit.access_device,
            facts={"slip": answer[5:]},
        )
