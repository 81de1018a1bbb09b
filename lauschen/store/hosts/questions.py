"""Who was asked to vouch for a guest, and the links that were sent to them."""

import json
from dataclasses import dataclass
from sqlite3 import Connection
from typing import Any

from lauschen.core.ids import CredentialId, HostId, VouchingId
from lauschen.core.ways.vouching import Role
from lauschen.store.keys import KeyRing

LINK_DAYS_S = 30 * 86_400.0


@dataclass(frozen=True, slots=True)
class Person:
    """Somebody who vouches: a host, or whoever has an address in one of the house's domains."""

    host: HostId | None
    name: str
    mail: str
    lang: str

    @property
    def key(self) -> str:
        """A host stays the same one under another address."""
        return f"host {self.host}" if self.host is not None else f"mail {self.mail.casefold()}"


@dataclass(frozen=True, slots=True)
class Question:
    """One that was put to somebody."""

    id: int
    vouching: VouchingId
    person: Person
    role: Role
    at: float
    reminded_at: float | None
    fault: str | None
    """Why they could not be written to."""
    link: str
    """What was sent to them, to be sent once more."""


_COLUMNS = "id, vouching, host, sealed, role, at, reminded_at, fault"


def add_question(
    conn: Connection,
    keys: KeyRing,
    vouching: VouchingId,
    person: Person,
    role: Role,
    *,
    link: str,
    now: float,
    remind_at: float | None,
) -> int:
    row = conn.execute(
        "INSERT INTO question (vouching, host, whose, role, link, at, remind_at) VALUES (?, ?, ?, ?, ?, ?, ?)"
        " RETURNING id",
        (vouching, person.host, whose(keys, person), role, _link(keys, link), now, remind_at),
    ).fetchone()
    said = json.dumps({"name": person.name, "mail": person.mail, "lang": person.lang, "link": link}).encode()
    sealed = keys.seal(said, table="question", column="sealed", row=row[0])
    conn.execute("UPDATE question SET sealed = ? WHERE id = ?", (sealed, row[0]))
    return int(row[0])


def note_fault(conn: Connection, question: int, fault: str) -> None:
    """They could not be written to."""
    conn.execute("UPDATE question SET fault = ?, remind_at = NULL WHERE id = ?", (fault, question))


def note_reminded(conn: Connection, question: int, now: float) -> None:
    conn.execute("UPDATE question SET remind_at = NULL, reminded_at = ? WHERE id = ?", (now, question))


def get_question(conn: Connection, keys: KeyRing, question: int) -> Question | None:
    return next(iter(_all(conn, keys, "id = ?", question)), None)


def by_link(conn: Connection, keys: KeyRing, link: str) -> Question | None:
    return next(iter(_all(conn, keys, "link = ?", _link(keys, link))), None)


def questions_of(conn: Connection, keys: KeyRing, vouching: VouchingId) -> list[Question]:
    """In the order in which they were put."""
    return _all(conn, keys, "vouching = ? ORDER BY id", vouching)


def to_remind(conn: Connection, now: float, at_most: int) -> list[int]:
    sql = "SELECT id FROM question WHERE remind_at <= ? ORDER BY remind_at LIMIT ?"
    return [int(row[0]) for row in conn.execute(sql, (now, at_most))]


def put_to(conn: Connection, keys: KeyRing, person: Person, since: float, at_most: int) -> list[Question]:
    """What was put to somebody, the newest first."""
    where = "whose = ? AND at > ? ORDER BY at DESC LIMIT ?"
    return _all(conn, keys, where, whose(keys, person), since, at_most)


def vouched_by(conn: Connection, keys: KeyRing, person: Person, since: float) -> list[CredentialId]:
    """What came of the yes of somebody."""
    rows = conn.execute(
        "SELECT v.credential FROM question q JOIN vouching v ON v.id = q.vouching AND v.answered_by = q.id"
        " WHERE q.whose = ? AND q.at > ? AND v.credential IS NOT NULL",
        (whose(keys, person), since),
    )
    return [CredentialId(row[0]) for row in rows]


def give_link(conn: Connection, keys: KeyRing, person: Person, link: str, now: float) -> None:
    """To their own page; the one before leads nowhere any more."""
    mark = whose(keys, person)
    said = json.dumps([person.host, person.name, person.mail, person.lang]).encode()
    conn.execute(
        "INSERT INTO host_link (whose, sealed, link, until) VALUES (?, ?, ?, ?) ON CONFLICT (whose) DO UPDATE"
        " SET sealed = excluded.sealed, link = excluded.link, until = excluded.until",
        (mark, _seal_for(keys, mark, said), _link(keys, link), now + LINK_DAYS_S),
    )


def person_by_link(conn: Connection, keys: KeyRing, link: str, now: float) -> Person | None:
    """Whose own page it is."""
    row = conn.execute(
        "SELECT whose, sealed FROM host_link WHERE link = ? AND until > ?", (_link(keys, link), now)
    ).fetchone()
    if row is None:
        return None
    mark, sealed = row
    said = keys.unseal(sealed, table="host_link", column="sealed", row=_place(mark))
    host, name, mail, lang = json.loads(said)
    return Person(host, name, mail, lang)


def whose(keys: KeyRing, person: Person) -> bytes:
    """By what a person is found, without being readable."""
    return keys.lookup_hash(f"vouches {person.key}")


def _seal_for(keys: KeyRing, mark: bytes, said: bytes) -> bytes:
    return keys.seal(said, table="host_link", column="sealed", row=_place(mark))


def _place(mark: bytes) -> int:
    return int.from_bytes(mark[:8])


def _link(keys: KeyRing, link: str) -> bytes:
    return keys.lookup_hash(f"host link {link}")


def _all(conn: Connection, keys: KeyRing, where: str, *values: Any) -> list[Question]:
    return [
        _read(keys, row) for row in conn.execute(f"SELECT {_COLUMNS} FROM question WHERE {where}", values)
    ]


def _read(keys: KeyRing, row: tuple[Any, ...]) -> Question:
    number, vouching, asked, sealed, role, at, reminded_at, fault = row
    said = json.loads(keys.unseal(sealed, table="question", column="sealed", row=number))
    host = None if asked is None else HostId(asked)
    person = Person(host, said["name"], said["mail"], said["lang"])
    return Question(number, VouchingId(vouching), person, Role(role), at, reminded_at, fault, said["link"])
