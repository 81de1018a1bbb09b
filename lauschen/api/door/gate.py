"""Staff sign-in: Argon2id off the loop, a session cookie, and a CSRF value on every change; programs have a token."""

import secrets
from collections.abc import Callable
from dataclasses import dataclass, field
from urllib.parse import urlsplit

from fastapi import Request, Response

from lauschen.acts.people import second
from lauschen.acts.people.proving import still_proved, wrong
from lauschen.acts.people.trying import trying
from lauschen.api.door.tries import SignInTries
from lauschen.core.actor import person, program
from lauschen.core.errors import Invalid, LauschenError
from lauschen.core.ids import StaffId
from lauschen.proofs.passwords import Passwords
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store.log import Facts
from lauschen.store.people import programs, sessions
from lauschen.store.people.attempts import Attempt
from lauschen.store.people.sessions import StaffSession
from lauschen.store.people.staff import StaffMember

CSRF_HEADER = "X-Lauschen-Form"
SESSION_S = 12 * 3600
BEARER = "Bearer "
LONGEST_BROWSER = 160
NOTED_AGAIN_S = 3600.0
"""When a program asked last is written down so seldom."""


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
    find_program: Callable[[str, float], StaffSession | None]
    passwords: Passwords
    tries: SignInTries
    _noted: dict[StaffId, float] = field(default_factory=dict)

    def signed_in(self, request: Request) -> StaffSession:
        """The session of a request; for a change, with its CSRF value."""
        session = self.session(request)
        if session.must_change:
            raise SignInNeeded("password_must_change", "Choose a password of your own first.")
        return session

    def session(self, request: Request) -> StaffSession:
        """Like `signed_in`, also while the first password waits to be changed."""
        session = self.of(request)
        if session is None:
            raise SignInNeeded("sign_in_needed", "Sign in first.")
        # No browser sends a token by itself, so a program needs no CSRF value.
        if request.method not in ("GET", "HEAD") and not session.is_program:
            origin = request.headers.get("origin")
            if origin is not None and urlsplit(origin).netloc != request.headers.get("host", ""):
                raise NotFromHere("The change came from another site. Load the page again.")
            given = request.headers.get(CSRF_HEADER, "")
            if not secrets.compare_digest(given.encode(), session.csrf.encode()):
                raise NotFromHere("The change did not come from this console. Load the page again.")
        return session

    def of(self, request: Request) -> StaffSession | None:
        """Whom a request's token or cookie stands for now."""
        said, now = request.headers.get("authorization"), self.road.clock.now()
        if said is not None:
            return self.find_program(said[len(BEARER) :], now) if said.startswith(BEARER) else None
        return self.find(session_token(request), now)

    async def note_program(self, asking: StaffId) -> None:
        """Writes down that a program asked, now and then."""
        now = self.road.clock.now()
        if now - self._noted.get(asking, float("-inf")) < NOTED_AGAIN_S:
            return
        self._noted[asking] = now
        await self.road.act(lambda tx: programs.note_use(tx.conn, asking, tx.now), by=program(asking))

    async def knows(self, member: StaffMember | None, name: str, password: str, client: str) -> bool:
        """Whether a password is right; a wrong one is counted and logged, from the moment it is asked about."""
        guess = self.tries.begin(name, client, self.road.clock.monotonic())
        await self.road.clock.sleep(guess.wait_s)
        if await self.passwords.matches(member.password_hash if member else None, password):
            self.tries.was_right(guess)
            return True
        await self._note_refused(member, client, {})
        return False

    async def _note_refused(self, member: StaffMember | None, client: str, more: Facts) -> None:
        whose = person(member.id, client) if member is not None else None
        await self.road.act(lambda tx: tx.log("sign_in_refused", facts={"from": client, **more}), by=whose)

    async def sign_in(
        self, name: str, password: str, code: str, member: StaffMember | None, request: Request
    ) -> str:
        """A new session's token; Invalid when one of the three is wrong.

        Whether a code is needed is said to whoever knows the password, and to nobody else.
        """
        client = client_of(request)
        if not await self.knows(member, name, password, client) or member is None:
            raise wrong("password")
        if member.password_until is not None and self.road.clock.now() > member.password_until:
            raise Invalid(
                "password_too_old",
                field="password",
                mend="The first password was good for a day. An administrator gives another one.",
            )
        if not (member.has_second and code.strip()):
            return await self.begin_session(member.id, request, lambda tx: _by_password(tx, member))
        guess = self.tries.begin(name, client, self.road.clock.monotonic())
        await self.road.clock.sleep(guess.wait_s)
        try:
            async with trying(self.road, person(member.id, client), Attempt.SECOND_FACTOR):
                made = await self.begin_session(member.id, request, lambda tx: _by_code(tx, member, code))
        except Invalid:
            await self._note_refused(member, client, {"code": 1})
            raise
        self.tries.was_right(guess)
        return made

    async def begin_session(self, staff: StaffId, request: Request, first: Callable[[Tx], None]) -> str:
        """Its token. `first`: what must hold, and is done, in the same transaction."""
        token, csrf = secrets.token_urlsafe(24), secrets.token_urlsafe(18)
        client, browser = client_of(request), request.headers.get("user-agent", "")[:LONGEST_BROWSER]

        def begin(tx: Tx) -> None:
            first(tx)
            sessions.add_session(
                tx.conn, token, staff,
                csrf=csrf, now=tx.now, expires=tx.now + SESSION_S, source=client, browser=browser,
            )  # fmt: skip
            tx.log("signed_in", facts={"from": client})

        await self.road.act(begin, by=person(staff, client))
        return token


def _by_password(tx: Tx, member: StaffMember) -> None:
    if still_proved(tx, member, "password").has_second:
        raise Invalid("second_needed", field="code", mend="Six digits from your phone, or a recovery code.")


def _by_code(tx: Tx, member: StaffMember, code: str) -> None:
    still_proved(tx, member, "password")
    second.prove(tx, member.id, code)


def client_of(request: Request) -> str:
    """The address that a request comes from."""
    return request.client.host if request.client else ""


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
