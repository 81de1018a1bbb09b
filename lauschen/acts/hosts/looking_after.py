"""What a host does with those they vouched for, from their own page."""

from lauschen.acts.desk.helping import give_time, withdraw
from lauschen.acts.desk.pausing import draw_new_code, pause, resume
from lauschen.acts.hosts.addresses import address_of
from lauschen.acts.messages.passes import send_issued
from lauschen.acts.messages.writing import write_message
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import CredentialId, VouchingId
from lauschen.core.limits.left import left
from lauschen.core.messages.message import Channel, Draft, Kind
from lauschen.core.ways.vouching import VouchingState
from lauschen.road.tx import Tx
from lauschen.store import credentials
from lauschen.store.hosts import questions, vouchings
from lauschen.store.hosts.questions import Person
from lauschen.store.hosts.vouchings import Vouching

LINK_OCTETS = 16
ACTS = ("give_time", "pause", "resume", "send_again", "new_code", "withdraw")


def look_after(tx: Tx, link: str, vouching_id: VouchingId, act: str, seconds: int = 0) -> None:
    """One of `ACTS`. NotThere: no such link, or no guest of theirs; Invalid: why it cannot be."""
    person = questions.person_by_link(tx.conn, tx.keys, link, tx.now)
    if person is None:
        raise NotThere("link")
    vouching = _theirs(tx, person, vouching_id)
    credential = vouching.credential
    assert credential is not None
    match act:
        case "give_time":
            _check_time(tx, person, credential, seconds)
            give_time(tx, credential, seconds)
        case "pause":
            pause(tx, credential)
        case "resume":
            resume(tx, credential)
        case "send_again":
            _send(tx, vouching, credential)
        case "new_code":
            draw_new_code(tx, credential)
            if address_of(tx.house.channels, vouching) is not None:
                _send(tx, vouching, credential)
        case "withdraw":
            withdraw(tx, credential)
        case _:
            raise NotThere("act")


def send_own_page(tx: Tx, person: Person) -> None:
    """A new link to it; the one before leads nowhere any more."""
    link = tx.chance.name(LINK_OCTETS)
    questions.give_link(tx.conn, tx.keys, person, link, tx.now)
    words = {"host": person.name, "link": f"{tx.house.page_url}/hosts/{link}", "site": tx.house.site_name}
    tx.log("own_page_sent", facts={"host": person.name})
    write_message(tx, Draft(Channel.MAIL, Kind.OWN_PAGE, person.lang, person.mail, words), to_host=True)


def send_page_to_asked(tx: Tx, link: str) -> None:
    """To whom a question was put, at the address where it was put."""
    question = questions.by_link(tx.conn, tx.keys, link)
    if question is None:
        raise NotThere("link")
    send_own_page(tx, question.person)


def _theirs(tx: Tx, person: Person, vouching_id: VouchingId) -> Vouching:
    vouching = vouchings.get_vouching(tx.conn, tx.keys, vouching_id)
    by = None
    if vouching is not None and vouching.answered_by is not None:
        by = questions.get_question(tx.conn, tx.keys, vouching.answered_by)
    if (
        vouching is None
        or vouching.state is not VouchingState.YES
        or by is None
        or by.person.key != person.key
    ):
        raise NotThere("vouching")
    return vouching


def _check_time(tx: Tx, person: Person, credential: CredentialId, seconds: int) -> None:
    """Not more, from now on, than the host may give."""
    host = tx.house.hosts.get(person.host) if person.host is not None else None
    if person.host is not None and host is None:
        raise Invalid("host_removed", field="", mend="You are no longer on the list of hosts.")
    longest = host.longest_minutes if host is not None else None
    grant = credentials.get_issued(tx.conn, tx.keys, credential).grant
    remains = left(tx.house.plan_of(grant), grant.use, tx.now).seconds
    if longest is not None and remains is not None and remains + seconds > longest * 60:
        mend = "That would be longer than you may give."
        raise Invalid("longer_than_may", field="seconds", mend=mend)


def _send(tx: Tx, vouching: Vouching, credential: CredentialId) -> None:
    address = address_of(tx.house.channels, vouching)
    if address is None:
        raise Invalid("no_address", field="", mend="This guest left no address to write to.")
    send_issued(tx, credential, address, network=vouching.network)
