"""How a browser comes to a visit: by a signed token, an appended address, or its own address (rulings 6.1, 8.1).

There is one visit for each token (or claim) and source address: its name is computed from both under our key, so
opening it again finds the same one and writes nothing.
"""

import base64
import hmac

from lauschen.acts.arriving.admitting import device_barred_until
from lauschen.core.config.dialect import Arrives
from lauschen.core.decide.standing import Standing, State
from lauschen.core.errors import LauschenError, NotThere
from lauschen.core.ids import AccessDeviceId, DialectId, Mac, NetworkId
from lauschen.core.limits.left import DOOR_SESSION_S
from lauschen.core.limits.tries import BARRED_S, VISITS_EACH, WINDOW_S
from lauschen.core.words.ip import group_of
from lauschen.core.words.tokens import PortalToken
from lauschen.road.tx import Tx
from lauschen.store import addresses, devices, visits
from lauschen.store.visits import TOKEN, Visit

APPENDED, ADDRESS = "appended", "address"
LOOK = "look"
"""Found by its address while it is inside: it may look, and more once the code it is in by was typed."""
SECOND_FACT_S = 300.0
VISIT_S = DOOR_SESSION_S + 600.0
ADDRESS_GOOD_FOR_S = 900.0


class OtherDevice(LauschenError):
    """The browser comes from an address that is another device's."""


class TooManyVisits(LauschenError):
    """All visits that a device may have from one source were used for wrong codes lately."""


def open_by_token(tx: Tx, token: PortalToken, going: str | None, source: str) -> str:
    """The name of the visit of a good token; NotThere when its device is not known."""
    check_served(tx, token.access_device, token.network)
    standing = devices.find_standing(tx.conn, token.mac, token.network)
    if standing is None:
        raise NotThere("device")
    check_address(tx, standing.network, standing.mac, source)
    if addresses.is_news(tx.conn, token.mac, source, addresses.PAGE, tx.now):
        addresses.note_addresses(tx.conn, token.mac, [source], addresses.PAGE, tx.now)
    claim = f"{token.access_device} {token.expires}"
    return _begin(tx, standing, token.access_device, claim, going, TOKEN, float(token.expires), source)


def open_appended(tx: Tx, mac: Mac, dialect: DialectId, going: str | None, source: str) -> str:
    """The access device appended a MAC to our address. That proves nothing about who asks (rulings 6.2).

    Believed only with a second fact: an access device of this dialect asked about that MAC in the last minutes, or
    the browser comes from the address that accounting gave for it.
    """
    for standing in devices.standings_of(tx.conn, mac):
        device = tx.config.access_devices.get(standing.access_device)
        if device is None or device.dialect != dialect:
            continue
        is_recent = tx.now - standing.last_heard <= SECOND_FACT_S
        if is_recent or (standing.framed_ip is not None and standing.framed_ip == source):
            check_address(tx, standing.network, mac, source)
            return _begin(tx, standing, device.id, "", going, APPENDED, tx.now + VISIT_S, source)
    raise NotThere("device")


def open_by_address(tx: Tx, going: str | None, source: str) -> str:
    """The short address alone: the device is the one that has the browser's address now.

    Guests can choose their address, so this lets in only where guests arrive no other way, and only while every
    device at the door has a known address; elsewhere it finds who is inside, to look.
    """
    found = [
        standing
        for standing in devices.standings_at_address(tx.conn, source)
        if standing.state is not State.LEFT
    ]
    if len(found) != 1:
        raise NotThere("device")  # nobody has it, or two do: then nobody can tell
    standing = found[0]
    dialect = tx.config.dialect_of(standing.access_device)
    is_plain = dialect is not None and dialect.arrives is Arrives.PLAIN
    if is_plain and not devices.is_unknown_at_door(tx.conn, standing.network):
        proof = ADDRESS
    elif is_in(standing):
        proof = LOOK
    else:
        raise NotThere("device")
    return _begin(tx, standing, standing.access_device, "", going, proof, tx.now + VISIT_S, source)


def is_in(standing: Standing) -> bool:
    """Inside or on its way in, by an admission that is open."""
    return standing.admission is not None and State.INSIDE in (standing.state, standing.wanted)


def may_only_look(visit: Visit, standing: Standing) -> bool:
    """A visit that did not make the open admission, nor typed its code, may look and no more (rulings 8.3)."""
    return standing.admission != visit.admission if is_in(standing) else visit.proof == LOOK


def find_visit(tx: Tx, visit_id: str, source: str) -> Visit:
    """The visit for an act of its browser, which comes from `source`."""
    visit = visits.find_visit(tx.conn, visit_id, tx.now)
    if visit is None:
        raise NotThere("visit")
    check_address(tx, visit.network, visit.mac, source)
    return visit


def check_address(tx: Tx, network: NetworkId, mac: Mac, source: str) -> None:
    """OtherDevice for an address that was given to another device of that network in the last minutes."""
    if devices.is_another_at(tx.conn, network, mac, source, tx.now - ADDRESS_GOOD_FOR_S):
        raise OtherDevice


def check_served(tx: Tx, access_device: AccessDeviceId, network: NetworkId) -> None:
    """NotThere for a place where nobody is let in: the access device was removed, or may not ask for this network."""
    if not tx.config.serves(access_device, network):
        raise NotThere("access_device")


def _begin(
    tx: Tx,
    standing: Standing,
    access_device: AccessDeviceId,
    claim: str,
    going: str | None,
    proof: str,
    expires: float,
    source: str,
) -> str:
    source = group_of(source)  # the privacy addresses of one browser make one visit
    visit_id = _name(tx, f"{proof} {standing.mac} {standing.network} {claim} {source}")
    check_served(tx, access_device, standing.network)
    known = visits.find_visit(tx.conn, visit_id, tx.now)
    if known is not None:
        if going is not None and going != known.going:
            visits.set_going(tx.conn, visit_id, going)
        return visit_id
    _make_room(tx, standing, source)
    visit = Visit(standing.mac, standing.network, access_device, going, tx.now, expires, proof, source)
    visits.add_visit(tx.conn, visit_id, visit)
    barred = device_barred_until(tx, standing.mac) if proof == TOKEN else None
    if barred is not None:
        visits.bar_visits_of(
            tx.conn, standing.mac, TOKEN, barred
        )  # a visit from another address is no fresh start
    if standing.page_opened is None and standing.state is not State.INSIDE:
        standing.page_opened = tx.now
        tx.write_standing(standing)
        tx.log("page_opened", mac=standing.mac, network=standing.network, access_device=access_device)
    return visit_id


def _make_room(tx: Tx, standing: Standing, source: str) -> None:
    """The oldest visit that nobody guessed in gives way; TooManyVisits when they all were used for that."""
    living = visits.living_visits(tx.conn, standing.mac, standing.network, source, tx.now)
    if len(living) < VISITS_EACH:
        return
    since = tx.now - WINDOW_S - BARRED_S
    for digest in living:
        if not visits.wrong_tries_in(tx.conn, digest, since):
            visits.end_visit(tx.conn, digest, tx.now)
            return
    raise TooManyVisits


def _name(tx: Tx, claim: str) -> str:
    digest = hmac.digest(tx.keys.token_key, b"visit " + claim.encode(), "sha256")
    return base64.urlsafe_b64encode(digest[:18]).decode()
