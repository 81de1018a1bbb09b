"""Signing in and out, and changing a password."""

from typing import TYPE_CHECKING

from fastapi import APIRouter, Request, Response

from lauschen.api.door.asking import the_office
from lauschen.api.door.auth import forget_session, session_token, set_session
from lauschen.api.models import NewPassword, Session, SignIn
from lauschen.core.errors import Invalid
from lauschen.road.tx import Tx
from lauschen.serve.first_run import forget_first_sign_in
from lauschen.store import staff

if TYPE_CHECKING:
    from lauschen.api.app import Office

router = APIRouter(tags=["session"])


@router.get("/session")
async def who(request: Request) -> Session:
    office = await the_office(request)
    found = office.gate.session(request)
    return _session(office, found.name, found.must_change, found.csrf)


@router.post("/session")
async def sign_in(request: Request, response: Response, given: SignIn) -> Session:
    office = await the_office(request)
    member = staff.find_staff(office.reader, given.name)
    token, csrf = await office.gate.sign_in(given.name, given.password, member, _client(request))
    set_session(request, response, token)
    return _session(office, given.name, bool(member and member.must_change), csrf)


@router.delete("/session", status_code=204)
async def sign_out(request: Request, response: Response) -> None:
    office = await the_office(request)
    office.gate.session(request)
    token = session_token(request)
    await office.road.act(lambda tx: staff.end_session(tx.conn, token), keeps_facts=True)
    forget_session(request, response)


@router.post("/password")
async def change_password(request: Request, response: Response, given: NewPassword) -> Session:
    """Ends all other sessions of this person."""
    office = await the_office(request)
    found = office.gate.session(request)
    if given.new == given.old:
        raise Invalid("password_same", field="new", mend="Choose one that differs from the old one.")
    member = staff.find_staff(office.reader, found.name)
    client = _client(request)
    if member is None or not await office.gate.knows(member, found.name, given.old, client):
        raise Invalid("password_wrong", field="old", mend="The old password is not right.")
    hashed = await office.passwords.hash(given.new)

    def change(tx: Tx) -> None:
        staff.set_password(tx.conn, found.staff, hashed)
        tx.hear("password_changed", staff=found.staff)

    await office.road.act(change, keeps_facts=True)
    forget_first_sign_in(office.database.parent, found.name)
    token, csrf = await office.gate.begin_session(member, client)
    set_session(request, response, token)
    return _session(office, found.name, False, csrf)


def _client(request: Request) -> str:
    return request.client.host if request.client else ""


def _session(office: "Office", name: str, must_change: bool, csrf: str) -> Session:
    house = office.road.house
    return Session(name=name, must_change=must_change, csrf=csrf, site=house.site_name, zone=house.zone.key)
