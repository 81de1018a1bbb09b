"""Programs that speak to this API by a token."""

import secrets

from fastapi import APIRouter

from lauschen.acts.people import programs as acts
from lauschen.api.door.asking import Configures, Id, Inspects, NeedFirst, TheOffice
from lauschen.api.door.office import Office
from lauschen.api.people.models import LimitsIn, NewToken, ProgramChange, ProgramIn, ProgramOut, TokenOut
from lauschen.core.errors import NotThere
from lauschen.core.ids import StaffId
from lauschen.core.people.limits import limits_words
from lauschen.store.people import programs
from lauschen.store.people.programs import Program

router = APIRouter(tags=["programs"], route_class=NeedFirst)
MARK = "lau_"
"""What every token begins with, so that one that was left lying about is known for what it is."""
DAY_S = 86_400.0


@router.get("/programs")
async def read_programs(_: Inspects, office: TheOffice) -> list[ProgramOut]:
    """By name."""
    return [_shown(office, one) for one in programs.all_programs(office.reader)]


@router.post("/programs", status_code=201)
async def add(actor: Configures, office: TheOffice, wanted: ProgramIn) -> TokenOut:
    """With a token that is shown this once."""
    token, until = _new(office, wanted.days)
    name, limits = " ".join(wanted.name.split()), wanted.limits.read()
    made = await office.road.act(
        lambda tx: acts.add_program(tx, name, wanted.duty, limits, token, until), by=actor
    )
    return TokenOut(program=_one(office, made), token=token)


@router.put("/programs/{program}")
async def change(actor: Configures, office: TheOffice, program: Id, wanted: ProgramChange) -> ProgramOut:
    """Another duty, other limits, from its next request on."""
    one, limits = StaffId(program), wanted.limits.read()
    await office.road.act(lambda tx: acts.change_program(tx, one, wanted.duty, limits), by=actor)
    return _one(office, one)


@router.post("/programs/{program}/token")
async def renew(actor: Configures, office: TheOffice, program: Id, wanted: NewToken) -> TokenOut:
    """Another token, shown this once; the one before is good no more."""
    one = StaffId(program)
    token, until = _new(office, wanted.days)
    await office.road.act(lambda tx: acts.renew_token(tx, one, token, until), by=actor)
    return TokenOut(program=_one(office, one), token=token)


@router.delete("/programs/{program}", status_code=204)
async def remove(actor: Configures, office: TheOffice, program: Id) -> None:
    """Its token is good no more, at once."""
    one = StaffId(program)
    await office.road.act(lambda tx: acts.remove_program(tx, one), by=actor)


def _new(office: Office, days: int | None) -> tuple[str, float | None]:
    until = None if days is None else office.road.clock.now() + days * DAY_S
    return MARK + secrets.token_urlsafe(32), until


def _one(office: Office, program: StaffId) -> ProgramOut:
    found = next((one for one in programs.all_programs(office.reader) if one.id == program), None)
    if found is None:
        raise NotThere("program")
    return _shown(office, found)


def _shown(office: Office, found: Program) -> ProgramOut:
    return ProgramOut(
        id=found.id,
        name=found.name,
        duty=found.duty,
        limits=LimitsIn.of(found.limits),
        bounds=limits_words(found.limits, office.config),
        until=found.until,
        used=found.used,
    )
