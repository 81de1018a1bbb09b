"""An address is confirmed: by the digits that were sent to it, typed at the page, or by the link's button."""

from lauschen.acts.arriving.admitting import count_wrong_at_page
from lauschen.acts.desk.reaching import tell_of_more
from lauschen.acts.page.trying import Tried, here
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import CredentialId
from lauschen.core.ways.self_registration import CONFIRMS
from lauschen.road.tx import Tx
from lauschen.store import allowances, credentials, devices
from lauschen.store.messages import registrations
from lauschen.store.messages.registrations import Registration
from lauschen.store.visits import visit_hash

GOOD_FOR_S = 86_400.0
"""So long after it was written somebody may confirm."""


def confirm_by_code(tx: Tx, visit_id: str, source: str, code: str) -> Tried:
    """In the visit that wrote itself in; wrong digits count as wrong codes do."""
    visit, _ = here(tx, visit_id, source)
    digest = visit_hash(visit_id)
    found = registrations.newest_of_visit(tx.conn, tx.keys, digest)
    if found is None or found.delivery not in CONFIRMS:
        raise NotThere("registration")
    if visit.barred_until is not None and visit.barred_until > tx.now:
        return Tried(Reason.BARRED_BY_TRIES, visit.barred_until, 0.0)
    if not registrations.is_code(tx.conn, tx.keys, found.credential, code):
        until, wait = count_wrong_at_page(tx, digest, visit, source)
        return Tried(Reason.CODE_UNKNOWN, until, wait)
    _confirm(tx, found)
    return Tried(Reason.ADMITTED, None, 0.0)


def confirm_by_link(tx: Tx, link: str) -> Registration:
    """Whoever reads the message has the link. Used again it changes nothing; Invalid when it is too late."""
    found = registrations.by_link(tx.conn, tx.keys, link)
    if found is None:
        raise NotThere("link")
    _confirm(tx, found)
    return found


def _confirm(tx: Tx, found: Registration) -> None:
    """The whole of its plan, from now on."""
    if found.confirmed_at is not None:
        return
    if tx.now > found.at + GOOD_FOR_S or _is_withdrawn(tx, found.credential):
        raise Invalid("confirm_late", field="code", mend="Write yourself in once more.")
    held = devices.held_by(tx.conn, found.credential)
    registrations.note_confirmed(tx.conn, found.credential, tx.now)
    allowances.begin_anew(tx.conn, found.credential, tx.now)
    inside = devices.where_admitted(tx.conn, found.credential)
    tell_of_more(tx, found.credential, held, inside)
    tx.log("address_confirmed", mac=found.mac, network=found.network)


def _is_withdrawn(tx: Tx, credential: CredentialId) -> bool:
    return credentials.get_issued(tx.conn, tx.keys, credential).grant.use.withdrawn_at is not None
