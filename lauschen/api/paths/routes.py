"""The room Paths: networks, roles, access devices, knocks, dialects, the sheet, and the last packets of each."""

import secrets
from collections.abc import Callable
from typing import TYPE_CHECKING, TypeVar

from fastapi import APIRouter, Request

from lauschen.acts.config import changes as config_acts
from lauschen.api.door.asking import Id, Staff, the_office
from lauschen.api.paths import models
from lauschen.api.paths.changes import read_device, read_dialect, read_network, read_role, verdict_on
from lauschen.api.paths.connect_sheet import connect_sheet
from lauschen.api.paths.shapes import device_out, dialect_out, network_out, packet_out, paths_out, role_out
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.house.house import Role
from lauschen.core.ids import AccessDeviceId, DialectId, NetworkId, RoleId
from lauschen.outgoing.reach import resolve
from lauschen.radius.listen.registry import Peer
from lauschen.road.tx import Tx

if TYPE_CHECKING:
    from lauschen.api.app import Office

T = TypeVar("T")
router = APIRouter(tags=["paths"])
SECRET_CHARACTERS = 24


@router.get("/paths")
async def paths(request: Request, staff: Staff) -> models.PathsOut:
    office = await the_office(request)
    return paths_out(office.reader, office.road.house, office.registry)


@router.post("/networks", status_code=201)
async def add_network(request: Request, staff: Staff, wanted: models.NetworkIn) -> models.NetworkOut:
    return await _save_network(request, staff.staff, 0, wanted)


@router.put("/networks/{network}")
async def change_network(
    request: Request, staff: Staff, network: Id, wanted: models.NetworkIn
) -> models.NetworkOut:
    return await _save_network(request, staff.staff, network, wanted)


@router.delete("/networks/{network}", status_code=204)
async def remove_network(request: Request, staff: Staff, network: Id) -> None:
    office = await the_office(request)
    gone = NetworkId(network)
    await _configure(office, lambda tx: config_acts.remove_network(tx, gone, by=staff.staff))


@router.post("/roles", status_code=201)
async def add_role(request: Request, staff: Staff, wanted: models.NewRole) -> models.RoleOut:
    return await _save_role(request, staff.staff, read_role(0, wanted, is_door=wanted.is_door))


@router.put("/roles/{role}")
async def change_role(request: Request, staff: Staff, role: Id, wanted: models.RoleIn) -> models.RoleOut:
    office = await the_office(request)
    before = office.road.house.roles.get(RoleId(role))
    is_door = before is not None and before.is_door
    return await _save_role(request, staff.staff, read_role(role, wanted, is_door=is_door))


@router.delete("/roles/{role}", status_code=204)
async def remove_role(request: Request, staff: Staff, role: Id) -> None:
    office = await the_office(request)
    gone = RoleId(role)
    await _configure(office, lambda tx: config_acts.remove_role(tx, gone, by=staff.staff))


@router.post("/dialects", status_code=201)
async def add_dialect(request: Request, staff: Staff, wanted: models.DialectIn) -> models.DialectOut:
    return await _save_dialect(request, staff.staff, 0, wanted)


@router.put("/dialects/{dialect}")
async def change_dialect(
    request: Request, staff: Staff, dialect: Id, wanted: models.DialectIn
) -> models.DialectOut:
    return await _save_dialect(request, staff.staff, dialect, wanted)


@router.delete("/dialects/{dialect}", status_code=204)
async def remove_dialect(request: Request, staff: Staff, dialect: Id) -> None:
    office = await the_office(request)
    gone = DialectId(dialect)
    await _configure(office, lambda tx: config_acts.remove_dialect(tx, gone, by=staff.staff))


@router.post("/access-devices", status_code=201)
async def add_device(request: Request, staff: Staff, wanted: models.NewDevice) -> models.DeviceOut:
    office = await the_office(request)
    new = read_device(0, wanted)
    added = await _configure(
        office, lambda tx: config_acts.add_device(tx, new, wanted.secret, by=staff.staff)
    )
    return _device(office, added)


@router.put("/access-devices/{device}")
async def change_device(
    request: Request, staff: Staff, device: Id, wanted: models.DeviceIn
) -> models.DeviceOut:
    office = await the_office(request)
    changed = read_device(device, wanted)
    await _configure(office, lambda tx: config_acts.change_device(tx, changed, by=staff.staff))
    return _device(office, AccessDeviceId(device))


@router.delete("/access-devices/{device}", status_code=204)
async def remove_device(request: Request, staff: Staff, device: Id) -> None:
    office = await the_office(request)
    gone = AccessDeviceId(device)
    await _configure(office, lambda tx: config_acts.remove_device(tx, gone, by=staff.staff))


@router.post("/access-devices/{device}/secret")
async def change_secret(
    request: Request, staff: Staff, device: Id, wanted: models.NewSecret
) -> models.SecretOnce:
    """The old one is heard too, until it is forgotten."""
    office = await the_office(request)
    secret = wanted.secret if wanted.secret is not None else secrets.token_urlsafe(SECRET_CHARACTERS)
    whose = AccessDeviceId(device)
    await _configure(office, lambda tx: config_acts.change_secret(tx, whose, secret, by=staff.staff))
    return models.SecretOnce(secret=secret)


@router.post("/access-devices/{device}/forget-old-secret")
async def forget_old_secret(request: Request, staff: Staff, device: Id) -> models.DeviceOut:
    office = await the_office(request)
    whose = AccessDeviceId(device)
    await _configure(office, lambda tx: config_acts.forget_old_secret(tx, whose, by=staff.staff))
    return _device(office, whose)


@router.get("/access-devices/{device}/packets")
async def packets(request: Request, staff: Staff, device: Id) -> list[models.PacketOut]:
    """The last packets of an access device, newest first, with every secret blanked."""
    office = await the_office(request)
    peer = _peer(office, AccessDeviceId(device))
    addresses = {peer.device.address, *peer.sources}
    found = [r for address in addresses for r in office.registry.recorder.of(address)]
    return [packet_out(r) for r in sorted(found, key=lambda r: -r.at)]


@router.get("/sheet/{device}/{network}")
async def sheet(request: Request, staff: Staff, device: Id, network: Id) -> models.SheetOut:
    """All that must be typed into this access device for this network."""
    office = await the_office(request)
    house = office.road.house
    found = house.networks.get(NetworkId(network))
    if found is None:
        raise NotThere("network")
    peer = _peer(office, AccessDeviceId(device))
    return await connect_sheet(
        house, peer.device, found, ports=office.ports, radius_host=office.radius_host, look_up=resolve
    )


@router.post("/knocks/{address}/try-secret")
async def try_secret(
    request: Request, staff: Staff, address: str, wanted: models.TrySecret
) -> models.SecretVerdict:
    """Whether a typed secret is the one that the kept packet was signed with."""
    office = await the_office(request)
    knock = office.registry.knocks.get(address)
    if knock is None:
        raise NotThere("knock")
    return models.SecretVerdict(verdict=verdict_on(knock, wanted.secret))


@router.post("/knocks/{address}/take-in", status_code=201)
async def take_in(request: Request, staff: Staff, address: str, wanted: models.TakeIn) -> models.DeviceOut:
    """A knock becomes an access device; the secret is tried on the kept packet first (rulings 3.14)."""
    office = await the_office(request)
    knock = office.registry.knocks.get(address)
    if knock is not None and not wanted.anyway and verdict_on(knock, wanted.secret) == "differs":
        raise Invalid(
            "secret_differs",
            field="secret",
            mend="The device signs with another secret; type the one it has.",
        )
    new = read_device(0, wanted)
    added = await _configure(
        office, lambda tx: config_acts.add_device(tx, new, wanted.secret, by=staff.staff)
    )
    return _device(office, added)


async def _save_network(
    request: Request, staff: int, network: int, wanted: models.NetworkIn
) -> models.NetworkOut:
    office = await the_office(request)
    new = read_network(network, wanted)
    saved = await _configure(office, lambda tx: config_acts.save_network(tx, new, by=staff))  # type: ignore[arg-type]
    return network_out(office.reader, office.road.house.networks[saved], office.road.house)


async def _save_role(request: Request, staff: int, new: Role) -> models.RoleOut:
    office = await the_office(request)
    saved = await _configure(office, lambda tx: config_acts.save_role(tx, new, by=staff))  # type: ignore[arg-type]
    return role_out(office.road.house.roles[saved], office.road.house)


async def _save_dialect(
    request: Request, staff: int, dialect: int, wanted: models.DialectIn
) -> models.DialectOut:
    office = await the_office(request)
    new = read_dialect(dialect, wanted, office.road.house.dialects.get(DialectId(dialect)))
    saved = await _configure(office, lambda tx: config_acts.save_dialect(tx, new, by=staff))  # type: ignore[arg-type]
    return dialect_out(office.road.house.dialects[saved])


async def _configure(office: "Office", act: Callable[[Tx], T]) -> T:
    """A change of the configuration, in force before it is answered."""

    def changed(tx: Tx) -> T:
        result = act(tx)
        tx.reconfigure()
        return result

    return await office.road.act(changed)


def _peer(office: "Office", device: AccessDeviceId) -> Peer:
    peer = office.registry.peers.get(device)
    if peer is None:
        raise NotThere("access_device")
    return peer


def _device(office: "Office", device: AccessDeviceId) -> models.DeviceOut:
    return device_out(_peer(office, device), office.road.house, office.registry)
