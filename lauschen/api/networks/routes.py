"""The room Networks: networks, roles, access devices and unknown ones, dialects, the sheet, the last packets."""

import secrets
from collections.abc import Callable
from typing import TypeVar

from fastapi import APIRouter, Response

from lauschen.acts.config import changes as config_acts
from lauschen.acts.config import passcodes as passcode_acts
from lauschen.acts.config import ways as ways_acts
from lauschen.acts.config.configuring import configured
from lauschen.acts.config.pauses import end_pause, pause_network
from lauschen.acts.config.texts import write_text
from lauschen.api.door.asking import Configures, Id, Inspects, NeedFirst, TheOffice
from lauschen.api.door.office import Office
from lauschen.api.networks import models, way_models
from lauschen.api.networks.changes import (
    read_access_device,
    read_dialect,
    read_network,
    read_role,
    read_way_in,
    verdict_on,
)
from lauschen.api.networks.connect_sheet import connect_sheet
from lauschen.api.networks.shapes import (
    access_device_out,
    dialect_out,
    house_rules_out,
    network_out,
    packet_out,
    paths_out,
    role_out,
)
from lauschen.api.networks.way_words import changes_words, guess_words
from lauschen.core.actor import Actor
from lauschen.core.config.role import Role
from lauschen.core.config.site_text import TextKind
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import AccessDeviceId, DialectId, NetworkId, RoleId
from lauschen.core.limits.civil import read_civil
from lauschen.core.ways.passcode import Passcode
from lauschen.outgoing.reach import resolve
from lauschen.radius.listen.registry import Peer
from lauschen.road.tx import Tx

T = TypeVar("T")
router = APIRouter(tags=["networks"], route_class=NeedFirst)
SECRET_CHARACTERS = 24


@router.get("/networks", response_model=models.NetworksOut)
async def paths(_: Inspects, office: TheOffice) -> Response:
    whole = await paths_out(office.reader, office.road.config, office.registry)
    return Response(whole.model_dump_json(), media_type="application/json")


@router.post("/networks", status_code=201)
async def add_network(actor: Configures, office: TheOffice, wanted: models.NetworkIn) -> models.NetworkOut:
    return await _save_network(office, actor, 0, wanted)


@router.put("/networks/{network}")
async def change_network(
    actor: Configures, office: TheOffice, network: Id, wanted: models.NetworkIn
) -> models.NetworkOut:
    return await _save_network(office, actor, network, wanted)


@router.put("/networks/{network}/ways")
async def offer_ways(
    actor: Configures, office: TheOffice, network: Id, wanted: way_models.WaysIn
) -> models.NetworkOut:
    """What it offers to let in. Whoever is in by one that is not offered any more stays in."""
    ways, of = [read_way_in(way, office.config.zone) for way in wanted.ways], NetworkId(network)
    await _configure(office, actor, lambda tx: ways_acts.offer_ways(tx, of, ways))
    return network_out(office.reader, office.config.networks[of], office.config)


@router.post("/networks/{network}/pause")
async def pause(
    actor: Configures, office: TheOffice, network: Id, wanted: models.PauseIn
) -> models.NetworkOut:
    """Nobody is let in until then, and guests are told why."""
    of = NetworkId(network)
    until = None if wanted.until is None else read_civil(wanted.until, office.config.zone, "until")
    await _configure(
        office,
        actor,
        lambda tx: pause_network(tx, of, until=until, why=wanted.why, ends_stays=wanted.ends_stays),
    )
    return network_out(office.reader, office.config.networks[of], office.config)


@router.post("/networks/{network}/end-pause")
async def let_in_again(actor: Configures, office: TheOffice, network: Id) -> models.NetworkOut:
    of = NetworkId(network)
    await _configure(office, actor, lambda tx: end_pause(tx, of))
    return network_out(office.reader, office.config.networks[of], office.config)


@router.post("/passcodes/words")
async def passcode_words(
    _: Configures, office: TheOffice, wanted: way_models.PasscodeWay
) -> way_models.PasscodeWords:
    """When it would change, and how likely somebody guesses it within one change."""
    way = read_way_in(wanted, office.config.zone)
    assert isinstance(way, Passcode)
    chance = guess_words(way, is_signed=not office.config.without_token())
    return way_models.PasscodeWords(changes=changes_words(way), chance=chance)


@router.post("/networks/{network}/passcode")
async def new_passcode(
    actor: Configures, office: TheOffice, network: Id, wanted: way_models.NewPasscode
) -> models.NetworkOut:
    """Another one from now on; the one before goes on for its overlap."""
    of, text = NetworkId(network), wanted.text
    await _configure(office, actor, lambda tx: passcode_acts.new_passcode(tx, of, text))
    return network_out(office.reader, office.config.networks[of], office.config)


@router.post("/networks/{network}/passcode/end-overlap")
async def end_overlap(actor: Configures, office: TheOffice, network: Id) -> models.NetworkOut:
    """The one before is good no more; who is in by it stays in."""
    of = NetworkId(network)
    await _configure(office, actor, lambda tx: passcode_acts.end_overlap(tx, of))
    return network_out(office.reader, office.config.networks[of], office.config)


@router.put("/house-rules")
async def write_house_rules(
    actor: Configures, office: TheOffice, wanted: models.HouseRulesIn
) -> models.HouseRulesOut:
    """A new version of the text that guests agree to, unless nothing was changed."""
    texts = {str(lang): text for lang, text in wanted.texts.items()}
    await _configure(office, actor, lambda tx: write_text(tx, TextKind.RULES, texts))
    return house_rules_out(office.config)


@router.delete("/networks/{network}", status_code=204)
async def remove_network(actor: Configures, office: TheOffice, network: Id) -> None:
    gone = NetworkId(network)
    await _configure(office, actor, lambda tx: config_acts.remove_network(tx, gone))


@router.post("/roles", status_code=201)
async def add_role(actor: Configures, office: TheOffice, wanted: models.NewRole) -> models.RoleOut:
    return await _save_role(office, actor, read_role(0, wanted, is_door=wanted.is_door))


@router.put("/roles/{role}")
async def change_role(
    actor: Configures, office: TheOffice, role: Id, wanted: models.RoleIn
) -> models.RoleOut:
    before = office.road.config.roles.get(RoleId(role))
    is_door = before is not None and before.is_door
    return await _save_role(office, actor, read_role(role, wanted, is_door=is_door))


@router.delete("/roles/{role}", status_code=204)
async def remove_role(actor: Configures, office: TheOffice, role: Id) -> None:
    gone = RoleId(role)
    await _configure(office, actor, lambda tx: config_acts.remove_role(tx, gone))


@router.post("/dialects", status_code=201)
async def add_dialect(actor: Configures, office: TheOffice, wanted: models.DialectIn) -> models.DialectOut:
    return await _save_dialect(office, actor, 0, wanted)


@router.put("/dialects/{dialect}")
async def change_dialect(
    actor: Configures, office: TheOffice, dialect: Id, wanted: models.DialectIn
) -> models.DialectOut:
    return await _save_dialect(office, actor, dialect, wanted)


@router.delete("/dialects/{dialect}", status_code=204)
async def remove_dialect(actor: Configures, office: TheOffice, dialect: Id) -> None:
    gone = DialectId(dialect)
    await _configure(office, actor, lambda tx: config_acts.remove_dialect(tx, gone))


@router.post("/access-devices", status_code=201)
async def add_device(
    actor: Configures, office: TheOffice, wanted: models.NewAccessDevice
) -> models.AccessDeviceOut:
    new = read_access_device(0, wanted)
    added = await _configure(office, actor, lambda tx: config_acts.add_access_device(tx, new, wanted.secret))
    return _device(office, added)


@router.put("/access-devices/{device}")
async def change_device(
    actor: Configures, office: TheOffice, device: Id, wanted: models.AccessDeviceIn
) -> models.AccessDeviceOut:
    changed = read_access_device(device, wanted)
    await _configure(office, actor, lambda tx: config_acts.change_access_device(tx, changed))
    return _device(office, AccessDeviceId(device))


@router.delete("/access-devices/{device}", status_code=204)
async def remove_device(actor: Configures, office: TheOffice, device: Id) -> None:
    gone = AccessDeviceId(device)
    await _configure(office, actor, lambda tx: config_acts.remove_access_device(tx, gone))


@router.post("/access-devices/{device}/secret")
async def change_secret(
    actor: Configures, office: TheOffice, device: Id, wanted: models.NewSecret
) -> models.SecretOnce:
    """The old one is heard too, until it is forgotten."""
    secret = wanted.secret if wanted.secret is not None else secrets.token_urlsafe(SECRET_CHARACTERS)
    whose = AccessDeviceId(device)
    await _configure(office, actor, lambda tx: config_acts.change_secret(tx, whose, secret))
    return models.SecretOnce(secret=secret)


@router.post("/access-devices/{device}/forget-old-secret")
async def forget_old_secret(actor: Configures, office: TheOffice, device: Id) -> models.AccessDeviceOut:
    whose = AccessDeviceId(device)
    await _configure(office, actor, lambda tx: config_acts.forget_old_secret(tx, whose))
    return _device(office, whose)


@router.get("/access-devices/{device}/packets")
async def packets(_: Inspects, office: TheOffice, device: Id) -> list[models.PacketOut]:
    """The last packets of an access device, newest first, with every secret blanked."""
    peer = _peer(office, AccessDeviceId(device))
    addresses = {peer.device.address, *peer.sources}
    found = [r for address in addresses for r in office.registry.recorder.of(address)]
    return [packet_out(r) for r in sorted(found, key=lambda r: -r.at)]


@router.get("/sheet/{device}/{network}")
async def sheet(_: Inspects, office: TheOffice, device: Id, network: Id) -> models.SheetOut:
    """All that must be typed into this access device for this network."""
    config = office.road.config
    found = config.networks.get(NetworkId(network))
    if found is None:
        raise NotThere("network")
    peer = _peer(office, AccessDeviceId(device))
    return await connect_sheet(
        config, peer.device, found, ports=office.ports, radius_host=office.radius_host, look_up=resolve
    )


@router.post("/unknown-access-devices/{address}/try-secret")
async def try_secret(
    _: Configures, office: TheOffice, address: str, wanted: models.TrySecret
) -> models.SecretVerdict:
    """Whether a typed secret is the one that the kept packet was signed with."""
    unknown = office.registry.unknown.get(address)
    if unknown is None:
        raise NotThere("unknown_access_device")
    return models.SecretVerdict(verdict=verdict_on(unknown, wanted.secret))


@router.post("/unknown-access-devices/{address}/add", status_code=201)
async def take_in(
    actor: Configures, office: TheOffice, address: str, wanted: models.TakeIn
) -> models.AccessDeviceOut:
    """Make an unknown access device a known one; the secret is tried on the kept packet first (rulings 3.14)."""
    unknown = office.registry.unknown.get(address)
    if unknown is not None and not wanted.anyway and verdict_on(unknown, wanted.secret) == "differs":
        raise Invalid(
            "secret_differs",
            field="secret",
            mend="The device signs with another secret; type the one it has.",
        )
    new = read_access_device(0, wanted)
    added = await _configure(office, actor, lambda tx: config_acts.add_access_device(tx, new, wanted.secret))
    return _device(office, added)


async def _save_network(
    office: Office, actor: Actor, network: int, wanted: models.NetworkIn
) -> models.NetworkOut:
    new = read_network(network, wanted, office.config.networks.get(NetworkId(network)))
    served_by, zone = wanted.served_by, office.config.zone
    ways = None if wanted.ways is None else [read_way_in(way, zone) for way in wanted.ways]

    def save(tx: Tx) -> NetworkId:
        saved = configured(lambda tx: config_acts.save_network(tx, new))(tx)
        if ways is not None:
            configured(lambda tx: ways_acts.offer_ways(tx, saved, ways))(tx)
        if served_by is not None:
            config_acts.list_for(tx, saved, [AccessDeviceId(device) for device in served_by])
        return saved

    saved = await _configure(office, actor, save)
    return network_out(office.reader, office.road.config.networks[saved], office.road.config)


async def _save_role(office: Office, actor: Actor, new: Role) -> models.RoleOut:
    saved = await _configure(office, actor, lambda tx: config_acts.save_role(tx, new))
    return role_out(office.road.config.roles[saved], office.road.config)


async def _save_dialect(
    office: Office, actor: Actor, dialect: int, wanted: models.DialectIn
) -> models.DialectOut:
    new = read_dialect(dialect, wanted, office.road.config.dialects.get(DialectId(dialect)))
    saved = await _configure(office, actor, lambda tx: config_acts.save_dialect(tx, new))
    return dialect_out(office.road.config.dialects[saved])


async def _configure(office: Office, actor: Actor, act: Callable[[Tx], T]) -> T:
    return await office.road.act(configured(act), by=actor)


def _peer(office: Office, device: AccessDeviceId) -> Peer:
    peer = office.registry.peers.get(device)
    if peer is None:
        raise NotThere("access_device")
    return peer


def _device(office: Office, device: AccessDeviceId) -> models.AccessDeviceOut:
    return access_device_out(_peer(office, device), office.road.config, office.registry)
