"""The room Guests: everybody who is here, one dossier each, and what staff do to a device."""

import asyncio
from collections.abc import Callable

from fastapi import APIRouter, Response
from pydantic import TypeAdapter

from lauschen.acts.desk import helping as staff_acts
from lauschen.api.desk.models import GiveTime
from lauschen.api.door.asking import Device, Helps, Id, Looks, TheOffice, TheSession
from lauschen.api.door.office import Office
from lauschen.api.guests.models import AddressOut, Dossier, GuestOut, Sight
from lauschen.api.guests.shapes import consents_out, guest_out, hosts_out, stays_out, wrote_out
from lauschen.api.now.shapes import log_line_out
from lauschen.core.actor import Actor
from lauschen.core.errors import NotThere
from lauschen.core.ids import Mac, NetworkId
from lauschen.road.tx import Tx
from lauschen.store import addresses, log, overview
from lauschen.store.people.sessions import StaffSession

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
async def guests(_: Looks, viewer: TheSession, office: TheOffice) -> Response:
    """Everybody inside, held, at the door or barred."""

    async def make() -> bytes:
        return await _everybody(office, viewer)

    # Whoever reads every code sees the same as all others who do.
    made = await (office.guests_shown.get(make) if viewer.reads_code_of(None) else make())
    return Response(made, media_type="application/json")


async def _everybody(office: Office, viewer: StaffSession) -> bytes:
    """In slices: packets go first."""
    shaper, slices = office.shaper(viewer), []
    keys = overview.guest_keys(office.reader, MOST_GUESTS)
    for start in range(0, len(keys), SLICE):
        await asyncio.sleep(0)
        rows = [overview.guest(office.reader, *key) for key in keys[start : start + SLICE]]
        slices.append(_LIST.dump_json([guest_out(shaper, row) for row in rows if row is not None])[1:-1])
    return b"[%b]" % b",".join(piece for piece in slices if piece)


@router.get("/guests/{mac}/{network}")
async def dossier(_: Looks, viewer: TheSession, office: TheOffice, mac: Device, network: Id) -> Dossier:
    """What was heard of this device, what was decided and why, and its stays."""
    shaper = office.shaper(viewer)
    row = overview.guest(office.reader, mac, NetworkId(network))
    if row is None:
        raise NotThere("device")
    speaker = shaper.speaker()
    return Dossier(
        guest=guest_out(shaper, row),
        wrote=wrote_out(shaper, row),
        hosts=hosts_out(shaper, row),
        consents=consents_out(shaper, row),
        addresses=_addresses(addresses.addresses_of(office.reader, mac, MOST_ADDRESSES)),
        log=[log_line_out(speaker, r, mac) for r in log.log_of_device(office.reader, mac, LOG_LINES)],
        stays=stays_out(shaper, row),
    )


@router.post("/guests/{mac}/{network}/end-stay")
async def end_stay(actor: Helps, viewer: TheSession, office: TheOffice, mac: Device, network: Id) -> GuestOut:
    return await _act(
        office,
        viewer,
        actor,
        mac,
        network,
        lambda tx: staff_acts.end_device_stay(tx, mac, NetworkId(network)),
    )


@router.post("/guests/{mac}/{network}/give-time")
async def give_time(
    actor: Helps, viewer: TheSession, office: TheOffice, mac: Device, network: Id, wish: GiveTime
) -> GuestOut:
    """More of what it is in by, or was last."""
    row = overview.guest(office.reader, mac, NetworkId(network))
    credential = row.grant.credential if row is not None and row.grant is not None else None
    if credential is None:
        raise NotThere("stay")
    return await _act(
        office, viewer, actor, mac, network, lambda tx: staff_acts.give_time(tx, credential, wish.seconds)
    )


@router.post("/guests/{mac}/{network}/bar")
async def bar(actor: Helps, viewer: TheSession, office: TheOffice, mac: Device, network: Id) -> GuestOut:
    return await _act(
        office,
        viewer,
        actor,
        mac,
        network,
        lambda tx: staff_acts.bar(tx, mac, NetworkId(network)),
    )


@router.post("/guests/{mac}/{network}/let-try-again")
async def let_try_again(
    actor: Helps, viewer: TheSession, office: TheOffice, mac: Device, network: Id
) -> GuestOut:
    return await _act(
        office,
        viewer,
        actor,
        mac,
        network,
        lambda tx: staff_acts.let_try_again(tx, mac, NetworkId(network)),
    )


@router.post("/guests/{mac}/{network}/send-again")
async def send_again(
    actor: Helps, viewer: TheSession, office: TheOffice, mac: Device, network: Id
) -> GuestOut:
    """Sends a change that an access device has not carried out, now."""
    return await _act(
        office,
        viewer,
        actor,
        mac,
        network,
        lambda tx: staff_acts.try_move_again(tx, mac, NetworkId(network)),
    )


async def _act(
    office: Office, viewer: StaffSession, actor: Actor, mac: Mac, network: int, act: Callable[[Tx], None]
) -> GuestOut:
    await office.road.act(act, by=actor)
    row = overview.guest(office.reader, mac, NetworkId(network))
    if row is None:
        raise NotThere("device")
    return guest_out(office.shaper(viewer), row)


def _addresses(seen: list[addresses.SeenAddress]) -> list[AddressOut]:
    found: dict[str, AddressOut] = {}
    for one in seen:
        shown = found.setdefault(one.text, AddressOut(text=one.text, seen=[]))
        shown.seen.append(Sight(by=ADDRESS_BY[one.source], at=one.seen))
    return list(found.values())
