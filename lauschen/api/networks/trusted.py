"""Who is let in always: one by one, or as a list of lines; each bad line comes back with its reason."""

from collections.abc import Mapping

from fastapi import APIRouter, Response

from lauschen.acts.config.configuring import configured
from lauschen.acts.config.trusted import remove_trusted, save_trusted
from lauschen.api.door.asking import Configures, Id, Inspects, NeedFirst, TheOffice
from lauschen.api.door.office import Office
from lauschen.api.lines import cells_of, csv_answer, undefused
from lauschen.api.networks import way_models
from lauschen.api.networks.shapes import trusted_out
from lauschen.api.taking import Entry, LinesTaken, ListText, take_in
from lauschen.core.actor import Actor
from lauschen.core.config.config import Config
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import AccessDeviceId, RoleId, TrustedId
from lauschen.core.ways.always import Trusted
from lauschen.core.words.mac import read_mac, spell_mac
from lauschen.road.tx import Tx

router = APIRouter(tags=["networks"], route_class=NeedFirst)


@router.post("/trusted", status_code=201)
async def add(actor: Configures, office: TheOffice, wanted: way_models.TrustedIn) -> way_models.TrustedOut:
    return await _save(office, actor, _read(0, wanted))


@router.put("/trusted/{trusted}")
async def change(
    actor: Configures, office: TheOffice, trusted: Id, wanted: way_models.TrustedIn
) -> way_models.TrustedOut:
    """Its name and its role; what it is about stays."""
    return await _save(office, actor, _read(trusted, wanted))


@router.delete("/trusted/{trusted}", status_code=204)
async def remove(actor: Configures, office: TheOffice, trusted: Id) -> None:
    """Whoever is in by it goes to the door."""
    one = TrustedId(trusted)
    await office.road.act(configured(lambda tx: remove_trusted(tx, one)), by=actor)


@router.get("/trusted.csv", response_class=Response)
async def as_csv(_: Inspects, office: TheOffice) -> Response:
    """Devices by MAC address, as lines that can be read in again."""
    roles = office.config.roles
    rows = [
        (one.name, spell_mac(one.mac), roles[one.role].name if one.role in roles else "")
        for one in office.config.trusted
        if one.mac is not None
    ]
    return csv_answer("always.csv", ("name", "mac", "role"), rows)


@router.post("/trusted/lines")
async def take_lines(actor: Configures, office: TheOffice, wanted: ListText) -> LinesTaken:
    """Good lines are taken in, and change a device that is there; bad ones come back, and none is lost."""
    return await take_in(office, actor, wanted.text, _Devices())


class _Devices:
    """A line for each device: name, MAC address, by which it is known again, and role."""

    def known(self, config: Config) -> Mapping[str, int]:
        return {spell_mac(one.mac): one.id for one in config.trusted if one.mac is not None}

    def read(self, config: Config, line: str) -> Entry[Trusted] | None:
        one = _read_line(config, line)
        if one is None:
            return None
        assert one.mac is not None
        return Entry(spell_mac(one.mac), spell_mac(one.mac), one)

    def save(self, tx: Tx, wanted: Trusted, there: int) -> None:
        save_trusted(tx, Trusted(TrustedId(there), wanted.name, wanted.role, wanted.mac))


def _read_line(config: Config, line: str) -> Trusted | None:
    """None of a line of headings."""
    cells = cells_of(line)
    if [cell.lower() for cell in cells[:2]] == ["name", "mac"]:
        return None
    if not 2 <= len(cells) <= 3:
        raise Invalid("line", field="text", mend="Name, MAC address and, if you like, a role.")
    name, mac_text, role_name = undefused(cells[0]), cells[1], undefused((*cells, "")[2])
    mac = read_mac(mac_text)
    if mac is None:
        raise Invalid("trusted_mac", field="text", mend=f"{mac_text or 'Nothing'} is no MAC address.")
    role = next((r for r in config.roles.values() if r.name == role_name), None)
    if role_name and role is None:
        raise Invalid("rule_role", field="text", mend=f"There is no role {role_name}.")
    return Trusted(TrustedId(0), name, None if role is None else role.id, mac)


def _read(number: int, wanted: way_models.TrustedIn) -> Trusted:
    mac = None
    if wanted.mac:
        mac = read_mac(wanted.mac)
        if mac is None:
            raise Invalid("trusted_mac", field="mac", mend="Twelve hex digits, such as 02-00-00-AA-BB-01.")
    role = None if wanted.role is None else RoleId(wanted.role)
    if mac is not None:
        return Trusted(TrustedId(number), wanted.name, role, mac)
    device = None if wanted.access_device is None else AccessDeviceId(wanted.access_device)
    return Trusted(TrustedId(number), wanted.name, role, None, device, wanted.port or None)


async def _save(office: Office, actor: Actor, wanted: Trusted) -> way_models.TrustedOut:
    saved = await office.road.act(configured(lambda tx: save_trusted(tx, wanted)), by=actor)
    found = next((one for one in office.config.trusted if one.id == saved), None)
    if found is None:
        raise NotThere("trusted")
    return trusted_out(found, office.config)
