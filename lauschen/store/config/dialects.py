"""Dialects: each a JSON document, with its secrets sealed apart."""

import json
from dataclasses import asdict, fields, replace
from sqlite3 import Connection
from typing import Any

from lauschen.core.config.dialect import (
    Appended,
    Arrives,
    Call,
    Dialect,
    HandshakeIn,
    Honours,
    KeysBy,
    Move,
    Posted,
    UserName,
    ValueKind,
    VendorAttribute,
    When,
)
from lauschen.core.ids import DialectId
from lauschen.store.db import insert
from lauschen.store.keys import KeyRing

_SECRETS = ("shared_password", "call_secret")


def load_dialects(conn: Connection, keys: KeyRing) -> list[Dialect]:
    return [
        _read(DialectId(row), name, json.loads(settings), _unseal(keys, row, sealed))
        for row, name, settings, sealed in conn.execute(
            "SELECT id, name, settings, secrets_sealed FROM dialect"
        )
    ]


def add_dialect(conn: Connection, keys: KeyRing, dialect: Dialect) -> DialectId:
    """Stores a new one; its id is given here."""
    row = insert(
        conn, "dialect", "name", "INSERT INTO dialect (name, settings) VALUES (?, '{}')", (dialect.name,)
    )
    save_dialect(conn, keys, replace(dialect, id=DialectId(row)))
    return DialectId(row)


def save_dialect(conn: Connection, keys: KeyRing, dialect: Dialect) -> None:
    """Writes one whole."""
    settings = {k: v for k, v in asdict(dialect).items() if k not in ("id", "name", *_SECRETS)}
    settings["honours"] = sorted(dialect.honours)
    secrets = {name: getattr(dialect, name) for name in _SECRETS if getattr(dialect, name)}
    sealed = None
    if secrets:
        plain = json.dumps(secrets).encode()
        sealed = keys.seal(plain, table="dialect", column="secrets_sealed", row=dialect.id)
    insert(
        conn,
        "dialect",
        "name",
        "UPDATE dialect SET name = ?, settings = ?, secrets_sealed = ? WHERE id = ?",
        (dialect.name, json.dumps(settings), sealed, dialect.id),
    )


def remove_dialect(conn: Connection, dialect: DialectId) -> None:
    """Nothing refers to a dialect but access devices, which must have another one by now."""
    conn.execute("DELETE FROM dialect WHERE id = ?", (dialect,))


def _unseal(keys: KeyRing, row: int, sealed: bytes | None) -> dict[str, str]:
    if sealed is None:
        return {}
    plain = keys.unseal(sealed, table="dialect", column="secrets_sealed", row=row)
    secrets: dict[str, str] = json.loads(plain)
    return secrets


def _read(row: DialectId, name: str, settings: dict[str, Any], secrets: dict[str, str]) -> Dialect:
    """What a document does not say is as the class says."""
    known = {f.name for f in fields(Dialect)} - {"id", "name", *_SECRETS}
    values: dict[str, Any] = {
        key: _READ.get(key, lambda value: value)(settings[key]) for key in known if key in settings
    }
    return Dialect(row, name, **{**values, **secrets})


def _read_attribute(value: dict[str, Any]) -> VendorAttribute:
    return VendorAttribute(
        value["enterprise"],
        value["number"],
        ValueKind(value["kind"]),
        value["template"],
        When(value["when"]),
    )


def _pairs(value: list[list[str]]) -> tuple[tuple[str, str], ...]:
    return tuple((name, text) for name, text in value)


def _read_call(value: dict[str, Any]) -> Call:
    return Call(**{**value, "headers": _pairs(value["headers"]), "good_status": tuple(value["good_status"])})


_READ: dict[str, Any] = {
    "arrives": Arrives,
    "appended": lambda value: Appended(**value),
    "attributes": lambda value: tuple(_read_attribute(one) for one in value),
    "login_move": Move,
    "end_move": Move,
    "posted": lambda value: Posted(**{**value, "others": _pairs(value["others"])}),
    "call_in": _read_call,
    "call_out": _read_call,
    "honours": lambda value: frozenset(Honours(one) for one in value),
    "identify": tuple,
    "user_name": UserName,
    "keys_by": KeysBy,
    "handshake": lambda value: HandshakeIn(**value),
}
