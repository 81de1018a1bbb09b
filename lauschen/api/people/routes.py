"""People of the console: added with a first password, given another duty, signed out, removed."""

import secrets

from fastapi import APIRouter

from lauschen.acts.config import people as people_acts
from lauschen.api.door.asking import Configures, Id, Inspects, TheOffice
from lauschen.api.door.office import Office
from lauschen.api.people.models import DutyIn, FirstPassword, PersonIn, PersonOut
from lauschen.core.actor import Actor
from lauschen.core.errors import NotThere
from lauschen.core.ids import StaffId
from lauschen.core.people.duties import Duty
from lauschen.serve.first_run import FIRST_PASSWORD_S, forget_first_sign_in
from lauschen.store import staff
from lauschen.store.staff import StaffMember

router = APIRouter(tags=["people"])
_MAY = {
    Duty.ADMINISTRATOR: "Sets up the house, issues, and helps guests.",
    Duty.DESK: "Issues to guests and helps them; sees nothing of how the house is set up.",
    Duty.AUDITOR: "Sees everything, and changes nothing.",
}


@router.get("/people")
async def people(actor: Inspects, office: TheOffice) -> list[PersonOut]:
    """By name."""
    return [_shown(office, actor, one) for one in staff.all_staff(office.reader)]


@router.post("/people", status_code=201)
async def add(actor: Configures, office: TheOffice, wanted: PersonIn) -> FirstPassword:
    """They sign in with the password that is shown this once, and then choose their own."""
    password, name = secrets.token_urlsafe(12), " ".join(wanted.name.split())
    hashed = await office.passwords.hash(password)
    made = await office.road.act(
        lambda tx: people_acts.add_person(tx, name, wanted.duty, hashed, good_for_s=FIRST_PASSWORD_S),
        by=actor,
    )
    return FirstPassword(person=_one(office, actor, made), password=password)


@router.put("/people/{person}")
async def change(actor: Configures, office: TheOffice, person: Id, wanted: DutyIn) -> PersonOut:
    """Another duty, from their next request on."""
    one = StaffId(person)
    await office.road.act(lambda tx: people_acts.set_duty(tx, one, wanted.duty), by=actor)
    return _one(office, actor, one)


@router.post("/people/{person}/password")
async def first_password(actor: Configures, office: TheOffice, person: Id) -> FirstPassword:
    """Another first password, for who forgot theirs; they are signed out everywhere."""
    one, password = StaffId(person), secrets.token_urlsafe(12)
    name = _one(office, actor, one).name
    hashed = await office.passwords.hash(password)
    await office.road.act(
        lambda tx: people_acts.put_first_password(tx, name, hashed, good_for_s=FIRST_PASSWORD_S), by=actor
    )
    forget_first_sign_in(office.database.parent, name)
    return FirstPassword(person=_one(office, actor, one), password=password)


@router.post("/people/{person}/sign-out", status_code=204)
async def sign_out(actor: Configures, office: TheOffice, person: Id) -> None:
    """Everywhere, live views with it."""
    one = StaffId(person)
    await office.road.act(lambda tx: people_acts.end_sessions(tx, one), by=actor)


@router.delete("/people/{person}", status_code=204)
async def remove(actor: Configures, office: TheOffice, person: Id) -> None:
    """Signed out at once; what they did keeps their name."""
    one = StaffId(person)
    await office.road.act(lambda tx: people_acts.remove_person(tx, one), by=actor)


def _one(office: Office, actor: Actor, person: StaffId) -> PersonOut:
    found = staff.get_staff(office.reader, person)
    if found is None:
        raise NotThere("person")
    return _shown(office, actor, found)


def _shown(office: Office, actor: Actor, found: StaffMember) -> PersonOut:
    return PersonOut(
        name=found.name,
        duty=found.duty,
        id=found.id,
        may=_MAY[found.duty],
        is_you=found.id == actor.staff,
        waits=found.must_change,
        sessions=staff.count_sessions(office.reader, found.id, office.road.clock.now()),
    )
