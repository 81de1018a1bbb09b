"""Accounts: the name and password of a credential. A password is kept as Argon2id hash, or sealed for CHAP."""

from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import BatchId, CredentialId, PlanId
from lauschen.core.limits.terms import Terms
from lauschen.core.ways.account import LOGIN, NAME, login_finder
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import Finder
from lauschen.store.credentials import add_unsealed, finder_hash, seal_all, seal_code
from lauschen.store.keys import KeyRing


@dataclass(frozen=True, slots=True)
class AccountSecret:
    """What a password is compared with: one of the two."""

    credential: CredentialId
    stamp: str
    """Another one with each password."""
    hashed: str | None
    sealed: str | None
    """As it is: it can answer CHAP, and is only as safe as the key file."""


@dataclass(frozen=True, slots=True)
class NewPassword:
    """`hashed`, or with `readable` as it is, to be sealed."""

    stamp: str
    hashed: str | None = None
    readable: str | None = None


def add(
    conn: Connection,
    keys: KeyRing,
    *,
    name: str,
    shown: str,
    password: NewPassword,
    plan: PlanId,
    batch: BatchId,
    now: float,
    terms: Terms,
) -> CredentialId | None:
    """None when there is an account of that name. `shown`: the name as it was written."""
    (credential,) = add_unsealed(
        conn,
        [finder_hash(keys, Finder(NAME, name))],
        way=WayIn.ACCOUNT,
        plan=plan,
        batch=batch,
        now=now,
        kind=NAME,
        terms=terms,
    )
    if credential is None:
        return None
    seal_all(conn, [(seal_code(keys, shown, credential), credential)])
    conn.execute(
        "INSERT INTO account (credential, name, stamp, changed_at) VALUES (?, ?, '', ?)",
        (credential, name, now),
    )
    set_password(conn, keys, credential, password, now)
    return credential


def find(conn: Connection, keys: KeyRing, name: str) -> AccountSecret | None:
    """By the name as it is compared."""
    row = conn.execute(
        "SELECT a.credential, a.stamp, a.hashed, a.sealed FROM finder f JOIN account a ON a.credential = f.credential"
        " WHERE f.hash = ?",
        (finder_hash(keys, Finder(NAME, name)),),
    ).fetchone()
    return None if row is None else _read(keys, row)


def names(conn: Connection) -> set[str]:
    """Of all accounts, as they are compared."""
    return {str(row[0]) for row in conn.execute("SELECT name FROM account")}


def name_of(conn: Connection, credential: CredentialId) -> str | None:
    """The name of an account; None of what is none."""
    row = conn.execute("SELECT name FROM account WHERE credential = ?", (credential,)).fetchone()
    return None if row is None else str(row[0])


def set_password(
    conn: Connection, keys: KeyRing, credential: CredentialId, password: NewPassword, now: float
) -> None:
    """From now on this one, and no other, leads to the account."""
    name = name_of(conn, credential)
    assert name is not None
    sealed = None
    if password.readable is not None:
        sealed = keys.seal(password.readable.encode(), table="account", column="sealed", row=credential)
    conn.execute("DELETE FROM finder WHERE credential = ? AND kind = ?", (credential, LOGIN))
    conn.execute(
        "INSERT INTO finder (hash, credential, kind) VALUES (?, ?, ?)",
        (finder_hash(keys, login_finder(name, password.stamp)), credential, LOGIN),
    )
    conn.execute(
        "UPDATE account SET stamp = ?, hashed = ?, sealed = ?, changed_at = ? WHERE credential = ?",
        (password.stamp, password.hashed, sealed, now, credential),
    )


def _read(keys: KeyRing, row: tuple[int, str, str | None, bytes | None]) -> AccountSecret:
    credential, stamp, hashed, sealed = row
    readable = None
    if sealed is not None:
        readable = keys.unseal(sealed, table="account", column="sealed", row=credential).decode()
    return AccountSecret(CredentialId(credential), stamp, hashed, readable)
