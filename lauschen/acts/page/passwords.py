"""A guest changes the password of the account by which the device is in."""

from lauschen.acts.arriving.admitting import count_wrong_at_page
from lauschen.acts.desk.accounts import set_password
from lauschen.acts.page.trying import Tried
from lauschen.acts.page.visiting import find_visit
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import NotThere
from lauschen.core.ids import CredentialId
from lauschen.core.ways.account import Login, login_finder
from lauschen.road.tx import Tx
from lauschen.store import credentials, devices, visits
from lauschen.store.accounts import NewPassword
from lauschen.store.visits import visit_hash


def account_of(tx: Tx, visit_id: str, source: str) -> CredentialId:
    """By which account this visit let its device in; NotThere when it did not, or is out again."""
    visit = find_visit(tx, visit_id, source)
    admission = devices.open_admission_of(tx.conn, visit.mac, visit.network)
    if admission is None or admission.id != visit.admission or admission.grant.credential is None:
        raise NotThere("account")
    return admission.grant.credential


def change_password(tx: Tx, visit_id: str, source: str, old: Login, new: NewPassword) -> Tried:
    """`old`: as it was proved. A wrong one is a guess like any other; one that was changed meanwhile is wrong."""
    visit, credential = find_visit(tx, visit_id, source), account_of(tx, visit_id, source)
    if visit.barred_until is not None and visit.barred_until > tx.now:
        return Tried(Reason.BARRED_BY_TRIES, visit.barred_until, 0.0)
    grant = None
    if old.stamp is not None:
        grant = credentials.find(tx.conn, tx.keys, login_finder(old.name, old.stamp), None)
    if grant is None or grant.credential != credential:
        until, wait = count_wrong_at_page(tx, visit_hash(visit_id), visit, source)
        visits.note_visit(
            tx.conn, visits.visit_hash(visit_id), admission=None, answer=Reason.LOGIN_WRONG, now=tx.now
        )
        return Tried(Reason.LOGIN_WRONG, until, wait)
    set_password(tx, credential, new, visit=visit)
    return Tried(Reason.ADMITTED, None, 0.0)
