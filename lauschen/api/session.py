"""Signing in and out, and changing a password."""

from typing import TYPE_CHECKING

from fastapi import APIRouter, Request, Response

from lauschen.api.auth import COOKIE, SESSION_S
from lauschen.api.deps import the_office
from lauschen.api.models import NewPassword, Session, SignIn
from lauschen.core.errors import Invalid
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
    client = request.client.host if request.client else ""
    token, csrf = await office.gate.sign_in(given.name, given.password, member, client)
    _set_cookie(request, response, token)
    return _session(office, given.name, bool(member and member.must_change), csrf)


@router.delete("/session", status_code=204)
async def sign_out(request: Request, response: Response) -> None:
    office = await the_office(request)
    office.gate.session(request)
    token = request.cookies.get(COOKIE, "")
    await office.road.act(lambda tx: staff.end_session(tx.conn, token))
    response.delete_cookie(COOKIE)


@router.post("/password")
async def change_password(request: Request, response: Response, given: NewPassword) -> Session:
    """Ends all other sessions of this person."""
    office = await the_office(request)
    found = office.gate.session(request)
    if given.new == given.old:
        raise Invalid("password_same", field="new", mend="Choose one that differs from the old one.")
    member = staff.find_staff(office.reader, found.name)
    if not await office.passwords.matches(member, given.old):
        raise Invalid("password_wrong", field="old", mend="The old password is not right.")
    hashed = await office.passwords.hash(given.new)
    await office.road.act(lambda tx: staff.set_password(tx.conn, found.staff, hashed))
    client = request.client.host if request.client else ""
    token, csrf = await office.gate.sign_in(
        found.name, given.new, staff.find_staff(office.reader, found.name), client
    )
    _set_cookie(request, response, token)
    return _session(office, found.name, False, csrf)


def _set_cookie(request: Request, response: Response, token: str) -> None:
    response.set_cookie(
        COOKIE,
        token,
        max_age=SESSION_S,
        httponly=True,
        samesite="strict",
        secure=request.url.scheme == "https",
    )


def _session(office: "Office", name: str, must_change: bool, csrf: str) -> Session:
    house = office.road.house
    return Session(name=name, must_change=must_change, csrf=csrf, site=house.site_name, zone=house.zone.key)
