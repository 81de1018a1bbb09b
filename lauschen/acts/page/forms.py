"""What every form of a guest at the page goes through: who may send one, and how many."""

from lauschen.acts.page.trying import here
from lauschen.acts.page.visiting import may_only_look
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.limits.registering import DAY_S, WINDOW_S, is_used_up, slow_down
from lauschen.core.words.ip import group_of
from lauschen.road.tx import Tx
from lauschen.store.messages import forms_sent
from lauschen.store.messages.forms_sent import SentForm
from lauschen.store.visits import Visit

_MANY = {
    SentForm.REGISTRATION: ("registrations_many", "This device has had its registrations of today."),
    SentForm.VOUCHING: ("asked_many", "This device has asked as often as it may today."),
}


def open_form(tx: Tx, visit_id: str, source: str, form: SentForm) -> tuple[Visit, float]:
    """The visit, and the seconds for which the answer should be held back; NotThere when it may not send any."""
    visit, standing = here(tx, visit_id, source)
    if may_only_look(visit, standing) or standing.reason is Reason.BARRED_BY_STAFF:
        raise NotThere("visit")
    since = tx.now - WINDOW_S
    wait = slow_down(
        forms_sent.count_from(tx.conn, form, group_of(source), since),
        forms_sent.count_on(tx.conn, form, visit.network, since),
    )
    return visit, wait


def check_share(tx: Tx, visit: Visit, form: SentForm) -> None:
    """Invalid when its device has sent as many as it may in a day."""
    if is_used_up(forms_sent.count_of_device(tx.conn, form, visit.mac, tx.now - DAY_S)):
        code, mend = _MANY[form]
        raise Invalid(code, field="", mend=mend)
