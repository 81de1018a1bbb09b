"""Staff sign-in: Argon2id off the loop, a session cookie, and a CSRF value on every change."""

import asyncio
import secrets
from collections import deque
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import TypeVar

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from fastapi import Request

from lauschen.core.errors import Invalid, LauschenError, Unavailable
from lauschen.road.road import Road
from lauschen.store import staff
from lauschen.store.staff import StaffMember, StaffSession

T = TypeVar("T")
COOKIE = "lauschen_staff"
CSRF_HEADER = "X-Lauschen-Form"
SESSION_S = 12 * 3600
WAITING = 32
WRONG_ALLOWED = 8
WRONG_WINDOW_S = 600.0


class SignInNeeded(LauschenError):
    """Nobody is signed in, or the password must be changed first."""

    def __init__(self, code: str, mend: str) -> None:
        super().__init__(mend)
        self.code = code
        self.mend = mend


class NotFromHere(LauschenError):
    """A change without the CSRF value of its session."""


class Passwords:
    """Argon2id releases the interpreter lock, so one thread is enough; at most 32 wait (rulings 1.1)."""

    def __init__(self) -> None:
        self._hasher = PasswordHasher()
        self._thread = ThreadPoolExecutor(1, "argon2")
        self._waiting = 0
        # Verified instead of a real one when the name is unknown, so that both take the same time.
        self._nobody = self._hasher.hash(secrets.token_hex(16))

    async def hash(self, password: str) -> str:
        return await self._run(lambda: self._hasher.hash(password))

    async def matches(self, member: StaffMember | None, password: str) -> bool:
        stored = member.password_hash if member else self._nobody
        return await self._run(lambda: self._verify(stored, password)) and member is not None

    def close(self) -> None:
        self._thread.shutdown()

    def _verify(self, stored: str, password: str) -> bool:
        try:
            return self._hasher.verify(stored, password)
        except (VerificationError, InvalidHashError):
            return False

    async def _run(self, work: Callable[[], T]) -> T:
        if self._waiting >= WAITING:
            raise Unavailable("sign-in", meanwhile="Too many sign-ins at once. Try again in a moment.")
        self._waiting += 1
        try:
            return await asyncio.get_running_loop().run_in_executor(self._thread, work)
        finally:
            self._waiting -= 1


class WrongPasswords:
    """Slows guessing down: per client address, in memory."""

    def __init__(self) -> None:
        self._wrong: dict[str, deque[float]] = {}

    def check(self, client: str, now: float) -> None:
        recent = self._wrong.get(client)
        while recent and recent[0] < now - WRONG_WINDOW_S:
            recent.popleft()
        if recent and len(recent) >= WRONG_ALLOWED:
            raise Unavailable("sign-in", meanwhile="Too many wrong passwords. Try again in ten minutes.")

    def count(self, client: str, now: float) -> None:
        if len(self._wrong) > 1000:
            self._wrong.clear()
        self._wrong.setdefault(client, deque()).append(now)


@dataclass(slots=True)
class Gate:
    """Who is asking, and may they."""

    road: Road
    find: Callable[[str, float], StaffSession | None]
    passwords: Passwords
    wrong: WrongPasswords

    def signed_in(self, request: Request) -> StaffSession:
        """The session of a request; for a change, with its CSRF value."""
        session = self.session(request)
        if session.must_change:
            raise SignInNeeded("password_must_change", "Choose a password of your own first.")
        return session

    def session(self, request: Request) -> StaffSession:
        """Like `signed_in`, also while the first password waits to be changed."""
        session = self.find(request.cookies.get(COOKIE, ""), self.road.clock.now())
        if session is None:
            raise SignInNeeded("sign_in_needed", "Sign in first.")
        if request.method not in ("GET", "HEAD"):
            given = request.headers.get(CSRF_HEADER, "")
            if not secrets.compare_digest(given.encode(), session.csrf.encode()):
                raise NotFromHere("The change did not come from this console. Load the page again.")
        return session

    async def sign_in(
        self, name: str, password: str, member: StaffMember | None, client: str
    ) -> tuple[str, str]:
        """A new session's token and CSRF value; Invalid when name or password are wrong."""
        now = self.road.clock.now()
        self.wrong.check(client, now)
        right = await self.passwords.matches(member, password)
        if not right or member is None:
            self.wrong.count(client, now)
            raise Invalid("sign_in_wrong", field="password", mend="Name and password do not go together.")
        if member.password_until is not None and now > member.password_until:
            raise Invalid(
                "password_too_old",
                field="password",
                mend="The first password was good for a day. `lauschen staff password` sets another one.",
            )
        token, csrf = secrets.token_urlsafe(24), secrets.token_urlsafe(18)
        await self.road.act(
            lambda tx: staff.add_session(tx.conn, token, member.id, csrf=csrf, expires=tx.now + SESSION_S)
        )
        return token, csrf
