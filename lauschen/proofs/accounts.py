"""Whether a name and a password go together: by Argon2id off the loop, or by a sealed copy for CHAP (rulings 3.8)."""

import hashlib
import os
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from hmac import compare_digest
from sqlite3 import Connection

from lauschen.core.config.config import Config
from lauschen.core.decide.reason import Reason
from lauschen.core.ways.account import Login, login_name
from lauschen.core.ways.offers.person import NameAndPassword
from lauschen.core.ways.ways import Asked
from lauschen.proofs.passwords import Passwords
from lauschen.proofs.prove import Proofs
from lauschen.road.memory import Memory
from lauschen.store import accounts
from lauschen.store.accounts import AccountSecret, NewPassword
from lauschen.store.keys import KeyRing

KNOWN_S = 600.0
"""For so long a password that was right is known again without Argon2id: devices ask often."""
MOST_KNOWN = 10_000


@dataclass
class Accounts:
    """Names and passwords of guests. `conn` reads what is committed."""

    config: Callable[[], Config]
    conn: Connection
    keys: KeyRing
    monotonic: Callable[[], float]
    memory: Memory
    passwords: Passwords = field(default_factory=lambda: Passwords("accounts"))
    _known: OrderedDict[bytes, tuple[str, float]] = field(default_factory=OrderedDict)
    _key: bytes = field(default_factory=lambda: os.urandom(32))
    """What was right is known by a digest under this key, never as it is."""

    def waits(self, asked: Asked) -> bool:
        """Whether it is the name of an account, and not a code or a one-time login."""
        if type(asked) is NameAndPassword:
            names = self.memory.account_names
            if names is None:
                names = self.memory.account_names = accounts.names(self.conn)
            # For each person of an access device, most of whom type a code: no name is looked at without need.
            return bool(names) and self.config().takes_accounts and login_name(asked.name) in names
        return isinstance(asked, Login)

    async def __call__(self, asked: Asked) -> Reason | None:
        """The proof is put into what was asked; a wrong password at an access device is counted on the road."""
        if isinstance(asked, Login):
            found = accounts.find(self.conn, self.keys, asked.name)
            is_right = await self._is_right(found, asked.name, asked.password)
            asked.password = ""
            asked.stamp = found.stamp if found is not None and is_right else None
            return None if is_right else Reason.LOGIN_WRONG
        if isinstance(asked, NameAndPassword):
            await self._prove_person(asked)
        return None

    def proofs(self) -> Proofs:
        """For whoever hears names with passwords."""
        return Proofs({Login: self, NameAndPassword: self})

    async def renewed(self, login: Login, password: str) -> NewPassword:
        """A new password, kept as the old one is; nothing is spent on it when the old one was wrong."""
        found = accounts.find(self.conn, self.keys, login.name)
        if login.stamp is None or found is None:
            return NewPassword("")
        if found.sealed is not None:
            return NewPassword("", readable=password)
        return NewPassword("", hashed=await self.passwords.hash(password))

    async def _prove_person(self, asked: NameAndPassword) -> None:
        name = login_name(asked.name)
        found = accounts.find(self.conn, self.keys, name)
        if found is None:
            return
        asked.login = Login(name, "")
        if asked.password is not None:
            is_right = await self._is_right(found, name, asked.password)
            asked.login_fault = None if is_right else Reason.LOGIN_WRONG
        elif found.sealed is None:
            asked.login_fault = Reason.CHAP_ACCOUNT
        else:
            is_right = asked.proves(found.sealed.encode())
            asked.login_fault = None if is_right else Reason.LOGIN_WRONG
        if asked.login_fault is None:
            asked.login.stamp = found.stamp

    async def _is_right(self, found: AccountSecret | None, name: str, password: str) -> bool:
        if found is not None and found.sealed is not None:
            return compare_digest(found.sealed.encode(), password.encode())
        digest, now = self._digest(name, password), self.monotonic()
        known = self._known.get(digest)
        if found is not None and known is not None and known == (found.stamp, known[1]) and known[1] > now:
            return True
        if not await self.passwords.matches(None if found is None else found.hashed, password):
            return False
        assert found is not None
        self._known[digest] = found.stamp, now + KNOWN_S
        if len(self._known) > MOST_KNOWN:
            self._known.popitem(last=False)
        return True

    def _digest(self, name: str, password: str) -> bytes:
        return hashlib.blake2b(f"{name}\0{password}".encode(), digest_size=16, key=self._key).digest()
