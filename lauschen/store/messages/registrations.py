"""Who wrote themselves in at the page, and what they wrote."""

import json
from collections.abc import Mapping
from dataclasses import dataclass
from sqlite3 import Connection
from typing import Any

from lauschen.core.ids import CredentialId, Mac, NetworkId
from lauschen.core.ways.self_registration import Delivery
from lauschen.store.keys import KeyRing


@dataclass(frozen=True, slots=True)
class Registration:
    """One, with the answers by the key of their field."""

    id: int
    credential: CredentialId
    network: NetworkId
    mac: Mac
    lang: str
    delivery: Delivery
    answers: dict[str, str]
    at: float
    confirmed_at: float | None


_COLUMNS = "id, credential, network, mac, lang, delivery, sealed, at, confirmed_at"


def add_registration(
    conn: Connection,
    keys: KeyRing,
    *,
    credential: CredentialId,
    network: NetworkId,
    mac: Mac,
    source: str,
    visit: bytes,
    lang: str,
    delivery: Delivery,
    answers: Mapping[str, str],
    now: float,
) -> None:
    row = conn.execute(
        "INSERT INTO registration (credential, network, mac, source, visit, lang, delivery, digest, at)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (credential, network, mac, source, visit, lang, delivery, _digest(keys, delivery, answers), now),
    ).fetchone()
    sealed = keys.seal(json.dumps(dict(answers)).encode(), table="registration", column="sealed", row=row[0])
    conn.execute("UPDATE registration SET sealed = ? WHERE id = ?", (sealed, row[0]))


def await_confirmation(
    conn: Connection, keys: KeyRing, credential: CredentialId, *, code: str, link: str, by: float
) -> None:
    """In place of what was sent before: only the newest of each confirms."""
    conn.execute("UPDATE credential SET confirm_by = coalesce(confirm_by, ?) WHERE id = ?", (by, credential))
    conn.execute(
        "UPDATE registration SET confirm_code = ?, confirm_link = ? WHERE credential = ?",
        (_code_hash(keys, credential, code), _link_hash(keys, link), credential),
    )


def is_code(conn: Connection, keys: KeyRing, credential: CredentialId, code: str) -> bool:
    """Whether these digits were sent for it last."""
    row = conn.execute("SELECT confirm_code FROM registration WHERE credential = ?", (credential,)).fetchone()
    return row is not None and row[0] == _code_hash(keys, credential, code)


def by_link(conn: Connection, keys: KeyRing, link: str) -> Registration | None:
    """Whom a link was sent to, also once it has confirmed."""
    row = conn.execute(
        f"SELECT {_COLUMNS} FROM registration WHERE confirm_link = ?", (_link_hash(keys, link),)
    ).fetchone()
    return None if row is None else _read(keys, row)


def note_confirmed(conn: Connection, credential: CredentialId, now: float) -> None:
    conn.execute("UPDATE credential SET confirm_by = NULL WHERE id = ?", (credential,))
    conn.execute("UPDATE registration SET confirmed_at = ? WHERE credential = ?", (now, credential))


def newest_of_visit(conn: Connection, keys: KeyRing, visit: bytes) -> Registration | None:
    row = conn.execute(
        f"SELECT {_COLUMNS} FROM registration WHERE visit = ? ORDER BY id DESC LIMIT 1", (visit,)
    ).fetchone()
    return None if row is None else _read(keys, row)


def same_of_visit(
    conn: Connection, keys: KeyRing, visit: bytes, delivery: Delivery, answers: Mapping[str, str]
) -> CredentialId | None:
    """What the same form led to when it was sent before: a double click makes one."""
    row = conn.execute(
        "SELECT credential FROM registration WHERE visit = ? AND digest = ?",
        (visit, _digest(keys, delivery, answers)),
    ).fetchone()
    return None if row is None else CredentialId(row[0])


def of_credential(conn: Connection, keys: KeyRing, credential: CredentialId) -> Registration | None:
    row = conn.execute(f"SELECT {_COLUMNS} FROM registration WHERE credential = ?", (credential,)).fetchone()
    return None if row is None else _read(keys, row)


def _code_hash(keys: KeyRing, credential: CredentialId, code: str) -> bytes:
    return keys.lookup_hash(f"confirm {credential} {code}")


def _link_hash(keys: KeyRing, link: str) -> bytes:
    return keys.lookup_hash(f"confirm link {link}")


def _digest(keys: KeyRing, delivery: Delivery, answers: Mapping[str, str]) -> bytes:
    return keys.lookup_hash(f"registration {delivery} {json.dumps(dict(answers), sort_keys=True)}")


def _read(keys: KeyRing, row: tuple[Any, ...]) -> Registration:
    number, credential, network, mac, lang, delivery, sealed, at, confirmed_at = row
    answers = json.loads(keys.unseal(sealed, table="registration", column="sealed", row=number))
    return Registration(
        number,
        CredentialId(credential),
        NetworkId(network),
        Mac(mac),
        lang,
        Delivery(delivery),
        answers,
        at,
        confirmed_at,
    )
