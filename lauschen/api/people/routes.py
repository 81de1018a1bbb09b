"""People of the console: added or invited, given another duty, bounded, signed out, removed."""

import secrets

from fastapi import APIRouter, Request

from lauschen.acts.people import inviting, second
from lauschen.acts.people import people as people_acts
from lauschen.api.door.asking import Configures, Id, Inspects, NeedFirst, TheOffice
from lauschen.api.door.gate import session_token
from lauschen.api.door.office import Office
from lauschen.api.people.models import (
    DutyIn,
    FirstPassword,
    InviteAgain,
    LimitsIn,
    PersonIn,
    PersonOut,
    SessionOut,
)
from lauschen.core.actor import Actor
from lauschen.core.errors import NotThere
from lauschen.core.ids import StaffId
from lauschen.core.people.duties import SAYS
from lauschen.core.people.limits import limits_words
from lauschen.core.words.addresses import read_mail
from lauschen.road.tx import Tx
from lauschen.store.first_sign_in import FIRST_PASSWORD_S, forget_first_sign_in
from lauschen.store.people import sessions, staff
from lauschen.store.people.staff import StaffMember

router = APIRouter(tags=["people"], route_class=NeedFirst)


@router.get("/people")
async def people(actor: Inspects, office: TheOffice) -> list[PersonOut]:
    """By name."""
    return [_shown(office, actor, one) for one in staff.all_staff(office.reader)]


@router.post("/people", status_code=201)
async def add(actor: Configures, office: TheOffice, request: Request, wanted: PersonIn) -> FirstPassword:
    """They choose a password by a link in a mail or, without an address, sign in with one that is shown this once."""
    password, token = secrets.token_urlsafe(12), secrets.token_urlsafe(24)
    name = " ".join(wanted.name.split())
    mail = read_mail(wanted.mail, "mail") if wanted.mail.strip() else ""
    hashed = await office.passwords.hash(password)

    def make(tx: Tx) -> StaffId:
        made = people_acts.add_person(
            tx, name, wanted.duty, hashed, good_for_s=FIRST_PASSWORD_S, limits=wanted.limits.read()
        )
        if mail:
            inviting.invite(tx, made, mail, wanted.lang, _link(request, token), token)
        return made

    made = await office.road.act(make, by=actor)
    return FirstPassword(person=_one(office, actor, made), password=None if mail else password)


@router.put("/people/{person}")
async def change(actor: Configures, office: TheOffice, person: Id, wanted: DutyIn) -> PersonOut:
    """Another duty, other limits, from their next request on."""
    one, limits = StaffId(person), wanted.limits.read()
    await office.road.act(lambda tx: people_acts.change_person(tx, one, wanted.duty, limits), by=actor)
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


@router.post("/people/{person}/invite")
async def invite(
    actor: Configures, office: TheOffice, request: Request, person: Id, wanted: InviteAgain
) -> PersonOut:
    """A link by mail, by which they choose a password; the link before is good no more."""
    one, token = StaffId(person), secrets.token_urlsafe(24)
    mail, link = read_mail(wanted.mail, "mail"), _link(request, token)
    await office.road.act(lambda tx: inviting.invite(tx, one, mail, wanted.lang, link, token), by=actor)
    return _one(office, actor, one)


@router.delete("/people/{person}/second", status_code=204)
async def forget_second(actor: Configures, office: TheOffice, person: Id) -> None:
    """For who lost their phone and their recovery codes: their password alone lets them in again."""
    one = StaffId(person)
    await office.road.act(lambda tx: second.turn_off(tx, one), by=actor)


@router.get("/people/{person}/sessions")
async def their_sessions(_: Inspects, office: TheOffice, request: Request, person: Id) -> list[SessionOut]:
    """Browsers at which somebody is signed in, newest first."""
    return sessions_out(office, StaffId(person), request)


@router.delete("/people/{person}/sessions/{session}", status_code=204)
async def end_session(actor: Configures, office: TheOffice, person: Id, session: str) -> None:
    """One browser of theirs, live views with it."""
    one = StaffId(person)
    await office.road.act(lambda tx: people_acts.end_one_session(tx, one, session), by=actor)


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


def sessions_out(office: Office, person: StaffId, request: Request) -> list[SessionOut]:
    this = sessions.name_of(session_token(request))
    return [
        SessionOut(
            id=one.id, begun=one.begun, expires=one.expires, source=one.source, browser=one.browser,
            is_this=one.id == this,
        )
        for one in sessions.sessions_of(office.reader, person, office.road.clock.now())
    ]  # fmt: skip


def _link(request: Request, token: str) -> str:
    # The host is one of those that the console is served under (rulings 6.3). What follows # never leaves a browser.
    return f"{request.url.scheme}://{request.headers['host']}/invited#{token}"


def _one(office: Office, actor: Actor, person: StaffId) -> PersonOut:
    found = staff.get_staff(office.reader, person)
    if found is None:
        raise NotThere("person")
    return _shown(office, actor, found)


def _shown(office: Office, actor: Actor, found: StaffMember) -> PersonOut:
    return PersonOut(
        name=found.name,
        duty=found.duty,
        limits=LimitsIn.of(found.limits),
        id=found.id,
        mail=found.mail,
        may=SAYS[found.duty],
        bounds=limits_words(found.limits, office.config),
        is_you=found.id == actor.staff,
        waits=found.must_change,
        has_second=found.has_second,
        sessions=len(sessions.sessions_of(office.reader, found.id, office.road.clock.now())),
    )
