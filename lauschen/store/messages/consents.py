"""Who agreed to be written to: with which version of the words, in which language, when, and on which device."""

import json
from collections.abc import Mapping
from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.ids import CredentialId, Mac, NetworkId
from lauschen.store.keys import KeyRing


@dataclass(frozen=True, slots=True)
class Consent:
    """One."""

    at: float
    version: int
    lang: str
    network: NetworkId
    mac: Mac
    said: dict[str, str]
    """`name`, `mail`, `phone`, as far as they were written."""
    is_confirmed: bool
    """Whoever reads what is sent to the address has said so."""


def add_consent(
    conn: Connection,
    keys: KeyRing,
    *,
    version: int,
    lang: str,
    mac: Mac,
    network: NetworkId,
    said: Mapping[str, str],
    credential: CredentialId | None,
    now: float,
) -> None:
    row = conn.execute(
        "INSERT INTO consent (at, version, lang, mac, network, credential) VALUES (?, ?, ?, ?, ?, ?) RETURNING id",
        (now, version, lang, mac, network, credential),
    ).fetchone()
    sealed = keys.seal(json.dumps(dict(said)).encode(), table="consent", column="sealed", row=row[0])
    conn.execute("UPDATE consent SET sealed = ? WHERE id = ?", (sealed, row[0]))


def consents(conn: Connection, keys: KeyRing, mac: Mac | None = None) -> list[Consent]:
    """The oldest first; of one device, or all."""
    rows = conn.execute(
        "SELECT c.id, c.at, c.version, c.lang, c.network, c.mac, c.sealed, EXISTS (SELECT 1 FROM registration r"
        " WHERE r.credential = c.credential AND r.confirmed_at IS NOT NULL) FROM consent c"
        f" {'' if mac is None else 'WHERE c.mac = ?'} ORDER BY c.id",
        () if mac is None else (mac,),
    )
    return [
        Consent(
            at, version, lang, NetworkId(network), Mac(device),
            json.loads(keys.unseal(sealed, table="consent", column="sealed", row=number)), bool(confirmed),
        )
        for number, at, version, lang, network, device, sealed, confirmed in rows
    ]  # fmt: skip
