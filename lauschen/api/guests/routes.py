"""The room Guests: everybody who is here, one dossier each, and what staff do to a device."""

from collections.abc import Callable
from datetime import datetime
from functools import partial
from typing import Annotated

from fastapi import APIRouter, Query, Response

from lauschen.acts.desk import helping as staff_acts
from lauschen.api.desk.models import GiveTime
from lauschen.api.door.asking import Device, Helps, Id, Looks, NeedFirst, TheOffice, TheSession
from lauschen.api.door.office import Office
from lauschen.api.guests.kept import Line
from lauschen.api.guests.listing import Filter, counts_of, lines_of
from lauschen.api.guests.models import (
    ActOnGuests,
    AddressOut,
    Asked,
    Dossier,
    GuestKey,
    GuestOut,
    GuestsActedOn,
    GuestsOut,
    RefusedGuests,
    Sight,
)
from lauschen.api.guests.places import places_out
from lauschen.api.guests.shapes import consents_out, guest_out, hosts_out, listed_out, stays_out, wrote_out
from lauschen.api.guests.story import heard_of, others, story, why
from lauschen.api.lines import csv_answer
from lauschen.api.slices import in_slices
from lauschen.core.actor import Actor
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import Mac, NetworkId
from lauschen.core.people.sight import Sight as Seeing
from lauschen.core.words.mac import read_mac, spell_mac
from lauschen.road.tx import Tx
from lauschen.store import addresses
from lauschen.store.guests import rows
from lauschen.store.guests.rows import GuestRow
from lauschen.store.people.sessions import StaffSession

router = APIRouter(tags=["guests"], route_class=NeedFirst)
PAGE, SLICE = 100, 50
HEADINGS = (
    "guest", "device", "network", "state", "way in", "plan", "since", "until", "octets used",
    "octets today", "bits per second", "where", "address",
)  # fmt: skip
MOST_ADDRESSES = 12
ADDRESS_BY = {
    addresses.ACCOUNTING: "accounting",
    addresses.REQUEST: "its access device's request",
    addresses.PAGE: "the guest page",
}


@router.get("/guests", response_model=GuestsOut)
async def guests(
    _: Looks, viewer: TheSession, office: TheOffice, asked: Annotated[Asked, Query()]
) -> Response:
    """A page of the guests that fit, and how many there are in each state."""

    async def make() -> bytes:
        return (await _page(office, asked, viewer.sight)).model_dump_json().encode()

    shown = office.shared(f"guests {asked.model_dump_json()}", viewer.sight)
    return Response(await shown.get(make), media_type="application/json")


async def _page(office: Office, asked: Asked, sight: Seeing) -> GuestsOut:
    found = await lines_of(office, asked.filter(), asked.sort, down=asked.down, sight=sight)
    config, shown = office.config, found[asked.page * PAGE : (asked.page + 1) * PAGE]
    return GuestsOut(
        rows=await in_slices(shown, lambda one: listed_out(config, one.line, one.left), SLICE),
        total=len(found),
        page=asked.page,
        pages=max(1, -(-len(found) // PAGE)),
        counts=await counts_of(office, asked.filter().network, sight),
    )


@router.get("/guests.csv", response_class=Response)
async def as_csv(
    _: Looks, viewer: TheSession, office: TheOffice, asked: Annotated[Asked, Query()]
) -> Response:
    """All that fit, in the same order."""
    found = await lines_of(office, asked.filter(), asked.sort, down=asked.down, sight=viewer.sight)
    config, zone = office.config, office.config.zone

    def row(line: Line) -> tuple[object, ...]:
        one = listed_out(config, line.line, line.left)
        since, until = (
            "" if at is None else datetime.fromtimestamp(at, zone).isoformat(timespec="seconds")
            for at in (one.since, one.until)
        )
        return (
            one.name, one.mac, one.network_name, one.state, one.way_in or "", one.plan or "", since, until,
            one.octets_used, one.octets_today, one.bits_per_s, one.where, one.address or "",
        )  # fmt: skip

    return csv_answer("guests.csv", HEADINGS, await in_slices(found, row, SLICE))


@router.post("/guests/acts")
async def act_on(actor: Helps, viewer: TheSession, office: TheOffice, wish: ActOnGuests) -> GuestsActedOn:
    """On each that is named, or on all of one state of one network: one after the other, none waits for another."""
    keys = [(read, NetworkId(one.network)) for one in wish.guests if (read := read_mac(one.mac)) is not None]
    if wish.all_of is not None:
        chosen = Filter(
            (wish.all_of.state,), None if wish.all_of.network is None else NetworkId(wish.all_of.network)
        )
        keys = [one.key for one in await lines_of(office, chosen, "since", down=True, sight=viewer.sight)]
    done: list[GuestKey] = []
    refused: dict[str, int] = {}
    for mac, network in keys:
        try:
            await office.road.act(partial(_ACTS[wish.what], mac=mac, network=network), by=actor)
        except Invalid as exc:
            refused[exc.mend] = refused.get(exc.mend, 0) + 1
            continue
        done.append(GuestKey(mac=spell_mac(mac), network=network))
    return GuestsActedOn(
        done=done, refused=[RefusedGuests(count=count, text=text) for text, count in refused.items()]
    )


_ACTS: dict[str, Callable[..., None]] = {
    "end-stay": staff_acts.end_device_stay,
    "bar": staff_acts.bar,
    "let-try-again": staff_acts.let_try_again,
}


@router.get("/guests/{mac}/{network}")
async def dossier(_: Looks, viewer: TheSession, office: TheOffice, mac: Device, network: Id) -> Dossier:
    """What was heard of this device, what was decided and why, and its stays."""
    shaper = office.shaper(viewer)
    row = _row(office, viewer, mac, network)
    line, heard = row.line, heard_of(shaper, row.line)
    return Dossier(
        guest=guest_out(shaper, row),
        why=why(line, heard),
        others=others(shaper, line),
        wrote=wrote_out(shaper, line),
        hosts=hosts_out(shaper, line),
        consents=consents_out(shaper, line),
        addresses=_addresses(addresses.addresses_of(office.reader, mac, MOST_ADDRESSES)),
        places=places_out(shaper, line),
        log=story(shaper, line, heard),
        stays=stays_out(shaper, line),
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
    credential = _row(office, viewer, mac, network).line.credential
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
    return guest_out(office.shaper(viewer), _row(office, viewer, mac, network))


def _row(office: Office, viewer: StaffSession, mac: Mac, network: int) -> GuestRow:
    found = rows.guest(office.reader, office.road.keys, mac, NetworkId(network), office.today.number)
    if found is None or not found.line.is_seen_by(viewer.sight):
        raise NotThere("device")
    return found


def _addresses(seen: list[addresses.SeenAddress]) -> list[AddressOut]:
    found: dict[str, AddressOut] = {}
    for one in seen:
        shown = found.setdefault(one.text, AddressOut(text=one.text, seen=[]))
        shown.seen.append(Sight(by=ADDRESS_BY[one.source], at=one.seen))
    return list(found.values())
