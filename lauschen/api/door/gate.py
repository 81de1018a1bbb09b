"""Staff sign-in: Argon2id off the loop, a session cookie, and a CSRF value on every change."""

import secrets
from collections.abc import Callable
from dataclasses import dataclass

from fastapi import Request, Response

from lauschen.api.door.tries import SignInTries
from lauschen.core.actor import person
from lauschen.core.errors import Invalid, LauschenError
from lauschen.proofs.passwords import Passwords
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store import staff
from lauschen.store.staff import StaffMember, StaffSession

CSRF_HEADER = "X-Lauschen-Form"
SESSION_S = 12 * 3600


class SignInNeeded(LauschenError):
    """Nobody is signed in, or the password must be changed first."""

    def __init__(self, code: str, mend: str) -> None:
        super().__init__(mend)
        self.code = code
        self.mend = mend


class NotFromHere(LauschenError):
    """A change without the CSRF value of its session."""


@dataclass(slots=True)
class Gate:
    """Who is asking, and may they."""

    road: Road
    find: Callable[[str, float], StaffSession | None]
    passwords: Passwords
    tries: SignInTries

    def signed_in(self, request: Request) -> StaffSession:
        """The session of a request; for a change, with its CSRF value."""
        session = self.session(request)
        if session.must_change:
            raise SignInNeeded("password_must_change", "Choose a password of your own first.")
        return session

    def session(self, request: Request) -> StaffSession:
        """Like `signed_in`, also while the first password waits to be changed."""
        session = self.of(session_token(request))
        if session is None:
            raise SignInNeeded("sign_in_needed", "Sign in first.")
        if request.method not in ("GET", "HEAD"):
            given = request.headers.get(CSRF_HEADER, "")
            if not secrets.compare_digest(given.encode(), session.csrf.encode()):
                raise NotFromHere("The change did not come from this console. Load the page again.")
        return session

    def of(self, token: str) -> StaffSession | None:
        """The session that a cookie stands for now."""
        return self.find(token, self.road.clock.now())

    async def knows(self, member: StaffMember | None, name: str, password: str, client: str) -> bool:
        """Whether a password is right; a wrong one is counted and logged, from the moment it is asked about."""
        guess = self.tries.begin(name, client, self.road.clock.now())
        await self.road.clock.sleep(guess.wait_s)
        if await self.passwords.matches(member.password_hash if member else None, password):
            self.tries.was_right(guess)
            return True
        whose = person(member.id) if member is not None else None
        await self.road.act(
            lambda tx: tx.log("sign_in_refused", facts={"from": client}), by=whose, keeps_facts=True
        )
        return False

    async def sign_in(
        self, name: str, password: str, member: StaffMember | None, client: str
    ) -> tuple[StaffMember, str, str]:
        """Who it is, with a new session's token and CSRF value; Invalid when name or password are wrong."""
        if not await self.knows(member, name, password, client) or member is None:
            raise Invalid("sign_in_wrong", field="password", mend="Name and password do not go together.")
        if member.password_until is not None and self.road.clock.now() > member.password_until:
            raise Invalid(
                "password_too_old",
                field="password",
                mend="The first password was good for a day. `lauschen staff password` sets another one.",
            )
        return member, *await self.begin_session(member, client)

    async def begin_session(self, member: StaffMember, client: str) -> tuple[str, str]:
        """For somebody who has just proved who they are."""
        token, csrf = secrets.token_urlsafe(24), secrets.token_urlsafe(18)

        def begin(tx: Tx) -> None:
            staff.add_session(tx.conn, token, member.id, csrf=csrf, expires=tx.now + SESSION_S)
            tx.log("signed_in", facts={"from": client})

        await self.road.act(begin, by=person(member.id), keeps_facts=True)
        return token, csrf


def _is_secure(request: Request) -> bool:
    return request.url.scheme == "https"


def _cookie_name(request: Request) -> str:
    # Over TLS no other host can set it, and the guest page (plain http on the same host) never gets it. Without TLS
    # its path keeps it from there: the guest page has nothing under /api.
    return "__Host-lauschen-office" if _is_secure(request) else "lauschen-office"


def session_token(request: Request) -> str:
    """The cookie of a request, or nothing."""
    return request.cookies.get(_cookie_name(request), "")


def set_session(request: Request, response: Response, token: str) -> None:
    response.set_cookie(
        _cookie_name(request),
        token,
        max_age=SESSION_S,
        httponly=True,
        samesite="strict",
        secure=_is_secure(request),
        path=_path(request),
    )


def forget_session(request: Request, response: Response) -> None:
    response.delete_cookie(
        _cookie_name(request),
        path=_path(request),
        secure=_is_secure(request),
        httponly=True,
        samesite="strict",
    )


def _path(request: Request) -> str:
    return "/" if _is_secure(request) else "/api"  # `__Host-` demands the root
