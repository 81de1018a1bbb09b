"""The room Guests: everybody who is here, one dossier each, and what staff do to a device."""

import asyncio
from collections.abc import Callable
from typing import TYPE_CHECKING

from fastapi import APIRouter, Request, Response
from pydantic import TypeAdapter

from lauschen.acts.desk import helping as staff_acts
from lauschen.api.door.asking import Device, Id, Staff, the_office
from lauschen.api.models import AddressOut, Dossier, GuestOut, Sight
from lauschen.core.errors import NotThere
from lauschen.core.ids import Mac, NetworkId
from lauschen.road.tx import Tx
from lauschen.store import addresses, log, overview

if TYPE_CHECKING:
    from lauschen.api.app import Office

router = APIRouter(tags=["guests"])
MOST_GUESTS = 1000
LOG_LINES = 80
SLICE = 25
MOST_ADDRESSES = 12
_LIST = TypeAdapter(list[GuestOut])
ADDRESS_BY = {
    addresses.ACCOUNTING: "accounting",
    addresses.REQUEST: "its access device's request",
    addresses.PAGE: "the guest page",
}


@router.get("/guests", response_model=list[GuestOut])
async def guests(request: Request, staff: Staff) -> Response:
    """Everybody inside, held, at the door or barred."""
    office = await the_office(request)

    async def make() -> bytes:
        return await _everybody(office)

    return Response(await office.guests_shown.get(make), media_type="application/json")


async def _everybody(office: "Office") -> bytes:
    """In slices: packets go first."""
    shaper, slices = office.shaper(), []
    keys = overview.guest_keys(office.reader, MOST_GUESTS)
    for start in range(0, len(keys), SLICE):
        await asyncio.sleep(0)
        rows = [overview.guest(office.reader, *key) for key in keys[start : start + SLICE]]
        slices.append(_LIST.dump_json([shaper.guest(row) for row in rows if row is not None])[1:-1])
    return b"[%b]" % b",".join(piece for piece in slices if piece)


@router.get("/guests/{mac}/{network}")
async def dossier(request: Request, staff: Staff, mac: Device, network: Id) -> Dossier:
    """What was heard of this device, what was decided and why, and its stays."""
    office = await the_office(request)
    shaper = office.shaper()
    row = overview.guest(office.reader, mac, NetworkId(network))
    if row is None:
        raise NotThere("device")
    worder = shaper.worder()
    return Dossier(
        guest=shaper.guest(row),
        addresses=_addresses(addresses.addresses_of(office.reader, mac, MOST_ADDRESSES)),
        log=[shaper.log_line(r, worder) for r in log.log_of_device(office.reader, mac, LOG_LINES)],
        stays=shaper.stays(row),
    )


@router.post("/guests/{mac}/{network}/end-stay")
async def end_stay(request: Request, staff: Staff, mac: Device, network: Id) -> GuestOut:
    office = await the_office(request)
    return await _act(
        office,
        mac,
        network,
        lambda tx: staff_acts.end_device_stay(tx, mac, NetworkId(network), by=staff.staff, wake=office.wake),
    )


@router.post("/guests/{mac}/{network}/bar")
async def bar(request: Request, staff: Staff, mac: Device, network: Id) -> GuestOut:
    office = await the_office(request)
    return await _act(
        office,
        mac,
        network,
        lambda tx: staff_acts.bar(tx, mac, NetworkId(network), by=staff.staff, wake=office.wake),
    )


@router.post("/guests/{mac}/{network}/let-try-again")
async def let_try_again(request: Request, staff: Staff, mac: Device, network: Id) -> GuestOut:
    office = await the_office(request)
    return await _act(
        office,
        mac,
        network,
        lambda tx: staff_acts.let_try_again(tx, mac, NetworkId(network), by=staff.staff),
    )


@router.post("/guests/{mac}/{network}/send-again")
async def send_again(request: Request, staff: Staff, mac: Device, network: Id) -> GuestOut:
    """Sends a change that an access device has not carried out, now."""
    office = await the_office(request)
    return await _act(
        office,
        mac,
        network,
        lambda tx: staff_acts.try_move_again(tx, mac, NetworkId(network), wake=office.wake),
    )


async def _act(office: "Office", mac: Mac, network: int, act: Callable[[Tx], None]) -> GuestOut:
    await office.road.act(act)
    row = overview.guest(office.reader, mac, NetworkId(network))
    if row is None:
        raise NotThere("device")
    return office.shaper().guest(row)


def _addresses(seen: list[addresses.SeenAddress]) -> list[AddressOut]:
    found: dict[str, AddressOut] = {}
    for one in seen:
        shown = found.setdefault(one.text, AddressOut(text=one.text, seen=[]))
        shown.seen.append(Sight(by=ADDRESS_BY[one.source], at=one.seen))
    return list(found.values())
