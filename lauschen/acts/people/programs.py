"""Programs with a token: added, changed, given another token, removed."""

from lauschen.acts.people.people import MOST_PEOPLE, check_limits, check_name
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import StaffId
from lauschen.core.people.duties import Duty
from lauschen.core.people.limits import Limits, limits_words
from lauschen.road.tx import Tx
from lauschen.store.log import Facts
from lauschen.store.people import programs, staff
from lauschen.store.people.programs import Program

DUTIES = (Duty.DESK, Duty.AUDITOR)
"""No program sets up the house."""


def add_program(tx: Tx, name: str, duty: Duty, limits: Limits, token: str, until: float | None) -> StaffId:
    """Known by its token from the next request on."""
    check_name(tx, name)
    _check(tx, duty, limits, until)
    if len(programs.all_programs(tx.conn)) >= MOST_PEOPLE:
        raise Invalid("programs_many", field="name", mend=f"At most {MOST_PEOPLE} programs.")
    made = programs.add_program(tx.conn, name, duty, token, until)
    staff.set_limits(tx.conn, made, limits)
    tx.log("program_added", facts={"name": name, "duty": duty, "limits": limits_words(limits, tx.config)})
    return made


def change_program(tx: Tx, program: StaffId, duty: Duty, limits: Limits) -> None:
    """In force with its next request."""
    found = get_program(tx, program)
    _check(tx, duty, limits, None)
    staff.set_duty(tx.conn, program, duty)
    staff.set_limits(tx.conn, program, limits)
    facts: Facts = {
        "name": found.name, "duty": duty,
        "before": limits_words(found.limits, tx.config), "limits": limits_words(limits, tx.config),
    }  # fmt: skip
    tx.log("program_changed", facts=facts)


def renew_token(tx: Tx, program: StaffId, token: str, until: float | None) -> None:
    """The one before is good no more, at once."""
    found = get_program(tx, program)
    _check(tx, found.duty, found.limits, until)
    programs.set_token(tx.conn, program, token, until)
    tx.log("program_token", facts={"name": found.name})


def remove_program(tx: Tx, program: StaffId) -> None:
    """What it did keeps its name."""
    found = get_program(tx, program)
    staff.remove_staff(tx.conn, program, tx.now)
    tx.log("program_removed", facts={"name": found.name})


def get_program(tx: Tx, program: StaffId) -> Program:
    found = next((one for one in programs.all_programs(tx.conn) if one.id == program), None)
    if found is None:
        raise NotThere("program")
    return found


def _check(tx: Tx, duty: Duty, limits: Limits, until: float | None) -> None:
    if duty not in DUTIES:
        raise Invalid("program_duty", field="duty", mend="A program is there for the desk, or only looks.")
    if until is not None and until <= tx.now:
        raise Invalid("until_past", field="until", mend="That moment is over already.")
    check_limits(tx, limits)
