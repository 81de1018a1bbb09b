"""The room Desk: issue vouchers, print them, and help with one that was issued."""

import io
from typing import TYPE_CHECKING

import segno
from fastapi import APIRouter, Request, Response

from lauschen.acts.desk import helping as staff_acts
from lauschen.acts.desk.issuing import issue_vouchers
from lauschen.api.desk.sheet import make_sheet, slip_address
from lauschen.api.door.asking import Id, Row, Staff, the_office
from lauschen.api.models import BatchOut, DeskOut, GiveTime, Issue, VoucherOut
from lauschen.core.ids import BatchId, CredentialId, PlanId
from lauschen.store import credentials

if TYPE_CHECKING:
    from lauschen.api.app import Office

router = APIRouter(tags=["desk"])
SHOWN_S = 2 * 86_400
MOST_BATCHES = 40
VOUCHER_PAGE = 100


@router.get("/desk")
async def desk(request: Request, staff: Staff) -> DeskOut:
    """Plans to choose from, and what was issued in the last two days, newest first."""
    office = await the_office(request)
    shaper = office.shaper()
    house = shaper.house
    since = shaper.now - SHOWN_S
    networks = list(house.networks.values())
    return DeskOut(
        plans=[shaper.plan(plan) for plan in house.plans.values()],
        batches=[shaper.batch(b) for b in credentials.batches_since(office.reader, since, MOST_BATCHES)],
        site=house.site_name,
        ssid=networks[0].shown_as if networks else "",
        page=house.page_url.removeprefix("http://"),
        slip_host=house.slip_host,
    )


@router.post("/batches", status_code=201)
async def issue(request: Request, staff: Staff, wish: Issue) -> BatchOut:
    """Issues vouchers: all of them, or none."""
    office = await the_office(request)
    batch = await issue_vouchers(
        office.road,
        office.worker,
        office.key_file,
        plan=PlanId(wish.plan),
        size=wish.count,
        label=wish.label,
        by=staff.staff,
    )
    return _batch(office, batch, 0)


@router.get("/batches/{batch}")
async def read_batch(request: Request, staff: Staff, batch: Id, after: Row = 0) -> BatchOut:
    """A batch with up to a hundred of its vouchers, from the one after `after`."""
    return _batch(await the_office(request), BatchId(batch), after)


@router.get("/batches/{batch}/sheet.pdf", response_class=Response)
async def sheet(request: Request, staff: Staff, batch: Id) -> Response:
    """An A4 sheet of slips, drawn in the worker process."""
    office = await the_office(request)
    found = credentials.get_batch(office.reader, BatchId(batch))
    pdf = await office.worker.run(make_sheet, office.database, office.key_file, found.id)
    name = f"vouchers-{found.id}.pdf"
    return Response(
        pdf, media_type="application/pdf", headers={"Content-Disposition": f'inline; filename="{name}"'}
    )


@router.get("/vouchers/{voucher}/qr.svg", response_class=Response)
async def qr_code(request: Request, staff: Staff, voucher: Id) -> Response:
    """The QR code of one slip."""
    office = await the_office(request)
    shaper = office.shaper()
    found = credentials.get_voucher(office.reader, shaper.keys, CredentialId(voucher))
    svg = io.BytesIO()
    segno.make(slip_address(shaper.house, found.code), error="m", micro=False).save(svg, kind="svg", border=0)
    return Response(svg.getvalue(), media_type="image/svg+xml")


@router.post("/vouchers/{voucher}/give-time")
async def give_time(request: Request, staff: Staff, voucher: Id, wish: GiveTime) -> VoucherOut:
    office = await the_office(request)
    await office.road.act(
        lambda tx: staff_acts.give_time(
            tx, CredentialId(voucher), wish.seconds, by=staff.staff, wake=office.wake
        )
    )
    return _voucher(office, voucher)


@router.post("/vouchers/{voucher}/withdraw")
async def withdraw(request: Request, staff: Staff, voucher: Id) -> VoucherOut:
    office = await the_office(request)
    await office.road.act(
        lambda tx: staff_acts.withdraw(tx, CredentialId(voucher), by=staff.staff, wake=office.wake)
    )
    return _voucher(office, voucher)


def _batch(office: "Office", batch: BatchId, after: int) -> BatchOut:
    shaper = office.shaper()
    found = credentials.get_batch(office.reader, batch)
    return shaper.batch(found, shaper.vouchers(batch, after=after, at_most=VOUCHER_PAGE))


def _voucher(office: "Office", voucher: int) -> VoucherOut:
    shaper = office.shaper()
    found = credentials.get_voucher(office.reader, shaper.keys, CredentialId(voucher))
    return shaper.voucher(found.facts, found.code, found.devices_in)
