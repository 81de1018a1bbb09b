"""Who may sign in, and what they are there for."""

from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import StaffId
from lauschen.core.people.duties import Duty
from lauschen.road.tx import Tx
from lauschen.store import staff
from lauschen.store.staff import StaffMember

MOST_PEOPLE = 500


def put_first_password(tx: Tx, name: str, password_hash: str, *, good_for_s: float) -> None:
    """For somebody new or known; must be changed at first use, and all their sessions end."""
    staff.put_first_password(tx.conn, name, password_hash, until=tx.now + good_for_s)
    tx.log("first_password", facts={"name": name})


def add_person(tx: Tx, name: str, duty: Duty, password_hash: str, *, good_for_s: float) -> StaffId:
    """With a first password. Invalid for a name that somebody has, or when there are too many."""
    known = staff.all_staff(tx.conn)
    if any(one.name.casefold() == name.casefold() for one in known):
        raise Invalid("person_taken", field="name", mend="Somebody signs in under this name already.")
    if len(known) >= MOST_PEOPLE:
        raise Invalid("people_many", field="name", mend=f"At most {MOST_PEOPLE} people sign in.")
    until = tx.now + good_for_s
    made = staff.add_staff(tx.conn, name, password_hash, must_change=True, password_until=until, duty=duty)
    tx.log("person_added", facts={"name": name, "duty": duty})
    return made


def set_duty(tx: Tx, person: StaffId, duty: Duty) -> None:
    """In force with their next request. Invalid for the last administrator."""
    found = _get(tx, person)
    if found.duty is duty:
        return
    _check_not_last(tx, found)
    staff.set_duty(tx.conn, person, duty)
    tx.log("person_duty", facts={"name": found.name, "before": found.duty, "duty": duty})


def remove_person(tx: Tx, person: StaffId) -> None:
    """Signed out everywhere at once; what they did keeps their name. Invalid for the last administrator."""
    found = _get(tx, person)
    _check_not_last(tx, found)
    staff.remove_staff(tx.conn, person, tx.now)
    tx.log("person_removed", facts={"name": found.name})


def end_sessions(tx: Tx, person: StaffId) -> None:
    """Signed out everywhere; they may sign in again."""
    found = _get(tx, person)
    staff.end_sessions(tx.conn, person)
    tx.log("person_signed_out", facts={"name": found.name})


def _get(tx: Tx, person: StaffId) -> StaffMember:
    found = staff.get_staff(tx.conn, person)
    if found is None:
        raise NotThere("person")
    return found


def _check_not_last(tx: Tx, found: StaffMember) -> None:
    others = [
        one for one in staff.all_staff(tx.conn) if one.duty is Duty.ADMINISTRATOR and one.id != found.id
    ]
    if found.duty is Duty.ADMINISTRATOR and not others:
        raise Invalid("last_administrator", field="duty", mend="Somebody must stay who can set up the house.")
