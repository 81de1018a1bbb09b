"""The room Passphrases: the house plan of keys, and what is done to each."""

import io
import secrets
from contextlib import AbstractAsyncContextManager, nullcontext
from dataclasses import replace
from functools import partial
from typing import Annotated, TypedDict

import segno
from fastapi import APIRouter, Query

from lauschen.acts.desk.issuing import check_new
from lauschen.acts.passphrases import changing
from lauschen.acts.passphrases.issuing import Kind, Wish, check_many, issue_passphrases, make_key, wishes_of
from lauschen.acts.passphrases.links import link_to, make_void
from lauschen.acts.people.trying import trying
from lauschen.api.desk.listed import read_sent
from lauschen.api.desk.models import JobOut
from lauschen.api.desk.shapes import batch_out, issued_list, job_out
from lauschen.api.desk.wishes import once_of, read_address, read_terms, said_of
from lauschen.api.door.asking import (
    Device,
    Helps,
    Id,
    Issues,
    Key,
    Looks,
    NeedFirst,
    Row,
    TheOffice,
    TheSession,
)
from lauschen.api.door.office import Office
from lauschen.api.passphrases import models
from lauschen.api.passphrases.shapes import full_out, holder_out, network_out, of_keys, wrong_out
from lauschen.api.words.plans import plan_words
from lauschen.beside.jobs import LongJob
from lauschen.core.actor import Actor
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import CredentialId, KeyId, NetworkId, PlanId, RoleId
from lauschen.core.passphrases.holder import HolderKind
from lauschen.core.passphrases.passphrase import USUAL_BITS, draw
from lauschen.core.people.duties import MAY, Need
from lauschen.core.words.slip import wifi_by_key
from lauschen.core.words.text import visible
from lauschen.store import batches, credentials, overview
from lauschen.store.passphrases import holders, keys, wrong
from lauschen.store.people.attempts import Attempt
from lauschen.store.people.sessions import StaffSession

router = APIRouter(tags=["passphrases"], route_class=NeedFirst)
PAGE = 60
MOST_WRONG = 50
DAY_S = 86_400
SOON_S = 7 * DAY_S
GUESSES_PER_S = 1e9
"""Of somebody who heard one handshake, and has many machines."""


@router.get("/passphrases")
async def read_passphrases(
    _: Looks,
    viewer: TheSession,
    office: TheOffice,
    network: Annotated[int | None, Query(ge=0, le=2**53)] = None,
    which: models.Which = "all",
    name: Annotated[str, Query(max_length=80)] = "",
) -> models.HouseplanOut:
    """The first of each kind; further ones under /passphrases/of."""
    shaper = office.shaper(viewer)
    limits = viewer.limits
    shown = [one for one in of_keys(office.config) if _may_look(viewer, one.id)]
    if network is not None:
        chosen = next((one for one in shown if one.id == network), None)
    else:
        chosen = shown[0] if shown else None
    counts: dict[HolderKind, models.KindCounts] = {}
    found: dict[HolderKind, list[models.HolderOut]] = {}
    for kind in HolderKind:
        counts[kind] = models.KindCounts(all=0, unused=0, ending=0, over=0)
        found[kind] = []
    if chosen is not None:
        counted = await office.worker.run(
            holders.count_holders, office.database, chosen.id, shaper.now, shaper.now + SOON_S, viewer.sight
        )
        for kind in HolderKind:
            counts[kind] = models.KindCounts(**{w: counted.get((kind, w), 0) for w in holders.WHICH})
            found[kind] = _page(office, viewer, chosen.id, kind, which, name, ("", 0))
    return models.HouseplanOut(
        networks=[
            network_out(
                office.config,
                one,
                overview.devices_of_network(office.reader, one.id),
                office.key_file_words(one.id),
            )
            for one in shown
        ],
        counts=counts,
        holders=found,
        wrong=[
            wrong_out(shaper, one)
            for one in wrong.wrong_since(office.reader, shaper.now - DAY_S, MOST_WRONG)
            if _may_look(viewer, one.network) and not viewer.sight.own_only
        ],
        plans=[
            models.PlanChoice(id=plan.id, name=visible(plan.name), sentence=plan_words(plan))
            for plan in office.config.offered_plans
            if not limits.plans or plan.id in limits.plans
        ],
        roles=[
            models.RoleChoice(id=role.id, name=visible(role.name))
            for role in office.config.roles.values()
            if not role.is_door and Need.CONFIGURE in MAY[viewer.duty]
        ],
    )


@router.get("/passphrases/of")
async def more_holders(
    _: Looks,
    viewer: TheSession,
    office: TheOffice,
    network: Row,
    kind: HolderKind,
    which: models.Which = "all",
    name: Annotated[str, Query(max_length=80)] = "",
    after_name: Annotated[str, Query(max_length=80)] = "",
    after: Row = 0,
) -> models.HoldersOut:
    """Those after the one named, in the order of their names."""
    if not _may_look(viewer, network):
        raise NotThere("network")
    found = _page(office, viewer, NetworkId(network), kind, which, name, (after_name, after))
    return models.HoldersOut(holders=found)


@router.post("/passphrases/draw")
async def draw_one(_: Issues, wish: models.Draw) -> models.DrawnOut:
    drawn = draw(wish.style, wish.bits, secrets.randbelow, wish.lang)
    return models.DrawnOut(passphrase=drawn.text, bits=int(drawn.bits), sentence=strength_words(drawn.bits))


@router.post("/passphrases", status_code=201)
async def issue(
    actor: Issues, viewer: TheSession, office: TheOffice, wish: models.IssuePassphrase, key: Key = None
) -> models.IssuedPassphrase:
    """For one person, room or thing; good at once."""
    address, kind = read_address(office.config, wish.send), _kind(office, viewer, wish)
    once = once_of("passphrase", key, wish.model_copy(update={"passphrase": _named(office, wish)}))
    async with _choosing(office, actor, wish.passphrase):
        batch = await issue_passphrases(
            office.road,
            office.key_makers,
            [Wish(wish.label, wish.passphrase, to=address)],
            kind,
            said=said_of(wish),
            by=actor,
            once=once,
        )
    credential = credentials.only_of(office.reader, batch)
    made = keys.newest_key(office.reader, office.road.keys, credential, office.road.clock.now())
    if made is None:
        raise NotThere("passphrase")
    shaper = office.shaper(viewer)
    return models.IssuedPassphrase(
        batch=batch_out(
            shaper,
            batches.get_batch(office.reader, batch),
            issued_list(shaper, batch, after=0, at_most=1),
        ),
        id=credential,
        **_joining(office, credential, made.text),
    )


@router.post("/passphrases/many", status_code=202)
async def issue_many(
    actor: Issues, viewer: TheSession, office: TheOffice, wish: models.IssueMany, key: Key = None
) -> JobOut:
    """One for each name, or none, while others are served; asked about and cancelled under /jobs."""
    kind, read = _kind(office, viewer, wish), await read_sent(office, wish.text, wish.lang, commas=False)
    if read.bad:
        one = read.bad[0]
        raise Invalid("list_bad", field="label", mend=f"Line {one.first}: {one.why} Nothing was issued.")
    if not read.guests:
        raise Invalid("list_empty", field="label", mend="There is nobody on it.")
    wishes, once = wishes_of(read.guests), once_of("passphrases", key, wish)
    check = partial(check_many, wishes=wishes, kind=kind)
    await office.road.act(lambda tx: check_new(tx, once, check), by=actor)

    async def work(job: LongJob) -> int:
        def made(count: int) -> None:
            job.done = count

        return await issue_passphrases(
            office.road, office.key_makers, wishes, kind, said=said_of(wish), by=actor,
            once=once, made=made,
        )  # fmt: skip

    job, _ = office.jobs.begin("passphrases", len(wishes), work, by=actor)
    return job_out(job)


@router.get("/passphrases/{holder}")
async def read_holder(_: Looks, viewer: TheSession, office: TheOffice, holder: Id) -> models.HolderFull:
    """With its devices; its text is shown by *reveal* alone."""
    return full_out(office.shaper(viewer), _line(office, holder, viewer))


@router.post("/passphrases/{holder}/reveal")
async def reveal(actor: Helps, viewer: TheSession, office: TheOffice, holder: Id) -> models.RevealedOut:
    """Who saw it stands in the activity record."""
    line = _line(office, holder, viewer)
    text = await office.road.act(lambda tx: changing.reveal(tx, CredentialId(holder), "shown"), by=actor)
    return models.RevealedOut(**_joining(office, line.holder.credential, text))


@router.post("/passphrases/{holder}/renew")
async def renew(
    actor: Helps, viewer: TheSession, office: TheOffice, holder: Id, wish: models.Renew
) -> models.RenewedOut:
    """Another passphrase; the one before holds for as long as the overlap."""
    line = _line(office, holder, viewer)
    drawn = draw(wish.style, USUAL_BITS, secrets.randbelow, wish.lang).text
    wanted = Wish(line.holder.name, wish.passphrase)
    new = await make_key(office.key_makers, office.config, line.holder.network, wanted, drawn)
    async with _choosing(office, actor, wish.passphrase):
        renewed = await office.road.act(
            lambda tx: changing.renew(tx, CredentialId(holder), new, wish.overlap_minutes * 60.0), by=actor
        )
    shaper = office.shaper(viewer)
    return models.RenewedOut(
        holder=holder_out(shaper, _line(office, holder)),
        **_joining(office, line.holder.credential, new.text),
        key=renewed.key,
        before=[models.KeyEnd(key=one, ends_at=ends) for one, ends in renewed.before.items()],
    )


@router.post("/passphrases/{holder}/renew/undo")
async def undo_renew(
    actor: Helps, viewer: TheSession, office: TheOffice, holder: Id, wish: models.UndoRenew
) -> models.HolderFull:
    """The one before holds again, as long as no device joined with the new one."""
    renewed = changing.Renewed(KeyId(wish.key), {KeyId(one.key): one.ends_at for one in wish.before})
    await office.road.act(lambda tx: changing.take_renewal_back(tx, CredentialId(holder), renewed), by=actor)
    return full_out(office.shaper(viewer), _line(office, holder, viewer))


@router.post("/passphrases/{holder}/link")
async def new_link(actor: Helps, viewer: TheSession, office: TheOffice, holder: Id) -> models.LinkOut:
    """Another link to their own page; whoever has one from before is asked for nothing by it any more."""
    line = _line(office, holder, viewer)
    await office.road.act(lambda tx: make_void(tx, line.holder), by=actor)
    return models.LinkOut(page=_own_page(office, _line(office, holder).holder))


@router.post("/passphrases/{holder}/devices/{mac}/take-off")
async def take_off(
    actor: Helps, viewer: TheSession, office: TheOffice, holder: Id, mac: Device
) -> models.HolderFull:
    """That device does not join by it any more, under the address that it has."""
    if not await office.road.act(lambda tx: changing.take_off(tx, CredentialId(holder), mac), by=actor):
        raise Invalid("so_before", field="mac", mend="It was taken off before.")
    return full_out(office.shaper(viewer), _line(office, holder, viewer))


@router.post("/passphrases/{holder}/devices/{mac}/take-on")
async def take_on(
    actor: Helps, viewer: TheSession, office: TheOffice, holder: Id, mac: Device
) -> models.HolderFull:
    """It may join by it again."""
    if not await office.road.act(lambda tx: changing.take_on_again(tx, CredentialId(holder), mac), by=actor):
        raise Invalid("so_before", field="mac", mend="It may join by it.")
    return full_out(office.shaper(viewer), _line(office, holder, viewer))


def _choosing(office: Office, actor: Actor, chosen: str | None) -> AbstractAsyncContextManager[None]:
    """Around giving out a chosen passphrase: that somebody has it is learned by a few tries alone, and recorded."""
    return nullcontext() if chosen is None else trying(office.road, actor, Attempt.CHOSEN)


def strength_words(bits: float) -> str:
    """What a strength comes to, for somebody who has heard a device join."""
    years = 2**bits / 2 / GUESSES_PER_S / (365.25 * DAY_S)
    if years >= 2:
        return (
            f"{int(bits)} bits: who heard a device join, and guesses a thousand million times a second, needs"
            f" {int(years):,} years on average."
        )
    days = max(years * 365.25, 0)
    long = f"{int(days):,} days" if days >= 2 else f"{int(days * 24):,} hours"
    return (
        f"{int(bits)} bits: who heard a device join, and guesses a thousand million times a second, has it in {long}"
        " on average. Take a stronger one where more than music is at stake."
    )


def _kind(office: Office, viewer: StaffSession, wish: models.KeyWish) -> Kind:
    if wish.role is not None and Need.CONFIGURE not in MAY[viewer.duty]:
        mend = "Where it places is what the rules say; an administrator may say otherwise."
        raise Invalid("role_not_theirs", field="role", mend=mend)
    if wish.network is None:
        of = of_keys(office.config)
        if len(of) != 1:
            raise Invalid("network", field="network", mend="Say for which network it is.")
        wish = wish.model_copy(update={"network": of[0].id})
    assert wish.network is not None
    return Kind(
        NetworkId(wish.network),
        PlanId(wish.plan),
        wish.kind,
        replace(read_terms(office.config, wish), role=None if wish.role is None else RoleId(wish.role)),
        wish.style,
        wish.bits,
        wish.lang,
        wish.has_group,
    )


def _own_page(office: Office, holder: holders.Holder) -> str | None:
    return link_to(office.road.keys, office.config, holder, office.road.clock.now())


class _Joining(TypedDict):
    passphrase: str
    wifi: str
    qr: str
    page: str | None


def _joining(office: Office, credential: CredentialId, text: str) -> _Joining:
    """A passphrase, the QR code by which a device joins, and the holder's own page."""
    holder = _line(office, credential).holder
    network = office.config.networks.get(holder.network)
    if network is None:
        raise NotThere("network")
    wifi = wifi_by_key(network, text)
    svg = io.BytesIO()
    segno.make(wifi, error="m", micro=False).save(svg, kind="svg", border=2, xmldecl=False, omitsize=True)
    page = _own_page(office, holder)
    return {"passphrase": text, "wifi": wifi, "qr": svg.getvalue().decode(), "page": page}


def _named(office: Office, wish: models.IssuePassphrase) -> str | None:
    """In place of a chosen passphrase, where a request is known again by what it asked for."""
    return None if wish.passphrase is None else office.road.keys.lookup_hash(wish.passphrase).hex()


def _line(office: Office, holder: int, viewer: StaffSession | None = None) -> holders.HolderLine:
    """NotThere also where it is not theirs to look at."""
    found = holders.get_line(office.reader, CredentialId(holder))
    if found is None or (viewer is not None and not _may_look_at(viewer, found)):
        raise NotThere("passphrase")
    return found


def _may_look(viewer: StaffSession, network: int) -> bool:
    return not viewer.limits.networks or network in viewer.limits.networks


def _may_look_at(viewer: StaffSession, line: holders.HolderLine) -> bool:
    network = line.holder.network
    return _may_look(viewer, network) and viewer.sight.sees_issued(network, line.issuer)


def _page(
    office: Office,
    viewer: StaffSession,
    network: NetworkId,
    kind: HolderKind,
    which: str,
    name: str,
    after: tuple[str, int],
) -> list[models.HolderOut]:
    shaper = office.shaper(viewer)
    lines = holders.list_holders(
        office.reader,
        network,
        kind,
        which=which,
        name=name,
        now=shaper.now,
        soon=shaper.now + SOON_S,
        after=after,
        at_most=PAGE,
        sight=viewer.sight,
    )
    return [holder_out(shaper, line) for line in lines]
