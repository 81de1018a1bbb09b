"""Who is let in always: one by one, or as a list of lines; each bad line comes back with its reason."""

import csv
import io
from collections.abc import Mapping

from fastapi import APIRouter, Response

from lauschen.acts.config.configuring import configured
from lauschen.acts.config.trusted import remove_trusted, save_trusted
from lauschen.api.door.asking import Configures, Id, Looks, TheOffice
from lauschen.api.door.office import Office
from lauschen.api.lines import cells_of, defused, undefused
from lauschen.api.paths import way_models
from lauschen.api.paths.shapes import trusted_out
from lauschen.core.actor import Actor
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.house.house import House
from lauschen.core.ids import AccessDeviceId, Mac, RoleId, TrustedId
from lauschen.core.ways.always import Trusted
from lauschen.core.words.mac import read_mac, spell_mac
from lauschen.road.tx import Tx

router = APIRouter(tags=["paths"])
MOST_LINES = 2000
AT_ONCE = 100
"""Lines in one job of the road; packets are served between them."""


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
async def as_csv(_: Looks, office: TheOffice) -> Response:
    """Devices by MAC address, as lines that can be read in again."""
    out, house = io.StringIO(), office.house
    writer = csv.writer(out)
    writer.writerow(("name", "mac", "role"))
    for one in house.trusted:
        if one.mac is not None:
            role = house.roles.get(one.role) if one.role is not None else None
            writer.writerow((defused(one.name), spell_mac(one.mac), defused(role.name if role else "")))
    headers = {"Content-Disposition": 'attachment; filename="always.csv"'}
    return Response(out.getvalue(), media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/trusted/lines")
async def take_lines(
    actor: Configures, office: TheOffice, wanted: way_models.TrustedText
) -> way_models.TrustedTaken:
    """Good lines are taken in, and change a device that is there; bad ones come back, and none is lost."""
    lines = [(n, line) for n, line in enumerate(wanted.text.splitlines(), 1) if line.strip()]
    if len(lines) > MOST_LINES:
        raise Invalid("lines_many", field="text", mend=f"At most {MOST_LINES} lines at once.")
    whole = way_models.TrustedTaken(added=0, changed=0, bad=[])
    seen: dict[Mac, int] = {}
    for start in range(0, len(lines), AT_ONCE):
        part = lines[start : start + AT_ONCE]
        taken, read = await office.road.act(
            configured(lambda tx, part=part, seen=seen: _take(tx, part, seen)),  # type: ignore[misc]
            by=actor,
        )
        seen |= read
        whole = way_models.TrustedTaken(
            added=whole.added + taken.added, changed=whole.changed + taken.changed, bad=whole.bad + taken.bad
        )
    return whole


def _take(
    tx: Tx, lines: list[tuple[int, str]], before: Mapping[Mac, int]
) -> tuple[way_models.TrustedTaken, dict[Mac, int]]:
    """With the line in which each device stood; `before`: those of the parts before. Run again, it is the same."""
    known = {one.mac: one.id for one in tx.house.trusted if one.mac is not None}
    taken, seen = way_models.TrustedTaken(added=0, changed=0, bad=[]), dict(before)
    by = tx.actor  # each line is an act of its own, which forgets it
    for number, line in lines:
        try:
            one = _read_line(tx.house, line)
            if one is None:
                continue
            assert one.mac is not None
            if one.mac in seen:
                mend = f"{spell_mac(one.mac)} stands in line {seen[one.mac]} already."
                raise Invalid("line_twice", field="text", mend=mend)
            there = known.get(one.mac)
            with tx.inner(by=by):
                save_trusted(tx, one if there is None else _as(one, there))
            seen[one.mac] = number
            taken.changed += there is not None
            taken.added += there is None
        except Invalid as exc:
            taken.bad.append(way_models.BadLine(number=number, text=line, why=exc.mend))
    return taken, seen


def _as(one: Trusted, there: TrustedId) -> Trusted:
    return Trusted(there, one.name, one.role, one.mac)


def _read_line(house: House, line: str) -> Trusted | None:
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
    role = next((r for r in house.roles.values() if r.name == role_name), None)
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
    found = next((one for one in office.house.trusted if one.id == saved), None)
    if found is None:
        raise NotThere("trusted")
    return trusted_out(found, office.house)
