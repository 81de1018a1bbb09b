"""The room Desk: issue vouchers, print them, and help with one that was issued."""

import io
from functools import partial

import segno
from fastapi import APIRouter, Response

from lauschen.acts.desk import accounts, passes, pausing
from lauschen.acts.desk import helping as staff_acts
from lauschen.acts.desk.issuing import check_batch, check_new, issue_once, issue_vouchers
from lauschen.acts.desk.within import check_theirs
from lauschen.acts.messages.passes import send_issued
from lauschen.api.desk.models import (
    AccountOut,
    BatchOut,
    DeskOut,
    GiveTime,
    Issue,
    IssueAccount,
    IssuedOut,
    IssuePass,
    JobOut,
    NewAccountPassword,
    SendTo,
)
from lauschen.api.desk.passwords import new_password
from lauschen.api.desk.shapes import (
    batch_out,
    bounds_out,
    cannot_out,
    issued_list,
    job_out,
    networks_out,
    one_out,
    passcodes_out,
    plan_out,
    sends,
)
from lauschen.api.desk.wishes import once_of, read_address, read_terms, said_of
from lauschen.api.door.asking import Helps, Id, Issues, Key, Looks, NeedFirst, Row, TheOffice, TheSession
from lauschen.api.door.office import Office
from lauschen.beside.jobs import LongJob
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import BatchId, CredentialId, PlanId, StaffId
from lauschen.core.people.duties import Duty
from lauschen.core.ways.account import check_login_name
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.slip import page_words, slip_address
from lauschen.core.words.text import visible
from lauschen.road.tx import Tx
from lauschen.sentences.slips import slip_networks
from lauschen.store import accounts as stored_accounts
from lauschen.store import batches, credentials
from lauschen.store.people.sessions import StaffSession

router = APIRouter(tags=["desk"], route_class=NeedFirst)
SHOWN_S = 2 * 86_400
MOST_BATCHES = 40
VOUCHER_PAGE = 100


@router.get("/desk")
async def desk(_: Looks, viewer: TheSession, office: TheOffice) -> DeskOut:
    """Plans to choose from, and what was issued in the last two days, newest first."""
    shaper = office.shaper(viewer)
    config, limits = shaper.config, viewer.limits
    since = shaper.now - SHOWN_S
    return DeskOut(
        plans=[plan_out(p) for p in config.offered_plans if not limits.plans or p.id in limits.plans],
        networks=networks_out(config, limits),
        bounds=bounds_out(limits),
        cannot=cannot_out(shaper),
        batches=[
            batch_out(shaper, b)
            for b in batches.batches_since(office.reader, since, MOST_BATCHES, viewer.sight)
        ],
        site=config.site_name,
        passcodes=passcodes_out(shaper),
        ssids={
            way: visible(slip_networks(config, way))
            for way in (WayIn.VOUCHER, WayIn.GUEST_PASS, WayIn.ACCOUNT)
        },
        page=page_words(config),
        sends=sends(config),
        slip_host=config.slip_host,
    )


@router.post("/batches", status_code=201)
async def issue(
    actor: Issues, viewer: TheSession, office: TheOffice, wish: Issue, key: Key = None
) -> BatchOut:
    """Issues vouchers: all of them, or none."""
    batch = await issue_vouchers(
        office.road,
        office.worker,
        office.key_file,
        plan=PlanId(wish.plan),
        size=wish.count,
        said=said_of(wish),
        terms=read_terms(office.config, wish),
        by=actor,
        once=once_of("batches", key, wish),
        length=wish.length,
    )
    return _batch(office, viewer, batch)


@router.post("/passes", status_code=201)
async def issue_pass(
    actor: Issues, viewer: TheSession, office: TheOffice, wish: IssuePass, key: Key = None
) -> BatchOut:
    """Issues a guest pass for one person."""
    terms, address = read_terms(office.config, wish), read_address(office.config, wish.send)
    code = (wish.code or "").strip() or None

    def issue(tx: Tx) -> BatchId:
        batch = passes.issue_pass(tx, said=said_of(wish), plan=PlanId(wish.plan), terms=terms, code=code)
        if address is not None:
            send_issued(tx, credentials.only_of(tx.conn, batch), address)
        return batch

    once = once_of("passes", key, wish)
    batch, _ = await office.road.act(lambda tx: issue_once(tx, once, issue), by=actor)
    return _batch(office, viewer, batch)


@router.post("/accounts", status_code=201)
async def issue_account(
    actor: Issues, viewer: TheSession, office: TheOffice, wish: IssueAccount, key: Key = None
) -> AccountOut:
    """Issues an account for one person; the password is answered here and never again."""
    terms, address = read_terms(office.config, wish), read_address(office.config, wish.send)
    password, kept = await new_password(
        office, wish.password, check_login_name(wish.name), is_readable=wish.for_chap
    )

    def issue(tx: Tx) -> BatchId:
        batch = accounts.issue_account(
            tx, said=said_of(wish), name=wish.name, password=kept, plan=PlanId(wish.plan), terms=terms
        )
        if address is not None:
            send_issued(tx, credentials.only_of(tx.conn, batch), address, password)
        return batch

    once = once_of("accounts", key, wish)
    batch, is_new = await office.road.act(lambda tx: issue_once(tx, once, issue), by=actor)
    return AccountOut(batch=_batch(office, viewer, batch), password=password if is_new else None)


@router.post("/issued/{issued}/password")
async def set_account_password(
    actor: Helps, viewer: TheSession, office: TheOffice, issued: Id, wish: NewAccountPassword
) -> AccountOut:
    """Another password for whoever forgot theirs; the one before lets nobody in any more."""
    credential = CredentialId(issued)
    credentials.get_issued(office.reader, office.road.keys, credential, viewer.sight)
    name = stored_accounts.name_of(office.reader, credential)
    if name is None:
        raise NotThere("account")
    found = stored_accounts.find(office.reader, office.road.keys, name)
    password, kept = await new_password(
        office, wish.password, name, is_readable=found is not None and found.sealed is not None
    )
    await office.road.act(lambda tx: accounts.set_password(tx, credential, kept), by=actor)
    batch = batches.batch_of(office.reader, credential)
    assert batch is not None
    return AccountOut(batch=_batch(office, viewer, batch.id), password=password)


@router.post("/batches/job", status_code=202)
async def issue_long(actor: Issues, office: TheOffice, wish: Issue, key: Key = None) -> JobOut:
    """Issues vouchers while others are served; asked about and cancelled under /jobs."""
    terms, once = read_terms(office.config, wish), once_of("batches", key, wish)
    check = partial(check_batch, plan=PlanId(wish.plan), size=wish.count, terms=terms)
    await office.road.act(lambda tx: check_new(tx, once, check), by=actor)

    async def work(job: LongJob) -> int:
        def made(count: int) -> None:
            job.done = count

        return await issue_vouchers(
            office.road,
            office.worker,
            office.key_file,
            plan=PlanId(wish.plan),
            size=wish.count,
            said=said_of(wish),
            terms=terms,
            by=actor,
            once=once,
            length=wish.length,
            made=made,
        )

    job, _ = office.jobs.begin("issue", wish.count, work, by=actor)
    return job_out(job)


@router.get("/jobs/{job}")
async def read_job(_: Issues, viewer: TheSession, office: TheOffice, job: Id) -> JobOut:
    return job_out(_job(office, viewer, job))


@router.post("/jobs/{job}/cancel")
async def cancel_job(_: Issues, viewer: TheSession, office: TheOffice, job: Id) -> JobOut:
    """Nothing of it is left; one that is over stays as it is."""
    found = _job(office, viewer, job)
    await office.jobs.cancel(job)
    return job_out(found)


@router.get("/batches/{batch}")
async def read_batch(_: Looks, viewer: TheSession, office: TheOffice, batch: Id, after: Row = 0) -> BatchOut:
    """A batch with up to a hundred of its vouchers, from the one after `after`."""
    return _batch(office, viewer, BatchId(batch), after)


@router.get("/issued/{issued}/qr.svg", response_class=Response)
async def qr_code(_: Looks, viewer: TheSession, office: TheOffice, issued: Id) -> Response:
    """The QR code of one slip."""
    shaper = office.shaper()
    found = credentials.get_issued(office.reader, shaper.keys, CredentialId(issued), viewer.sight)
    _check_reads(viewer, found.issuer)
    if found.grant.way is WayIn.PASSPHRASE:
        mend = "Of a passphrase it comes with *reveal*, which stands in the record."
        raise Invalid("passphrase_qr", field="issued", mend=mend)
    svg = io.BytesIO()
    segno.make(slip_address(shaper.config, found.code), error="m", micro=False).save(
        svg, kind="svg", border=0
    )
    return Response(svg.getvalue(), media_type="image/svg+xml")


@router.post("/issued/{issued}/give-time")
async def give_time(
    actor: Helps, viewer: TheSession, office: TheOffice, issued: Id, wish: GiveTime
) -> IssuedOut:
    credential = CredentialId(issued)
    await office.road.act(lambda tx: staff_acts.give_time(tx, credential, wish.seconds), by=actor)
    return _issued(office, viewer, issued)


@router.post("/issued/{issued}/send")
async def send(actor: Helps, viewer: TheSession, office: TheOffice, issued: Id, wish: SendTo) -> IssuedOut:
    """Writes a message with it to the outbox; of an account without its password, which nobody knows any more."""
    address = read_address(office.config, wish)
    assert address is not None

    def write(tx: Tx) -> None:
        check_theirs(tx, CredentialId(issued))
        send_issued(tx, CredentialId(issued), address)

    await office.road.act(write, by=actor)
    return _issued(office, viewer, issued)


@router.post("/issued/{issued}/withdraw")
async def withdraw(actor: Helps, viewer: TheSession, office: TheOffice, issued: Id) -> IssuedOut:
    await office.road.act(lambda tx: staff_acts.withdraw(tx, CredentialId(issued)), by=actor)
    return _issued(office, viewer, issued)


@router.post("/issued/{issued}/pause")
async def pause(actor: Helps, viewer: TheSession, office: TheOffice, issued: Id) -> IssuedOut:
    """Nobody is in by it until it is resumed; its time goes on."""
    await office.road.act(lambda tx: pausing.pause(tx, CredentialId(issued)), by=actor)
    return _issued(office, viewer, issued)


@router.post("/issued/{issued}/resume")
async def resume(actor: Helps, viewer: TheSession, office: TheOffice, issued: Id) -> IssuedOut:
    await office.road.act(lambda tx: pausing.resume(tx, CredentialId(issued)), by=actor)
    return _issued(office, viewer, issued)


@router.post("/issued/{issued}/forget")
async def forget(actor: Helps, viewer: TheSession, office: TheOffice, issued: Id) -> IssuedOut:
    """Its devices that have left are asked again when they come back."""
    await office.road.act(lambda tx: staff_acts.forget_away(tx, CredentialId(issued)), by=actor)
    return _issued(office, viewer, issued)


def _check_reads(viewer: StaffSession, issuer: StaffId | None) -> None:
    if not viewer.reads_code_of(issuer):
        raise Invalid("code_not_theirs", field="batch", mend="Its code is not for your eyes.")


def _job(office: Office, viewer: StaffSession, job: int) -> LongJob:
    """For whoever began it, and for administrators."""
    found = office.jobs.find(job)
    if found is None or not (found.by.staff == viewer.staff or viewer.duty is Duty.ADMINISTRATOR):
        raise NotThere("job")
    return found


def _batch(office: Office, viewer: StaffSession, batch: BatchId, after: int = 0) -> BatchOut:
    shaper = office.shaper(viewer)
    found = batches.get_batch(office.reader, batch, viewer.sight)
    return batch_out(shaper, found, issued_list(shaper, batch, after=after, at_most=VOUCHER_PAGE))


def _issued(office: Office, viewer: StaffSession, issued: int) -> IssuedOut:
    shaper = office.shaper(viewer)
    found = credentials.get_issued(office.reader, shaper.keys, CredentialId(issued), viewer.sight)
    return one_out(shaper, found)
