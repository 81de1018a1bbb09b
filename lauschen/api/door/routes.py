"""Signing in and out, and changing a password."""

from fastapi import APIRouter, Request, Response

from lauschen.api.door.asking import Anybody, Session, TheOffice, TheSession
from lauschen.api.door.gate import forget_session, session_token, set_session
from lauschen.api.door.models import NewPassword, SignIn
from lauschen.api.door.models import Session as SessionOut
from lauschen.api.door.office import Office
from lauschen.core.errors import Invalid
from lauschen.core.people.duties import MAY, Duty, Need
from lauschen.road.tx import Tx
from lauschen.serve.first_run import forget_first_sign_in
from lauschen.store import staff

router = APIRouter(tags=["session"])


@router.get("/session")
async def who(_: Session, session: TheSession, office: TheOffice) -> SessionOut:
    return _session(office, session.name, session.duty, session.csrf, must_change=session.must_change)


@router.post("/session")
async def sign_in(
    _: Anybody, office: TheOffice, request: Request, response: Response, given: SignIn
) -> SessionOut:
    member = staff.find_staff(office.reader, given.name)
    found, token, csrf = await office.gate.sign_in(given.name, given.password, member, _client(request))
    set_session(request, response, token)
    return _session(office, found.name, found.duty, csrf, must_change=found.must_change)


@router.delete("/session", status_code=204)
async def sign_out(actor: Session, office: TheOffice, request: Request, response: Response) -> None:
    token = session_token(request)
    await office.road.act(lambda tx: staff.end_session(tx.conn, token), by=actor, keeps_facts=True)
    forget_session(request, response)


@router.post("/password")
async def change_password(
    actor: Session,
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
    client = _client(request)
    if member is None or not await office.gate.knows(member, session.name, given.old, client):
        raise Invalid("password_wrong", field="old", mend="The old password is not right.")
    hashed = await office.passwords.hash(given.new)

    def change(tx: Tx) -> None:
        staff.set_password(tx.conn, session.staff, hashed)
        tx.log("password_changed")

    await office.road.act(change, by=actor, keeps_facts=True)
    forget_first_sign_in(office.database.parent, session.name)
    token, csrf = await office.gate.begin_session(member, client)
    set_session(request, response, token)
    return _session(office, session.name, session.duty, csrf, must_change=False)


def _client(request: Request) -> str:
    return request.client.host if request.client else ""


def _session(office: Office, name: str, duty: Duty, csrf: str, *, must_change: bool) -> SessionOut:
    house = office.house
    return SessionOut(
        name=name,
        must_change=must_change,
        csrf=csrf,
        site=house.site_name,
        zone=house.zone.key,
        duty=duty,
        may=[need for need in Need if need in MAY[duty]],
    )
