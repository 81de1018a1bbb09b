"""Signing in and out, and changing a password."""

import json

from fastapi import APIRouter, Request, Response

from lauschen.acts.people import inviting
from lauschen.acts.people.proving import still_proved
from lauschen.api.door.asking import Anybody, Looks, NeedFirst, Session, TheOffice, TheSession
from lauschen.api.door.gate import client_of, forget_session, session_token, set_session
from lauschen.api.door.models import Accepted, Invited, NewPassword, SignIn
from lauschen.api.door.models import Session as SessionOut
from lauschen.api.door.office import Office
from lauschen.core.actor import person
from lauschen.core.errors import Invalid
from lauschen.core.people.duties import MAY, Need
from lauschen.core.people.limits import limits_words
from lauschen.road.tx import Tx
from lauschen.store.first_sign_in import forget_first_sign_in
from lauschen.store.people import invitations, second_factor, sessions, staff
from lauschen.store.people.sessions import StaffSession

router = APIRouter(tags=["session"], route_class=NeedFirst)


@router.get("/session")
async def who(_: Session, session: TheSession, office: TheOffice) -> SessionOut:
    return _shown(office, session)


@router.post("/session")
async def sign_in(
    _: Anybody, office: TheOffice, request: Request, response: Response, given: SignIn
) -> SessionOut:
    member = staff.find_staff(office.reader, given.name)
    token = await office.gate.sign_in(given.name, given.password, given.code, member, request)
    return _begun(office, request, response, token)


@router.post("/invitations")
async def accept_invitation(_: Anybody, office: TheOffice, request: Request, given: Invited) -> Accepted:
    """The password that somebody chooses by the link in their mail; then they sign in with it."""
    invited = invitations.find(office.reader, given.token, office.road.clock.now())
    if invited is None:
        raise inviting.over()
    hashed = await office.passwords.hash(given.new)
    name = await office.road.act(
        lambda tx: inviting.accept(tx, given.token, hashed), by=person(invited, client_of(request))
    )
    return Accepted(name=name)


@router.get("/openapi.json", include_in_schema=False)
async def description(_: Looks, request: Request) -> Response:
    """Written once: making its octets holds the loop for tenths of a second."""
    kept: bytes | None = getattr(request.app.state, "description", None)
    if kept is None:
        kept = json.dumps(request.app.openapi()).encode()
        request.app.state.description = kept
    return Response(kept, media_type="application/json")


@router.delete("/session", status_code=204)
async def sign_out(actor: Session, office: TheOffice, request: Request, response: Response) -> None:
    token = session_token(request)
    await office.road.act(lambda tx: sessions.end_session(tx.conn, token), by=actor)
    forget_session(request, response)


@router.post("/password")
async def change_password(
    _: Session,
    session: TheSession,
    office: TheOffice,
    request: Request,
    response: Response,
    given: NewPassword,
) -> SessionOut:
    """Ends all other sessions of this person."""
    if given.new == given.old:
        raise Invalid("password_same", field="new", mend="Choose one that differs from the old one.")
    member = staff.find_staff(office.reader, session.name)
    if member is None or not await office.gate.knows(member, session.name, given.old, client_of(request)):
        raise Invalid("password_wrong", field="old", mend="The old password is not right.")
    hashed = await office.passwords.hash(given.new)

    def change(tx: Tx) -> None:
        still_proved(tx, member, "old")
        staff.set_password(tx.conn, session.staff, hashed)
        tx.log("password_changed")

    token = await office.gate.begin_session(member.id, request, change)
    forget_first_sign_in(office.database.parent, session.name)
    return _begun(office, request, response, token)


def _begun(office: Office, request: Request, response: Response, token: str) -> SessionOut:
    set_session(request, response, token)
    session = sessions.find_session(office.reader, token, office.road.clock.now())
    assert session is not None
    return _shown(office, session)


def _shown(office: Office, session: StaffSession) -> SessionOut:
    config = office.config
    return SessionOut(
        name=session.name,
        must_change=session.must_change,
        csrf=session.csrf,
        site=config.site_name,
        zone=config.zone.key,
        duty=session.duty,
        may=[need for need in Need if need in MAY[session.duty]],
        has_second=second_factor.find(office.reader, office.road.keys, session.staff) is not None,
        bounds=limits_words(session.limits, config),
    )
