"""What a host does with those they vouched for, from their own page."""

from lauschen.acts.desk.helping import give_time, withdraw
from lauschen.acts.desk.pausing import draw_new_code, pause, resume
from lauschen.acts.hosts.addresses import address_of
from lauschen.acts.hosts.answering import longest_of
from lauschen.acts.hosts.waiting import way_of
from lauschen.acts.messages.passes import send_issued
from lauschen.acts.messages.writing import write_message
from lauschen.core.config.config import Config
from lauschen.core.decide.grant import Grant
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
GIVEN_S = (3600, 4 * 3600, 86_400, 7 * 86_400)
"""What a host may give more, as their page offers it."""
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
            _check_time(tx, person, vouching, seconds)
            give_time(tx, credential, seconds)
        case "pause":
            pause(tx, credential)
        case "resume":
            resume(tx, credential)
        case "send_again":
            _send(tx, vouching, credential)
        case "new_code":
            draw_new_code(tx, credential)
            if address_of(tx.config.channels, vouching) is not None:
                _send(tx, vouching, credential)
        case "withdraw":
            withdraw(tx, credential)
        case _:
            raise NotThere("act")


def send_own_page(tx: Tx, person: Person) -> None:
    """A new link to it; the one before leads nowhere any more."""
    link = tx.chance.name(LINK_OCTETS)
    questions.give_link(tx.conn, tx.keys, person, link, tx.now)
    words = {"host": person.name, "link": f"{tx.config.page_url}/hosts/{link}", "site": tx.config.site_name}
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


def times_for(
    config: Config, vouching: Vouching, person: Person, grant: Grant, now: float
) -> tuple[int, ...]:
    """Return what a host may give more: so that it lasts no longer, from now on, than what they may give."""
    host = config.hosts.get(person.host) if person.host is not None else None
    plan, way = config.plan_of(grant), way_of(config, vouching)
    most = plan.seconds if way is None else longest_of(config, way, person)
    if host is not None and host.longest_minutes is not None:
        most = host.longest_minutes * 60
    remains = left(plan, grant.use, now).seconds
    if remains is None:
        return ()
    return tuple(seconds for seconds in GIVEN_S if most is None or remains + seconds <= most)


def _check_time(tx: Tx, person: Person, vouching: Vouching, seconds: int) -> None:
    """Invalid for what the form does not offer, or is not theirs to give."""
    if person.host is not None and person.host not in tx.config.hosts:
        raise Invalid("host_removed", field="", mend="You are no longer on the list of hosts.")
    if seconds not in GIVEN_S:
        raise Invalid("not_offered", field="seconds", mend="Choose one of the times that are offered.")
    assert vouching.credential is not None
    grant = credentials.get_issued(tx.conn, tx.keys, vouching.credential).grant
    if seconds not in times_for(tx.config, vouching, person, grant, tx.now):
        mend = "That would be longer than you may give."
        raise Invalid("longer_than_may", field="seconds", mend=mend)


def _send(tx: Tx, vouching: Vouching, credential: CredentialId) -> None:
    address = address_of(tx.config.channels, vouching)
    if address is None:
        raise Invalid("no_address", field="", mend="This guest left no address to write to.")
    send_issued(tx, credential, address, network=vouching.network)
