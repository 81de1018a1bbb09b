"""What somebody proved: hashing a password takes its time, in which they may be removed or given another one."""

from lauschen.core.errors import Invalid
from lauschen.road.tx import Tx
from lauschen.store.people import staff
from lauschen.store.people.staff import StaffMember


def still_proved(tx: Tx, proved: StaffMember, field: str) -> StaffMember:
    """As they are now. Invalid when they were removed, or the password that was right is theirs no more."""
    found = staff.get_staff(tx.conn, proved.id)
    if found is None or found.password_hash != proved.password_hash:
        raise wrong(field)
    return found


def wrong(field: str) -> Invalid:
    return Invalid("sign_in_wrong", field=field, mend="Name and password do not go together.")
