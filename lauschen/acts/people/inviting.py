"""Invitations: a link by mail, by which somebody new chooses a password of their own."""

from lauschen.acts.messages.writing import write_message
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import StaffId
from lauschen.core.messages.message import Channel, Draft, Kind
from lauschen.core.people.duties import DUTY_WORDS
from lauschen.road.tx import Tx
from lauschen.store.people import invitations, staff

INVITED_S = 3 * 86_400


def invite(tx: Tx, person: StaffId, mail: str, lang: str, link: str, token: str) -> None:
    """`link`: where the console is, with the token in it. One before this is good no more."""
    found = staff.get_staff(tx.conn, person)
    if found is None:
        raise NotThere("person")
    invitations.put(tx.conn, person, mail, token, tx.now + INVITED_S)
    words = {
        "name": found.name, "duty": DUTY_WORDS[lang][found.duty], "link": link, "site": tx.config.site_name,
    }  # fmt: skip
    write_message(tx, Draft(Channel.MAIL, Kind.INVITED, lang, mail, words), is_ours=True)
    tx.log("person_invited", facts={"name": found.name, "to": mail})


def over() -> Invalid:
    """What is said of a link that is good no more."""
    mend = "This link was used, or is older than three days. An administrator can send another one."
    return Invalid("invitation_over", field="new", mend=mend)


def accept(tx: Tx, token: str, password_hash: str) -> str:
    """As whom they sign in. Invalid for a link that was used, is too old, or of somebody who was removed."""
    person = invitations.find(tx.conn, token, tx.now)
    if person is None:
        raise over()
    staff.set_password(tx.conn, person, password_hash)
    invitations.forget(tx.conn, person)
    tx.log("invitation_accepted")
    found = staff.get_staff(tx.conn, person)
    assert found is not None
    return found.name
