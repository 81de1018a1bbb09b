"""The list of hosts: one by one, or as lines; each bad line comes back with its reason."""

from collections.abc import Mapping

from fastapi import APIRouter, Response

from lauschen.acts.config.configuring import configured
from lauschen.acts.config.hosts import remove_host, save_host
from lauschen.acts.hosts.looking_after import send_own_page
from lauschen.acts.hosts.putting import person_of
from lauschen.api.door.asking import Configures, Helps, Id, Inspects, Looks, NeedFirst, TheOffice, TheSession
from lauschen.api.door.office import Office
from lauschen.api.hosts import models
from lauschen.api.hosts.shapes import host_out
from lauschen.api.lines import cells_of, csv_answer, undefused
from lauschen.api.taking import Entry, LinesTaken, ListText, take_in
from lauschen.core.actor import Actor
from lauschen.core.config.config import Config
from lauschen.core.config.host import Host
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import HostId, NetworkId, PlanId
from lauschen.core.people.sight import Sight
from lauschen.road.tx import Tx

router = APIRouter(tags=["hosts"], route_class=NeedFirst)
HEADINGS = (
    "name",
    "mail",
    "department",
    "language",
    "networks",
    "plans",
    "longest minutes",
    "guests at once",
)
_BETWEEN = " | "


@router.get("/hosts")
async def hosts(_: Looks, viewer: TheSession, office: TheOffice) -> list[models.HostOut]:
    """By name; the desk asks one of them for a guest."""
    return [
        host_out(host, office.config) for host in office.config.hosts.values() if sees(viewer.sight, host)
    ]


def sees(sight: Sight, host: Host) -> bool:
    """Return whether a host may vouch anywhere that is theirs to see."""
    return sight.is_whole or any(host.may_vouch(network) for network in sight.networks)


@router.post("/hosts", status_code=201)
async def add(actor: Configures, office: TheOffice, wanted: models.HostIn) -> models.HostOut:
    return await _save(office, actor, _read(0, wanted))


@router.put("/hosts/{host}")
async def change(actor: Configures, office: TheOffice, host: Id, wanted: models.HostIn) -> models.HostOut:
    return await _save(office, actor, _read(host, wanted))


@router.delete("/hosts/{host}", status_code=204)
async def remove(actor: Configures, office: TheOffice, host: Id) -> None:
    """Nobody can ask them any more; whom they vouched for stays in."""
    await office.road.act(configured(lambda tx: remove_host(tx, HostId(host))), by=actor)


@router.post("/hosts/{host}/page", status_code=204)
async def send_page(actor: Helps, viewer: TheSession, office: TheOffice, host: Id) -> None:
    """Mails them a new link to their own page; the one before leads nowhere any more."""
    found = office.config.hosts.get(HostId(host))
    if found is None or not sees(viewer.sight, found):
        raise NotThere("host")
    await office.road.act(lambda tx: send_own_page(tx, person_of(found)), by=actor)


@router.get("/hosts.csv", response_class=Response)
async def as_csv(_: Inspects, office: TheOffice) -> Response:
    """As lines that can be read in again."""
    config, rows = office.config, []
    for host in config.hosts.values():
        networks = [config.networks[one].name for one in host.networks if one in config.networks]
        plans = [config.plans[one].name for one in host.plans if one in config.plans]
        longest, at_once = (("" if one is None else str(one)) for one in (host.longest_minutes, host.at_once))
        where, what = _BETWEEN.join(networks), _BETWEEN.join(plans)
        rows.append((host.name, host.mail, host.department, host.lang, where, what, longest, at_once))
    return csv_answer("hosts.csv", HEADINGS, rows)


@router.post("/hosts/lines")
async def take_lines(actor: Configures, office: TheOffice, wanted: ListText) -> LinesTaken:
    """Good lines are taken in, and change a host whose address is there; bad ones come back, and none is lost."""
    return await take_in(office, actor, wanted.text, _Hosts())


class _Hosts:
    """A line for each host, known again by its mail address."""

    def known(self, config: Config) -> Mapping[str, int]:
        return {host.mail.casefold(): host.id for host in config.hosts.values()}

    def read(self, config: Config, line: str) -> Entry[models.HostIn] | None:
        wanted = _read_line(config, line)
        return None if wanted is None else Entry(wanted.mail.casefold(), wanted.mail, wanted)

    def save(self, tx: Tx, wanted: models.HostIn, there: int) -> None:
        save_host(tx, _read(there, wanted))


def _read_line(config: Config, line: str) -> models.HostIn | None:
    """None of a line of headings."""
    cells = [undefused(cell) for cell in cells_of(line)]
    if [cell.lower() for cell in cells[:2]] == ["name", "mail"]:
        return None
    if not 2 <= len(cells) <= len(HEADINGS):
        raise Invalid("line", field="text", mend=f"{', '.join(HEADINGS)}; the first two are needed.")
    cells += [""] * (len(HEADINGS) - len(cells))
    networks = {network.name: network.id for network in config.networks.values()}
    plans = {plan.name: plan.id for plan in config.offered_plans}
    name, mail, department, lang = cells[:4]
    if lang not in ("", "en", "de"):
        raise Invalid("host_lang", field="text", mend=f"{lang[:20]} is no language of ours: en or de.")
    return models.HostIn(
        name=_text(name, "name", 60),
        mail=_text(mail, "mail address", 254),
        department=department[:60],
        lang="de" if lang == "de" else "en",
        networks=_ids(cells[4], networks, "network"),
        plans=_ids(cells[5], plans, "plan"),
        longest_minutes=_number(cells[6], 5, 366 * 1440),
        at_once=_number(cells[7], 1, 500),
    )


def _text(text: str, what: str, longest: int) -> str:
    if not 3 <= len(text) <= longest:
        raise Invalid("line", field="text", mend=f"A {what} of 3 to {longest} letters.")
    return text


def _ids(text: str, known: dict[str, NetworkId] | dict[str, PlanId], what: str) -> list[int]:
    names = [part.strip() for part in text.split("|") if part.strip()]
    for name in names:
        if name not in known:
            raise Invalid("line", field="text", mend=f"There is no {what} {name[:40]}.")
    return [int(known[name]) for name in names]


def _number(text: str, least: int, most: int) -> int | None:
    if not text:
        return None
    if not (text.isascii() and text.isdecimal() and len(text) < 9 and least <= int(text) <= most):
        raise Invalid("line", field="text", mend=f"{text[:20]} is no number from {least} to {most}.")
    return int(text)


def _read(number: int, wanted: models.HostIn) -> Host:
    return Host(
        HostId(number), wanted.name, wanted.mail, wanted.department, wanted.lang,
        tuple(map(NetworkId, wanted.networks)), tuple(map(PlanId, wanted.plans)),
        wanted.longest_minutes, wanted.at_once,
    )  # fmt: skip


async def _save(office: Office, actor: Actor, wanted: Host) -> models.HostOut:
    saved = await office.road.act(configured(lambda tx: save_host(tx, wanted)), by=actor)
    found = office.config.hosts.get(saved)
    if found is None:
        raise NotThere("host")
    return host_out(found, office.config)
