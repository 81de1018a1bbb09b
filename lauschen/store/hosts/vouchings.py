"""Guests who ask a host to vouch for them, and what came of it."""

import json
from collections.abc import Mapping
from dataclasses import dataclass
from sqlite3 import Connection
from typing import Any

from lauschen.core.ids import CredentialId, Mac, NetworkId, StaffId, VouchingId
from lauschen.core.ways.vouching import VouchingState
from lauschen.store.keys import KeyRing


@dataclass(frozen=True, slots=True)
class Vouching:
    """One, with what the guest wrote."""

    id: VouchingId
    network: NetworkId
    mac: Mac
    visit: bytes
    """The visit that asked, by hash."""
    lang: str
    at: float
    state: VouchingState
    ask_at: float | None
    """When somebody is to be asked."""
    until: float | None
    """When the time of who was asked is over."""
    answered_at: float | None
    answered_by: int | None
    """The question that was answered."""
    staff: StaffId | None
    """Who answered in the host's stead."""
    credential: CredentialId | None
    answers: dict[str, str]
    named: str
    """Whom the guest named: a name, an address, or the id of a host that was chosen."""
    word: str
    """What was said to the guest."""


_COLUMNS = (
    "id, network, mac, visit, lang, at, state, ask_at, until, answered_at, answered_by, staff, credential,"
    " sealed"
)


def add_vouching(
    conn: Connection,
    keys: KeyRing,
    *,
    network: NetworkId,
    mac: Mac,
    source: str,
    visit: bytes,
    lang: str,
    answers: Mapping[str, str],
    named: str,
    now: float,
) -> VouchingId:
    """Somebody is to be asked at once."""
    row = conn.execute(
        "INSERT INTO vouching (network, mac, source, visit, lang, digest, at, ask_at)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (network, mac, source, visit, lang, _digest(keys, named, answers), now, now),
    ).fetchone()
    _seal(conn, keys, VouchingId(row[0]), {"answers": dict(answers), "named": named})
    return VouchingId(row[0])


def get_vouching(conn: Connection, keys: KeyRing, vouching: VouchingId) -> Vouching | None:
    return _one(conn, keys, "id = ?", vouching)


def newest_of_visit(conn: Connection, keys: KeyRing, visit: bytes) -> Vouching | None:
    return _one(conn, keys, "visit = ? ORDER BY id DESC LIMIT 1", visit)


def of_credential(conn: Connection, keys: KeyRing, credential: CredentialId) -> Vouching | None:
    return _one(conn, keys, "credential = ?", credential)


def waiting_of_device(conn: Connection, keys: KeyRing, mac: Mac, network: NetworkId) -> list[Vouching]:
    return _all(conn, keys, "mac = ? AND network = ? AND state = 'waiting' ORDER BY id", mac, network)


def of_device(conn: Connection, keys: KeyRing, mac: Mac) -> list[Vouching]:
    """The newest first."""
    return _all(conn, keys, "mac = ? ORDER BY at DESC LIMIT 20", mac)


def waiting(conn: Connection, keys: KeyRing, at_most: int) -> list[Vouching]:
    """The oldest first."""
    return _all(conn, keys, "state = 'waiting' ORDER BY id LIMIT ?", at_most)


def unanswered(conn: Connection, keys: KeyRing, since: float, at_most: int) -> list[Vouching]:
    """Those of which the time is over, the newest first."""
    return _all(conn, keys, "state = 'over' AND at > ? ORDER BY id DESC LIMIT ?", since, at_most)


def is_same(
    conn: Connection, keys: KeyRing, vouching: VouchingId, named: str, answers: Mapping[str, str]
) -> bool:
    """Whether it was asked just so."""
    row = conn.execute("SELECT digest FROM vouching WHERE id = ?", (vouching,)).fetchone()
    return row is not None and row[0] == _digest(keys, named, answers)


def to_ask(conn: Connection, now: float, at_most: int) -> list[VouchingId]:
    return _due(conn, "ask_at", now, at_most)


def out_of_time(conn: Connection, now: float, at_most: int) -> list[VouchingId]:
    return _due(conn, "until", now, at_most)


def put_off(conn: Connection, vouching: VouchingId, at: float) -> None:
    """What was due of it and could not be done."""
    conn.execute(
        "UPDATE vouching SET ask_at = iif(ask_at IS NULL, NULL, ?2), until = iif(until IS NULL, NULL, max(until, ?2))"
        " WHERE id = ?1",
        (vouching, at),
    )


def next_due(conn: Connection) -> float | None:
    """When something is to be done about any of them."""
    return conn.execute(  # type: ignore[no-any-return]
        "SELECT min(t) FROM (SELECT min(ask_at) AS t FROM vouching WHERE ask_at IS NOT NULL UNION ALL"
        " SELECT min(until) FROM vouching WHERE until IS NOT NULL UNION ALL"
        " SELECT min(remind_at) FROM question WHERE remind_at IS NOT NULL)"
    ).fetchone()[0]


def ask_later(conn: Connection, vouching: VouchingId, ask_at: float | None, until: float | None) -> None:
    """When somebody is to be asked, and when the time of who was is over."""
    conn.execute("UPDATE vouching SET ask_at = ?, until = ? WHERE id = ?", (ask_at, until, vouching))


def settle(
    conn: Connection,
    keys: KeyRing,
    vouching: Vouching,
    state: VouchingState,
    now: float,
    *,
    word: str = "",
    answered_by: int | None = None,
    staff: StaffId | None = None,
    credential: CredentialId | None = None,
) -> None:
    """It waits no more."""
    conn.execute(
        "UPDATE vouching SET state = ?, ask_at = NULL, until = NULL, answered_at = ?, answered_by = ?, staff = ?,"
        " credential = ? WHERE id = ?",
        (state, now, answered_by, staff, credential, vouching.id),
    )
    conn.execute("UPDATE question SET remind_at = NULL WHERE vouching = ?", (vouching.id,))
    _seal(conn, keys, vouching.id, {"answers": vouching.answers, "named": vouching.named, "word": word})


def _due(conn: Connection, column: str, now: float, at_most: int) -> list[VouchingId]:
    sql = f"SELECT id FROM vouching WHERE {column} <= ? ORDER BY {column} LIMIT ?"
    return [VouchingId(row[0]) for row in conn.execute(sql, (now, at_most))]


def _digest(keys: KeyRing, named: str, answers: Mapping[str, str]) -> bytes:
    return keys.lookup_hash(f"vouching {named} {json.dumps(dict(answers), sort_keys=True)}")


def _seal(conn: Connection, keys: KeyRing, vouching: VouchingId, said: Mapping[str, object]) -> None:
    sealed = keys.seal(json.dumps(said).encode(), table="vouching", column="sealed", row=vouching)
    conn.execute("UPDATE vouching SET sealed = ? WHERE id = ?", (sealed, vouching))


def _one(conn: Connection, keys: KeyRing, where: str, *values: Any) -> Vouching | None:
    return next(iter(_all(conn, keys, where, *values)), None)


def _all(conn: Connection, keys: KeyRing, where: str, *values: Any) -> list[Vouching]:
    rows = conn.execute(f"SELECT {_COLUMNS} FROM vouching WHERE {where}", values).fetchall()
    return [_read(keys, row) for row in rows]


def _read(keys: KeyRing, row: tuple[Any, ...]) -> Vouching:
    (
        number,
        network,
        mac,
        visit,
        lang,
        at,
        state,
        ask_at,
        until,
        answered_at,
        answered_by,
        staff,
        credential,
        sealed,
    ) = row
    said = json.loads(keys.unseal(sealed, table="vouching", column="sealed", row=number))
    return Vouching(
        VouchingId(number), NetworkId(network), Mac(mac), visit, lang, at, VouchingState(state), ask_at, until,
        answered_at, answered_by, staff, credential, said["answers"], said["named"], said.get("word", ""),
    )  # fmt: skip
