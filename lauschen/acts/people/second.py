"""The second factor: turned on by whoever can show a code, asked for at each sign-in, taken away."""

from lauschen.acts.people.digits import draw_recovery_codes, recovery_hash, step_of
from lauschen.acts.people.proving import still_proved
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import StaffId
from lauschen.road.tx import Tx
from lauschen.store.people import second_factor, sessions, staff
from lauschen.store.people.staff import StaffMember


def turn_on(tx: Tx, proved: StaffMember, secret: str, typed: str, here: str) -> list[str]:
    """Recovery codes, shown this once. All browsers but the one that is `here` (its token) are signed out.

    Invalid when what was typed is no code of the secret now, or one is on.
    """
    if still_proved(tx, proved, "password").has_second:
        raise Invalid("second_is_on", field="code", mend="It is on already. Turn it off first.")
    step = step_of(secret, typed, tx.now, 0)
    if step is None:
        mend = "That is not the code of this moment. Is the clock of the phone right?"
        raise Invalid("second_wrong", field="code", mend=mend)
    codes = draw_recovery_codes()
    second_factor.put(tx.conn, tx.keys, proved.id, secret, step, [recovery_hash(code) for code in codes])
    sessions.end_others(tx.conn, proved.id, here)
    tx.log("second_factor_on")
    return codes


def turn_off(tx: Tx, person: StaffId) -> None:
    """By the person, or by an administrator for who lost theirs."""
    found = staff.get_staff(tx.conn, person)
    if found is None:
        raise NotThere("person")
    second_factor.forget(tx.conn, person)
    tx.log("second_factor_off", facts={"name": found.name})


def prove(tx: Tx, person: StaffId, typed: str) -> None:
    """Takes the code, so that nobody can use it again. Invalid when it is none; passes who has no second factor."""
    found = second_factor.find(tx.conn, tx.keys, person)
    if found is None:
        return
    step = step_of(found.secret, typed, tx.now, found.step)
    if step is not None and second_factor.take_step(tx.conn, person, step):
        return
    if second_factor.take_recovery_code(tx.conn, person, recovery_hash(typed)):
        tx.log("recovery_code_used", facts={"count": found.recovery_codes - 1})
        return
    raise Invalid("second_wrong", field="code", mend="That code is not right, or was used before.")
