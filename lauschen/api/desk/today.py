"""What the desk asks besides issuing: who came before, what ends soon or was not sent, how long codes must be."""

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query, Response

from lauschen.acts.desk.issuing import check_terms
from lauschen.api.desk.models import (
    BatchOut,
    CodesOut,
    CodesWish,
    IssuedOut,
    KnownOut,
    WishOut,
    WishWords,
)
from lauschen.api.desk.shapes import batch_out, one_out, price_words, takings_words
from lauschen.api.desk.wishes import read_terms
from lauschen.api.door.asking import Issues, Looks, NeedFirst, TheOffice, TheSession
from lauschen.api.door.office import Office
from lauschen.api.lines import csv_answer
from lauschen.api.shaping import Shaper
from lauschen.api.slices import in_slices
from lauschen.api.words.plans import given_words
from lauschen.core.errors import Invalid
from lauschen.core.ids import CredentialId, PlanId
from lauschen.core.limits.guessing import DEVICES, SAFE, chance_in_a_day, shortest_safe
from lauschen.core.limits.terms import plan_with
from lauschen.core.people.limits import check_given
from lauschen.core.ways.kinds import AT_DESK
from lauschen.core.ways.offers.chosen import chance_words
from lauschen.core.words.text import visible
from lauschen.store import batches, credentials, overview
from lauschen.store.people.sessions import StaffSession

router = APIRouter(tags=["desk"], route_class=NeedFirst)
MOST_KNOWN, MOST_SHOWN = 6, 100
SOON_S, SENT_S = 2 * 3600, 2 * 86_400
CSV_S, MOST_BATCHES = 7 * 86_400, 2000
Name = Annotated[str, Query(min_length=2, max_length=80)]
HEADINGS = (
    "for", "code", "kind", "plan", "state", "good", "issued at", "by", "price", "used", "takings",
    "words to the guest", "note for us",
)  # fmt: skip


@router.get("/desk/known")
async def known(_: Issues, viewer: TheSession, office: TheOffice, name: Name) -> list[KnownOut]:
    """Guests whose name begins so and who had something before: what it was, and where it was sent."""
    shaper, found = office.shaper(viewer), {}
    for number in overview.batches_for(office.reader, name.strip(), 4 * MOST_KNOWN):
        batch = batches.get_batch(office.reader, number)
        key = batch.said.label.casefold()
        sees = viewer.sight.sees_issued(batch.network, batch.issuer)
        is_theirs = sees and viewer.reads_code_of(batch.issuer)
        if key in found or not is_theirs or batch.way not in AT_DESK:
            continue
        issued = credentials.get_issued(
            office.reader, office.road.keys, credentials.only_of(office.reader, number)
        )
        plan = office.config.plans[batch.plan]
        found[key] = KnownOut(
            label=visible(batch.said.label),
            way=batch.way,
            plan=None if plan.is_removed else plan.id,
            plan_name=visible(plan.name),
            at=batch.issued_at,
            sent=one_out(shaper, issued).sent,
        )
    return list(found.values())[:MOST_KNOWN]


@router.post("/desk/words")
async def wish_words(_: Issues, viewer: TheSession, office: TheOffice, wish: WishWords) -> WishOut:
    """What would be issued, in a sentence, and whether this person may; nothing is issued."""
    config, now = office.config, office.road.clock.now()
    plan = config.plans.get(PlanId(wish.plan))
    if plan is None:
        return WishOut(sentence="", field="plan", mend="Choose one of the plans.")
    try:
        terms = read_terms(config, wish)
        check_terms(config, terms, now)
    except Invalid as exc:
        return WishOut(sentence="", field=exc.field, mend=exc.mend)
    limited = plan if terms.own is None else plan_with(plan, terms.own)
    sentence = given_words(config, limited, terms)
    try:
        check_given(viewer.limits, limited, terms, wish.count, now)
    except Invalid as exc:
        return WishOut(sentence=sentence, field=exc.field, mend=exc.mend)
    return WishOut(sentence=sentence, field=None, mend=None)


@router.get("/desk/ending")
async def ending(_: Looks, viewer: TheSession, office: TheOffice) -> list[IssuedOut]:
    """In use now, and over by the clock within two hours; the soonest first."""
    now = office.road.clock.now()
    return await _shown(office, viewer, overview.ending_between(office.reader, now, now + SOON_S, MOST_SHOWN))


@router.get("/desk/not-sent")
async def not_sent(_: Looks, viewer: TheSession, office: TheOffice) -> list[IssuedOut]:
    """Of the last two days, what could not be sent; the newest first."""
    since = office.road.clock.now() - SENT_S
    return await _shown(office, viewer, overview.not_sent_since(office.reader, since, MOST_SHOWN))


@router.post("/batches/words")
async def codes_words(_: Issues, office: TheOffice, wish: CodesWish) -> CodesOut:
    """What a guesser's chance is with so many codes of this length, exactly from the limits of wrong tries."""
    live = await office.worker.run(overview.count_live_codes, office.database, wish.length) + wish.count
    chance, shortest = chance_in_a_day(wish.length, live), shortest_safe(live)
    codes = f"{live:,} live codes of {wish.length} signs"
    text = f"{DEVICES} devices that try all day hit one of {codes} with a chance of {chance_words(chance)}."
    others = office.config.without_token()
    if others:
        chance = chance_in_a_day(wish.length, live, is_signed=False)
        shortest = shortest_safe(live, is_signed=False)
        where = visible(others[0].name) if len(others) == 1 else f"{len(others)} access devices"
        text += (
            f" At {where}, where the page cannot tell devices apart, with a chance of {chance_words(chance)}."
        )
    if wish.length < shortest:
        text += f" {shortest} signs are the fewest that keep it under {chance_words(SAFE)}."
    return CodesOut(text=text, is_safe=chance < SAFE, shortest=shortest)


@router.get("/desk.csv", response_class=Response)
async def as_csv(_: Looks, viewer: TheSession, office: TheOffice) -> Response:
    """Of the last seven days, one line for each code; large batches in one line."""
    shaper = office.shaper(viewer)
    found = batches.batches_since(office.reader, shaper.now - CSV_S, MOST_BATCHES, viewer.sight)
    shown = await in_slices(found, lambda batch: batch_out(shaper, batch))
    rows = [_row(shaper, batch) for batch in shown]
    return csv_answer("desk.csv", HEADINGS, rows)


def _row(shaper: Shaper, batch: BatchOut) -> tuple[object, ...]:
    only = batch.issued[0] if batch.size == 1 and batch.issued else None
    at = datetime.fromtimestamp(batch.issued_at, shaper.config.zone).isoformat(timespec="seconds")
    code = only.code if only is not None else f"{batch.size} codes"
    state = only.state if only is not None else f"{batch.withdrawn} withdrawn"
    return (
        batch.label, code, batch.way, batch.plan, state, only.slip if only is not None else "", at,
        batch.issued_by or "", price_words(batch.price), batch.used, takings_words(batch.price, batch.used),
        batch.words, batch.note,
    )  # fmt: skip


async def _shown(office: Office, viewer: StaffSession, found: list[CredentialId]) -> list[IssuedOut]:
    shaper, sight = office.shaper(viewer), viewer.sight

    def is_theirs(one: CredentialId) -> bool:
        issuer, network = credentials.issued_where(office.reader, one)
        return sight.sees_issued(network, issuer)

    theirs = found if sight.is_whole else [one for one in found if is_theirs(one)]
    return await in_slices(
        theirs, lambda one: one_out(shaper, credentials.get_issued(office.reader, office.road.keys, one))
    )
