"""A guest asks for a host. It is the same work whether there is such a host or not: who it is, is looked up later."""

from collections.abc import Mapping
from dataclasses import dataclass

from lauschen.acts.hosts.waiting import over_at
from lauschen.acts.messages.consenting import note_consent
from lauschen.acts.page.forms import check_share, open_form
from lauschen.acts.page.offered import open_way
from lauschen.acts.page.trying import here
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ways.offers.fields import NAME, missing_of
from lauschen.core.ways.sponsor import Naming, Sponsor
from lauschen.core.ways.vouching import VouchingState
from lauschen.core.words.ip import group_of
from lauschen.road.tx import Tx
from lauschen.store import visits
from lauschen.store.hosts import vouchings
from lauschen.store.messages.forms_sent import SentForm
from lauschen.store.visits import AFTER_END_S, visit_hash


@dataclass(frozen=True, slots=True)
class Request:
    """What a guest wrote, each answer in its form already, and whom they named."""

    answers: Mapping[str, str]
    named: str
    lang: str
    consent: int | None = None
    """The version of the words at the box that was ticked, if it was."""


def ask_host(tx: Tx, visit_id: str, source: str, request: Request) -> float:
    """Somebody will be asked; how many seconds the answer should be held back.

    The same asked again changes nothing; something else takes the one before back. Invalid when the form lacks
    something, or there were too many.
    """
    visit, wait = open_form(tx, visit_id, source, SentForm.VOUCHING)
    way = open_way(tx, visit.network, Sponsor)
    _check(tx, way, request)
    before = vouchings.waiting_of_device(tx.conn, tx.keys, visit.mac, visit.network)
    digest = visit_hash(visit_id)
    for one in before:
        is_same = vouchings.is_same(tx.conn, tx.keys, one.id, request.named, request.answers)
        if one.visit == digest and is_same:
            return wait
    check_share(tx, visit, SentForm.VOUCHING)
    for one in before:
        vouchings.settle(tx.conn, tx.keys, one, VouchingState.TAKEN_BACK, tx.now)
    vouchings.add_vouching(
        tx.conn, tx.keys, network=visit.network, mac=visit.mac, source=group_of(source), visit=digest,
        lang=request.lang, answers=request.answers, named=request.named, now=tx.now,
    )  # fmt: skip
    note_consent(tx, visit, request.answers, ticked=request.consent, lang=request.lang)
    # The page waits as long as the host may take, which may be longer than the token that opened it.
    visits.prolong_visit(tx.conn, digest, over_at(way, tx.now) + AFTER_END_S)
    tx.log(
        "host_wanted",
        mac=visit.mac,
        network=visit.network,
        access_device=visit.access_device,
        facts={"name": request.answers.get(NAME, "")},
    )
    return wait


def take_back(tx: Tx, visit_id: str, source: str) -> None:
    """The guest wants to ask somebody else, or nobody; NotThere when nobody was asked."""
    visit, _ = here(tx, visit_id, source)
    found = vouchings.newest_of_visit(tx.conn, tx.keys, visit_hash(visit_id))
    if found is None:
        raise NotThere("vouching")
    if found.state is VouchingState.WAITING:
        vouchings.settle(tx.conn, tx.keys, found, VouchingState.TAKEN_BACK, tx.now)
        tx.log("host_not_wanted", mac=visit.mac, network=visit.network)


def _check(tx: Tx, way: Sponsor, request: Request) -> None:
    """Invalid names what the form lacks."""
    missing = missing_of(way.fields, request.answers)
    if missing:
        raise Invalid("field_missing", field=missing[0], mend="This is needed.")
    if not request.named:
        raise Invalid("host_missing", field="host", mend="Say who is to be asked.")
    if way.naming is Naming.DOMAIN and not way.takes(request.named):
        raise Invalid("host_domain", field="host", mend="Only people of the house can be asked.")
