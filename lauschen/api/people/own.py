"""What everybody does for themselves: their sessions, and their second factor."""

import io

import segno
from fastapi import APIRouter, Request

from lauschen.acts.people import people as people_acts
from lauschen.acts.people import second
from lauschen.acts.people.digits import address_of, new_secret
from lauschen.acts.people.proving import still_proved
from lauschen.api.door.asking import NeedFirst, Session, TheOffice, TheSession
from lauschen.api.door.gate import client_of, session_token
from lauschen.api.door.office import Office
from lauschen.api.people.models import PasswordProof, RecoveryCodes, SecondBegun, SecondProof, SessionOut
from lauschen.api.people.routes import sessions_out
from lauschen.core.errors import Invalid
from lauschen.road.tx import Tx
from lauschen.store.people import staff
from lauschen.store.people.sessions import StaffSession
from lauschen.store.people.staff import StaffMember

router = APIRouter(tags=["people"], route_class=NeedFirst)


@router.get("/own/sessions")
async def own_sessions(
    _: Session, session: TheSession, office: TheOffice, request: Request
) -> list[SessionOut]:
    """Where I am signed in, newest first."""
    return sessions_out(office, session.staff, request)


@router.delete("/own/sessions/{other}", status_code=204)
async def end_own_session(actor: Session, session: TheSession, office: TheOffice, other: str) -> None:
    """One of my browsers."""
    await office.road.act(lambda tx: people_acts.end_one_session(tx, session.staff, other), by=actor)


@router.get("/own/second")
async def begin_second(_: Session, session: TheSession, office: TheOffice) -> SecondBegun:
    """A secret to scan; nothing is kept until a code proves that it was."""
    secret = new_secret()
    address = address_of(secret, session.name, office.config.site_name)
    svg = io.BytesIO()
    code = segno.make(address, error="m", micro=False)
    code.save(svg, kind="svg", border=2)
    return SecondBegun(secret=secret, address=address, qr=code.svg_data_uri(border=2))


@router.put("/own/second")
async def turn_second_on(
    actor: Session, session: TheSession, office: TheOffice, request: Request, given: SecondProof
) -> RecoveryCodes:
    """A code is asked for, too, from the next sign-in on. Other browsers are signed out. By password, as below."""
    member = await _prove(office, session, given.password, client_of(request))
    here = session_token(request)
    codes = await office.road.act(
        lambda tx: second.turn_on(tx, member, given.secret, given.code, here), by=actor
    )
    return RecoveryCodes(codes=codes)


@router.post("/own/second/off", status_code=204)
async def turn_second_off(
    actor: Session, session: TheSession, office: TheOffice, request: Request, given: PasswordProof
) -> None:
    """With the password: whoever finds an open browser neither takes it away nor puts in their own."""
    member = await _prove(office, session, given.password, client_of(request))

    def turn_off(tx: Tx) -> None:
        second.turn_off(tx, still_proved(tx, member, "password").id)

    await office.road.act(turn_off, by=actor)


async def _prove(office: Office, session: StaffSession, password: str, client: str) -> StaffMember:
    member = staff.find_staff(office.reader, session.name)
    if member is None or not await office.gate.knows(member, session.name, password, client):
        raise Invalid("password_wrong", field="password", mend="The password is not right.")
    return member
