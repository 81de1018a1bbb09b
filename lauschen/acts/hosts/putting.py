"""A question is put to somebody by mail, with a link to the page where they answer."""

from lauschen.acts.messages.machines import tell_machines
from lauschen.acts.messages.writing import note_not_written, write_message
from lauschen.core.config.host import Host, find_host
from lauschen.core.errors import Invalid
from lauschen.core.ids import HostId
from lauschen.core.messages.message import About, Channel, Draft, Kind
from lauschen.core.ways.offers.fields import KNOWN_FIELDS, MAIL, NAME, PHONE
from lauschen.core.ways.sponsor import Naming, Sponsor
from lauschen.core.ways.vouching import Role
from lauschen.core.words.mac import spell_mac
from lauschen.core.words.text import unlinked
from lauschen.road.tx import Tx
from lauschen.store import visits
from lauschen.store.hosts import questions, vouchings
from lauschen.store.hosts.questions import Person
from lauschen.store.hosts.vouchings import Vouching

LINK_OCTETS = 16
MOST_NUMBER = 9


def person_of(host: Host) -> Person:
    return Person(host.id, host.name, host.mail, host.lang)


def named_by(tx: Tx, way: Sponsor, vouching: Vouching) -> Person | None:
    """Whom the guest means; None when there is nobody of that name, or there are several."""
    hosts = tx.config.hosts
    if way.naming is Naming.LIST:
        number = vouching.named
        is_number = number.isascii() and number.isdecimal() and len(number) <= MOST_NUMBER
        if is_number:
            host = hosts.get(HostId(int(number)))
            return person_of(host) if host is not None and host.may_vouch(vouching.network) else None
    found = find_host(hosts.values(), vouching.network, vouching.named)
    if found is not None:
        return person_of(found)
    if way.naming is Naming.DOMAIN and way.takes(vouching.named):
        is_listed = any(host.mail.casefold() == vouching.named.casefold() for host in hosts.values())
        # Who is on the list may vouch where the list says, and nowhere else.
        return None if is_listed else _unlisted(vouching)
    return None


def put_question(tx: Tx, vouching: Vouching, way: Sponsor, person: Person, role: Role) -> None:
    """In the outbox with this transaction; what cannot be written is noted, for the desk to see."""
    link = tx.chance.name(LINK_OCTETS)
    remind_at = None if way.remind_s is None else tx.now + way.remind_s
    question = questions.add_question(
        tx.conn, tx.keys, vouching.id, person, role, link=link, now=tx.now, remind_at=remind_at
    )
    vouchings.ask_later(tx.conn, vouching.id, None, tx.now + way.wait_s)
    visits.prolong_visit(tx.conn, vouching.visit, tx.now + way.wait_s + visits.AFTER_END_S)
    _write(tx, vouching, question, person, link, Kind.ASKED)
    facts: dict[str, str | int | float | None] = {
        "name": vouching.answers.get(NAME, ""), "host": person.name, "role": role,
    }  # fmt: skip
    tx.log("host_asked", mac=vouching.mac, network=vouching.network, facts=facts)
    tell_of(tx, vouching, Kind.HOST_ASKED, person.name)


def remind(tx: Tx, which: int) -> None:
    """The same link once more."""
    question = questions.get_question(tx.conn, tx.keys, which)
    vouching = None if question is None else vouchings.get_vouching(tx.conn, tx.keys, question.vouching)
    if question is not None and vouching is not None:
        _write(tx, vouching, question.id, question.person, question.link, Kind.REMINDER)


def tell_of(tx: Tx, vouching: Vouching, kind: Kind, host: str) -> None:
    """Machines that hear of it."""
    network = tx.config.networks.get(vouching.network)
    words = {
        "name": vouching.answers.get(NAME, ""),
        "host": host,
        "device": spell_mac(vouching.mac),
        "network": network.name if network is not None else "",
        "site": tx.config.site_name,
    }
    tell_machines(tx, kind, words, About(network=vouching.network))


def _write(tx: Tx, vouching: Vouching, question: int, person: Person, link: str, kind: Kind) -> None:
    answers = vouching.answers
    # Of these the form was looked at; the others may say anything.
    known = {
        key: answers.get(key, "") if key in (MAIL, PHONE) else unlinked(answers.get(key, ""))
        for key in KNOWN_FIELDS
    }
    network = tx.config.networks.get(vouching.network)
    words = {
        **known,
        "more": unlinked(_more(tx, vouching)),
        "host": person.name,
        "network": network.shown_as if network is not None else "",
        "link": f"{tx.config.page_url}/host/{link}",
        "site": tx.config.site_name,
    }
    about = About(network=vouching.network)
    try:
        write_message(tx, Draft(Channel.MAIL, kind, person.lang, person.mail, words, about), to_host=True)
    except Invalid as refused:
        questions.note_fault(tx.conn, question, refused.mend)
        note_not_written(tx, kind, refused, mac=vouching.mac, network=vouching.network)


def _more(tx: Tx, vouching: Vouching) -> str:
    """What the house asked besides, each with its label."""
    network = tx.config.networks.get(vouching.network)
    way = next((one for one in network.ways if isinstance(one, Sponsor)), None) if network else None
    own = [one for one in way.fields if one.key not in KNOWN_FIELDS] if way is not None else []
    said = [
        f"{next(iter(one.labels.values()), '')}: {vouching.answers[one.key]}"
        for one in own
        if vouching.answers.get(one.key)
    ]
    return " · ".join(said)


def _unlisted(vouching: Vouching) -> Person:
    """Somebody whose address is the house's. Nothing else is known of them, so they read the guest's language."""
    return Person(None, vouching.named, vouching.named, vouching.lang)
