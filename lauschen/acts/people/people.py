"""Who may sign in, what they are there for, and what they may give."""

from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import StaffId
from lauschen.core.people.duties import Duty
from lauschen.core.people.limits import NO_LIMITS, Limits, limits_words
from lauschen.road.tx import Tx
from lauschen.store.people import programs, sessions, staff
from lauschen.store.people.staff import StaffMember

MOST_PEOPLE = 500


def put_first_password(tx: Tx, name: str, password_hash: str, *, good_for_s: float) -> None:
    """For somebody new or known; must be changed at first use, and all their sessions end."""
    if any(one.name == name for one in programs.all_programs(tx.conn)):
        raise Invalid("person_is_program", field="name", mend=f"{name} is a program with a token.")
    staff.put_first_password(tx.conn, name, password_hash, until=tx.now + good_for_s)
    tx.log("first_password", facts={"name": name})


def add_person(
    tx: Tx, name: str, duty: Duty, password_hash: str, *, good_for_s: float, limits: Limits = NO_LIMITS
) -> StaffId:
    """With a first password. Invalid for a name that somebody has, or when there are too many."""
    check_name(tx, name)
    check_limits(tx, limits)
    if len(staff.all_staff(tx.conn)) >= MOST_PEOPLE:
        raise Invalid("people_many", field="name", mend=f"At most {MOST_PEOPLE} people sign in.")
    until = tx.now + good_for_s
    made = staff.add_staff(tx.conn, name, password_hash, must_change=True, password_until=until, duty=duty)
    staff.set_limits(tx.conn, made, limits)
    tx.log("person_added", facts={"name": name, "duty": duty})
    return made


def change_person(tx: Tx, person: StaffId, duty: Duty, limits: Limits) -> None:
    """In force with their next request. Invalid for the last administrator."""
    found = _get(tx, person)
    check_limits(tx, limits)
    if found.duty is not duty:
        _check_not_last(tx, found)
        staff.set_duty(tx.conn, person, duty)
        tx.log("person_duty", facts={"name": found.name, "before": found.duty, "duty": duty})
    if found.limits != limits:
        staff.set_limits(tx.conn, person, limits)
        before, after = limits_words(found.limits, tx.config), limits_words(limits, tx.config)
        tx.log("person_limits", facts={"name": found.name, "before": before, "limits": after})


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


def end_one_session(tx: Tx, person: StaffId, session: str) -> None:
    """One browser of theirs is signed out."""
    found = _get(tx, person)
    if not sessions.end_one_of(tx.conn, person, session):
        raise NotThere("session")
    tx.log("session_ended", facts={"name": found.name})


def check_name(tx: Tx, name: str) -> None:
    """Invalid for one that somebody, or a program, goes by."""
    if staff.is_taken(tx.conn, name):
        raise Invalid("person_taken", field="name", mend="Somebody signs in under this name already.")


def check_limits(tx: Tx, limits: Limits) -> None:
    """Invalid for what nobody could keep to."""
    if any(network not in tx.config.networks for network in limits.networks):
        raise Invalid("limits_networks", field="networks", mend="Choose those that are there.")
    offered = {plan.id for plan in tx.config.offered_plans}
    if any(plan not in offered for plan in limits.plans):
        raise Invalid("limits_plans", field="plans", mend="Choose those that are there.")


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
