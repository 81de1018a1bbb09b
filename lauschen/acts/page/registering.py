"""A guest writes themselves in: one act that issues what they get, and writes the message that carries it."""

from collections.abc import Mapping
from dataclasses import dataclass

from lauschen.acts.desk.issuing import begin_batch, draw_one
from lauschen.acts.messages.consenting import note_consent
from lauschen.acts.messages.machines import tell_machines
from lauschen.acts.messages.passes import Address, send_issued
from lauschen.acts.messages.writing import write_message
from lauschen.acts.page.forms import check_share, open_form
from lauschen.acts.page.offered import open_way
from lauschen.acts.page.trying import here
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import CredentialId
from lauschen.core.messages.message import About, Channel, Draft, Kind
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.offers.fields import MAIL, NAME, PHONE, missing_of
from lauschen.core.ways.self_registration import CONFIRMS, NEEDS, Delivery, SelfRegistration
from lauschen.core.words.ip import group_of
from lauschen.core.words.mac import spell_mac
from lauschen.road.tx import Tx
from lauschen.store import batches, credentials
from lauschen.store.batches import Said
from lauschen.store.messages import registrations
from lauschen.store.messages.forms_sent import SentForm
from lauschen.store.visits import Visit, visit_hash

DIGITS = 6
LINK_OCTETS = 16


@dataclass(frozen=True, slots=True)
class Form:
    """What a guest wrote, each answer in its form already (addresses, numbers); and how they want their code."""

    answers: Mapping[str, str]
    delivery: Delivery
    lang: str
    consent: int | None = None
    """The version of the words at the box that was ticked, if it was."""


@dataclass(frozen=True, slots=True)
class Registered:
    """What came of it."""

    credential: CredentialId
    code: str
    wait_s: float
    """How long the answer should be held back."""


def register(tx: Tx, visit_id: str, source: str, form: Form) -> Registered:
    """Issues a code for who wrote themselves in. Invalid when the form lacks something or there were too many.

    The same form sent twice in one visit leads to the same code.
    """
    visit, wait = open_form(tx, visit_id, source, SentForm.REGISTRATION)
    way, digest = open_way(tx, visit.network, SelfRegistration), visit_hash(visit_id)
    _check(way, form)
    same = registrations.same_of_visit(tx.conn, tx.keys, digest, form.delivery, form.answers)
    if same is not None:
        return Registered(same, credentials.get_issued(tx.conn, tx.keys, same).code, wait)
    check_share(tx, visit, SentForm.REGISTRATION)
    credential, code = _issue(tx, way, form)
    _keep(tx, visit, digest, source, form, credential)
    if form.delivery in NEEDS:
        _send(tx, credential, form, visit, way.first_minutes)
    return Registered(credential, code, wait)


def _check(way: SelfRegistration, form: Form) -> None:
    """Invalid names what the form lacks."""
    if form.delivery not in way.deliveries:
        raise Invalid("delivery", field="delivery", mend="Choose one of those that are offered.")
    missing = missing_of(way.fields, form.answers, NEEDS.get(form.delivery))
    if missing:
        raise Invalid("field_missing", field=missing[0], mend="This is needed.")


def _keep(tx: Tx, visit: Visit, digest: bytes, source: str, form: Form, credential: CredentialId) -> None:
    """What was written, in the database, the log, and at the machines that hear of it."""
    registrations.add_registration(
        tx.conn, tx.keys, credential=credential, network=visit.network, mac=visit.mac, source=group_of(source),
        visit=digest, lang=form.lang, delivery=form.delivery, answers=form.answers, now=tx.now,
    )  # fmt: skip
    note_consent(tx, visit, form.answers, ticked=form.consent, lang=form.lang, credential=credential)
    name = form.answers.get(NAME, "")
    tx.log(
        "registered",
        mac=visit.mac,
        network=visit.network,
        access_device=visit.access_device,
        facts={"name": name, "delivery": form.delivery},
    )
    config = tx.config
    where = {"network": config.networks[visit.network].name, "site": config.site_name}
    words = {"name": name, "device": spell_mac(visit.mac), **where}
    tell_machines(tx, Kind.REGISTERED, words, About(network=visit.network))


def send_again(tx: Tx, visit_id: str, source: str) -> None:
    """The code that this visit was sent, once more; the budgets of messages hold. NotThere when none was sent."""
    visit, _ = here(tx, visit_id, source)
    found = registrations.newest_of_visit(tx.conn, tx.keys, visit_hash(visit_id))
    if found is None or found.delivery not in NEEDS or found.confirmed_at is not None:
        raise NotThere("message")
    way = tx.config.networks[visit.network].way(WayIn.SELF_REGISTRATION)
    minutes = way.first_minutes if isinstance(way, SelfRegistration) else 0
    _send(tx, found.credential, Form(found.answers, found.delivery, found.lang), visit, minutes)


def _send(tx: Tx, credential: CredentialId, form: Form, visit: Visit, first_minutes: int) -> None:
    to = NEEDS[form.delivery]
    address = Address(Channel.MAIL if to == MAIL else Channel.TEXT, form.answers[to], form.lang)
    if form.delivery in CONFIRMS:
        _ask_to_confirm(tx, credential, form, address, visit, first_minutes)
    else:
        send_issued(tx, credential, address, mac=visit.mac, network=visit.network)


def _ask_to_confirm(
    tx: Tx, credential: CredentialId, form: Form, address: Address, visit: Visit, minutes: int
) -> None:
    """A link and six digits; sent once more, only the newest ones confirm. The first stay is not longer by that."""
    code, link = f"{tx.chance.below(10**DIGITS):0{DIGITS}}", tx.chance.name(LINK_OCTETS)
    registrations.await_confirmation(
        tx.conn, tx.keys, credential, code=code, link=link, by=tx.now + minutes * 60
    )
    words = {
        "code": code,
        "link": f"{tx.config.page_url}/confirm/{link}",
        "minutes": str(minutes),
        "site": tx.config.site_name,
    }
    about = About(credential, visit.mac, visit.network)
    write_message(tx, Draft(address.channel, Kind.CONFIRM, form.lang, address.to, words, about))


def _issue(tx: Tx, way: SelfRegistration, form: Form) -> tuple[CredentialId, str]:
    """A batch of one, as the desk issues them: so it is shown, given time, sent again and withdrawn there too."""
    label = form.answers.get(NAME) or form.answers.get(MAIL) or form.answers.get(PHONE) or ""
    batch = begin_batch(tx, plan=way.plan, size=1, said=Said(label))
    drawn = draw_one(tx, way=WayIn.SELF_REGISTRATION, batch=batch, plan=way.plan)
    batches.make_valid(tx.conn, batch)
    return drawn
