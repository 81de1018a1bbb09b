"""Private groups: which VLANs of a network's pool are given out."""

from sqlite3 import Connection

from lauschen.core.ids import CredentialId, NetworkId

_GIVEN = (
    "SELECT c.vlan FROM passphrase p JOIN credential c ON c.id = p.credential"
    " WHERE p.network = ? AND c.vlan IS NOT NULL AND c.withdrawn_at IS NULL"
)


def free_count(conn: Connection, network: NetworkId, pool: range) -> int:
    """How many are left."""
    return len(pool) - len(_given(conn, network) & set(pool))


def first_free(conn: Connection, network: NetworkId, pool: range) -> int | None:
    given = _given(conn, network)
    return next((vlan for vlan in pool if vlan not in given), None)


def give(conn: Connection, credential: CredentialId, vlan: int | None) -> None:
    conn.execute("UPDATE credential SET vlan = ? WHERE id = ?", (vlan, credential))


def _given(conn: Connection, network: NetworkId) -> set[int]:
    return {row[0] for row in conn.execute(_GIVEN, (network,))}
