"""A host says yes or no, or the desk does in their stead. The first answer counts."""

from collections.abc import Sequence
from dataclasses import dataclass

from lauschen.acts.desk.issuing import begin_batch, draw_one
from lauschen.acts.desk.within import limits_of, sight_of
from lauschen.acts.hosts.addresses import address_of
from lauschen.acts.hosts.putting import person_of, put_question, tell_of
from lauschen.acts.hosts.waiting import way_of
from lauschen.acts.messages.passes import send_issued
from lauschen.acts.messages.writing import note_not_written, write_message
from lauschen.acts.page.trying import decide_offer
from lauschen.acts.page.visiting import is_in
from lauschen.core.config.config import Config
from lauschen.core.decide.standing import State
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import CredentialId, HostId, NetworkId, PlanId, VouchingId
from lauschen.core.limits.left import CredentialState, credential_state
from lauschen.core.limits.terms import Terms
from lauschen.core.messages.message import About, Draft, Kind
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.offers.code import Code
from lauschen.core.ways.offers.fields import MAIL, NAME, PHONE
from lauschen.core.ways.sponsor import Sponsor
from lauschen.core.ways.vouching import LONGEST_WORD, Length, Role, VouchingState, lengths
from lauschen.road.tx import Tx
from lauschen.store import allowances, batches, visits
from lauschen.store.batches import Said
from lauschen.store.hosts import questions, vouchings
from lauschen.store.hosts.questions import Person, Question
from lauschen.store.hosts.vouchings import Vouching

KEPT_S = 180 * 86_400.0


@dataclass(frozen=True, slots=True)
class Answer:
    """What was pressed."""

    length: str | None
    """The key of what is given; None: no."""
    word: str = ""
    """To the guest."""


def answer_by_link(tx: Tx, link: str, answer: Answer) -> None:
    """Whoever reads the mail has the link. NotThere: nobody was sent it; Invalid: why it cannot be answered so."""
    question = questions.by_link(tx.conn, tx.keys, link)
    vouching = None if question is None else vouchings.get_vouching(tx.conn, tx.keys, question.vouching)
    if question is None or vouching is None:
        raise NotThere("link")
    way = _waits(tx, vouching)
    host = tx.config.hosts.get(question.person.host) if question.person.host is not None else None
    if question.person.host is not None and host is None:
        raise Invalid("host_removed", field="", mend="You are no longer on the list of hosts.")
    if answer.length is None:
        _say_no(tx, vouching, answer, question=question)
        return
    at_once = host.at_once if host is not None else None
    if at_once is not None and count_good(tx, question.person) >= at_once:
        raise Invalid(
            "host_full", field="", mend=f"You have {at_once} guests at once, and may not have more."
        )
    _say_yes(tx, vouching, answer, may_give(tx.config, way, question.person), question=question)


def answer_by_desk(tx: Tx, vouching_id: VouchingId, answer: Answer) -> None:
    """In the host's stead."""
    vouching = vouchings.get_vouching(tx.conn, tx.keys, vouching_id)
    if vouching is None or not sight_of(tx).sees(vouching.network):
        raise NotThere("vouching")
    way = _waits(tx, vouching)
    if answer.length is None:
        _say_no(tx, vouching, answer)
    else:
        _say_yes(tx, vouching, answer, may_give(tx.config, way, None))


def ask_another(tx: Tx, vouching_id: VouchingId, host_id: HostId) -> None:
    """The desk chooses who is asked; whoever was asked before may still answer."""
    vouching, host = vouchings.get_vouching(tx.conn, tx.keys, vouching_id), tx.config.hosts.get(host_id)
    if vouching is None or not sight_of(tx).sees(vouching.network):
        raise NotThere("vouching")
    if host is None:
        raise NotThere("host")
    way = _waits(tx, vouching)
    if not host.may_vouch(vouching.network):
        raise Invalid("host_elsewhere", field="host", mend=f"{host.name} may not vouch on this network.")
    put_question(tx, vouching, way, person_of(host), Role.BY_DESK)


def may_give(config: Config, way: Sponsor, person: Person | None) -> list[Length]:
    """What somebody may choose from; None: the desk, which is not bound."""
    host = config.hosts.get(person.host) if person is not None and person.host is not None else None
    offered = {plan.id: plan for plan in config.offered_plans}
    wanted: Sequence[PlanId] = host.plans if host is not None and host.plans else (way.plan,)
    if person is None:
        wanted = (way.plan, *(plan for plan in offered if plan != way.plan))
    plans = [
        config.plans[way.plan] if plan == way.plan else offered[plan] for plan in wanted if plan in offered
    ]
    longest = host.longest_minutes if host is not None else None
    return lengths(plans or [config.plans[way.plan]], None if longest is None else longest * 60)


def longest_of(config: Config, way: Sponsor, person: Person) -> int | None:
    """Return the seconds of the longest that somebody may give; None when one of them has no end."""
    all_of_them = [one.seconds or config.plans[one.plan].seconds for one in may_give(config, way, person)]
    ends = [seconds for seconds in all_of_them if seconds is not None]
    return max(ends) if len(ends) == len(all_of_them) else None


def count_good(tx: Tx, person: Person) -> int:
    """Of the guests that somebody vouched for, those whose code is good now."""
    given = questions.vouched_by(tx.conn, tx.keys, person, tx.now - KEPT_S)
    return sum(_is_good(tx, credential) for credential in given)


def _is_good(tx: Tx, credential: CredentialId) -> bool:
    grant = allowances.allowances_of(tx.conn, credential)[0]
    state = credential_state(tx.config.plan_of(grant), grant.use, tx.now)
    return state in (CredentialState.FRESH, CredentialState.RUNNING, CredentialState.PAUSED)


def _waits(tx: Tx, vouching: Vouching) -> Sponsor:
    """Invalid when it waits for nobody any more."""
    if vouching.state is not VouchingState.WAITING:
        raise Invalid("answered_before", field="", mend="This was answered, or its time is over.")
    way = way_of(tx.config, vouching)
    if way is None:
        raise Invalid("way_gone", field="", mend="The house does not take guests by a host there any more.")
    return way


def _say_no(tx: Tx, vouching: Vouching, answer: Answer, question: Question | None = None) -> None:
    word = answer.word.strip()[:LONGEST_WORD]
    by = None if question is None else question.id
    vouchings.settle(
        tx.conn, tx.keys, vouching, VouchingState.NO, tx.now, word=word, answered_by=by, staff=tx.staff
    )
    _log_answer(tx, vouching, "host_said_no", question)
    address = address_of(tx.config.channels, vouching)
    if address is not None:
        words = {"word": word, "site": tx.config.site_name}
        about = About(network=vouching.network)
        _try_to_write(
            tx, vouching, Draft(address.channel, Kind.NOT_VOUCHED, address.lang, address.to, words, about)
        )


def _say_yes(
    tx: Tx, vouching: Vouching, answer: Answer, choices: Sequence[Length], question: Question | None = None
) -> None:
    length = next((one for one in choices if one.key == answer.length), None)
    if length is None:
        raise Invalid("length", field="length", mend="Choose one of the lengths that are offered.")
    until = None if length.seconds is None else tx.now + length.seconds
    terms = Terms(valid_until=until, network=_where(tx, vouching, question))
    label = vouching.answers.get(NAME) or vouching.answers.get(MAIL) or vouching.answers.get(PHONE) or ""
    batch = begin_batch(tx, plan=length.plan, size=1, said=Said(label), terms=terms)
    credential, code = draw_one(tx, way=WayIn.SPONSOR, batch=batch, plan=length.plan, terms=terms)
    batches.make_valid(tx.conn, batch)
    vouchings.settle(
        tx.conn, tx.keys, vouching, VouchingState.YES, tx.now, word=answer.word.strip()[:LONGEST_WORD],
        answered_by=None if question is None else question.id, staff=tx.staff, credential=credential,
    )  # fmt: skip
    _log_answer(tx, vouching, "host_said_yes", question)
    _let_in(tx, vouching, code)
    address = address_of(tx.config.channels, vouching)
    if address is not None:
        try:
            send_issued(tx, credential, address, network=vouching.network)
        except Invalid as refused:
            note_not_written(tx, Kind.PASS, refused, mac=vouching.mac, network=vouching.network)


def _where(tx: Tx, vouching: Vouching, question: Question | None) -> NetworkId | None:
    """Where alone the code is good: here, when whoever says yes may not say it everywhere."""
    host = (
        tx.config.hosts.get(question.person.host) if question and question.person.host is not None else None
    )
    is_bound = bool(limits_of(tx).networks) if host is None else bool(host.networks)
    return vouching.network if is_bound else None


def _let_in(tx: Tx, vouching: Vouching, code: str) -> None:
    """The device that waits is in at once, whether its page is still open or not."""
    standing = tx.read_standing(vouching.mac, vouching.network)
    visit = visits.find_by_digest(tx.conn, vouching.visit, tx.now)
    if standing is None or visit is None or standing.state is State.LEFT or is_in(standing):
        return
    if standing.access_device in tx.config.access_devices:
        decide_offer(tx, vouching.visit, visit, standing, Code("", code), visit.source)


def _log_answer(tx: Tx, vouching: Vouching, kind: str, question: Question | None) -> None:
    host = "" if question is None else question.person.name
    tx.log(
        kind,
        mac=vouching.mac,
        network=vouching.network,
        facts={"name": vouching.answers.get(NAME, ""), "host": host},
    )
    heard = Kind.HOST_SAID_YES if kind == "host_said_yes" else Kind.HOST_SAID_NO
    tell_of(tx, vouching, heard, host)


def _try_to_write(tx: Tx, vouching: Vouching, draft: Draft) -> None:
    try:
        write_message(tx, draft)
    except Invalid as refused:
        note_not_written(tx, draft.kind, refused, mac=vouching.mac, network=vouching.network)
