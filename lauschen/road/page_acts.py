"""What guests do at the page: open it, try a code, log out. Each is one act on the road."""

from dataclasses import dataclass
from urllib.parse import urlsplit

from lauschen.core.codes import Slip, TypedCode, read_code
from lauschen.core.decide import decide
from lauschen.core.decision import Answer
from lauschen.core.dialect import Move
from lauschen.core.errors import NotThere
from lauschen.core.ids import AccessDeviceId, DialectId, Mac
from lauschen.core.limits import DOOR_SESSION_S
from lauschen.core.picture import Arrival, Medium, Reason, Standing, State
from lauschen.core.tokens import PortalToken
from lauschen.road.codes import admit, count_wrong, offer_code
from lauschen.road.moves import Wake, end_stay, let_in
from lauschen.road.posted import hand_out
from lauschen.road.tx import Tx
from lauschen.store import addresses, devices, visits
from lauschen.store.visits import Visit

LONGEST_GOING = 1500
TOKEN, APPENDED, ADDRESS = "token", "appended", "address"
SECOND_FACT_S = 300.0
VISIT_S = DOOR_SESSION_S + 600.0


@dataclass(frozen=True, slots=True)
class TryResult:
    """What came of a typed code."""

    slip: Slip | None
    reason: Reason | None
    """ADMITTED, or why not."""
    barred_until: float | None
    wait_s: float
    """How long the answer should be held back (rulings 6.4)."""


def open_visit(tx: Tx, token: PortalToken, visit_id: str, going: str | None, source: str) -> None:
    """The first GET with a good token: a visit begins, and the device has opened the page."""
    standing = devices.find_standing(tx.conn, token.mac, token.network)
    if standing is None:
        raise NotThere("device")
    addresses.note_addresses(tx.conn, token.mac, [source], addresses.PAGE, tx.now)
    _begin_visit(tx, standing, token.access_device, visit_id, going, TOKEN, float(token.expires))


def open_appended(
    tx: Tx, mac: Mac, dialect: DialectId, visit_id: str, going: str | None, source: str
) -> None:
    """The access device appended a MAC to our address. That proves nothing about who asks (rulings 6.2).

    Believed only with a second fact: an access device of this dialect asked about that MAC in the last minutes, or
    the browser comes from the address that accounting gave for it.
    """
    for standing in devices.standings_of(tx.conn, mac):
        device = tx.house.access_devices.get(standing.access_device)
        if device is None or device.dialect != dialect:
            continue
        is_recent = tx.now - standing.last_heard <= SECOND_FACT_S
        if is_recent or (standing.framed_ip is not None and standing.framed_ip == source):
            _begin_visit(tx, standing, device.id, visit_id, going, APPENDED, tx.now + VISIT_S)
            return
    raise NotThere("device")


def open_plain(tx: Tx, visit_id: str, going: str | None, source: str) -> None:
    """The short address alone: the device is the one that has the browser's address now."""
    found = [
        standing
        for standing in devices.standings_at_address(tx.conn, source)
        if standing.state is not State.LEFT
    ]
    if len(found) != 1:
        raise NotThere("device")  # nobody has it, or two do: then nobody can tell
    _begin_visit(tx, found[0], found[0].access_device, visit_id, going, ADDRESS, tx.now + VISIT_S)


def _begin_visit(
    tx: Tx,
    standing: Standing,
    access_device: AccessDeviceId,
    visit_id: str,
    going: str | None,
    proof: str,
    expires: float,
) -> None:
    visits.add_visit(
        tx.conn,
        visit_id,
        Visit(standing.mac, standing.network, access_device, going, tx.now, expires, None, None, None, proof),
    )
    if standing.page_opened is None and standing.state is not State.INSIDE:
        standing.page_opened = tx.now
        tx.write_standing(standing)
        tx.hear("page_opened", mac=standing.mac, network=standing.network, access_device=access_device)


def hand_out_again(tx: Tx, visit_id: str) -> None:
    """The guest's browser did not post in time: another one-time login for the visit that logged in."""
    visit = _visit(tx, visit_id)
    standing = devices.find_standing(tx.conn, visit.mac, visit.network)
    if visit.admission is None or standing is None or standing.admission != visit.admission:
        raise NotThere("stay")
    hand_out(tx, visit_id)


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
    picture, _ = devices.load_picture(tx.conn, tx.house, visit.mac, visit.network)
    offer_code(tx, picture, visit.mac, source, typed)
    arrival = Arrival(Medium.PAGE, visit.mac, standing.access_device, network=visit.network)
    decision = decide(arrival, picture, tx.now)
    if standing.code_tried is None:
        standing.code_tried = tx.now
    tx.decided(arrival, decision, standing)
    if decision.answer is Answer.ADMIT:
        admission, _ = admit(tx, picture, visit.mac, visit.network)
        dialect = tx.house.dialects[tx.house.access_devices[standing.access_device].dialect]
        until = decision.left.until if decision.left else None
        let_in(tx, standing, admission, until, wake, dialect.pause_ms / 1000)
        if dialect.login_move is Move.POSTED:
            hand_out(tx, visit_id)
        visits.note_visit(tx.conn, visit_id, admission=admission, answer=Reason.ADMITTED, now=tx.now)
        return TryResult(None, Reason.ADMITTED, None, 0.0)
    tx.write_standing(standing)
    wait = 0.0
    if decision.reason is Reason.CODE_UNKNOWN:
        is_proven = visit.proof != APPENDED
        wait = count_wrong(tx, visit.mac, visit.network, standing, source, is_device_proven=is_proven)
    elif decision.reason is Reason.BARRED_BY_TRIES:
        _note(tx, visit_id, visit, decision.reason)
        return TryResult(None, decision.reason, picture.typing_barred_until, 0.0)
    _note(tx, visit_id, visit, decision.reason)
    return TryResult(None, decision.reason, devices.typing_barred_until(tx.conn, visit.mac), wait)


def log_out(tx: Tx, visit_id: str, wake: Wake) -> None:
    """Ends the stay that this very visit began; another visit of the same device may not.

    Nor may one that only claims to be of that device (rulings 6.2).
    """
    visit = _visit(tx, visit_id)
    if visit.proof == APPENDED:
        raise NotThere("stay")
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
