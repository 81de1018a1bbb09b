"""Private groups: which VLANs of a network's pool are given out."""

from sqlite3 import Connection

from lauschen.core.ids import CredentialId, NetworkId

RESTS_S = 600.0
"""So long nobody else gets the VLAN of one that is over: its devices may be on their way out still."""
_HAS = (
    "coalesce(c.withdrawn_at, :now) > :now - :rests AND coalesce(c.valid_until, :now) > :now - :rests"
    " AND c.vlan IS NOT NULL"
)
"""Whether a credential `c` keeps its VLAN from others."""


def free(conn: Connection, network: NetworkId, pool: range, now: float) -> list[int]:
    """Those of the pool that nobody has, in their order."""
    given = {
        row[0]
        for row in conn.execute(
            "SELECT c.vlan FROM credential c JOIN passphrase p ON p.credential = c.id AND p.network = :network"
            f" WHERE {_HAS}",
            {"network": network, "now": now, "rests": RESTS_S},
        )
    }
    return [vlan for vlan in pool if vlan not in given]


def given(conn: Connection, among: range, now: float) -> dict[NetworkId, int]:
    """Networks whose groups have one of these VLANs, also where it is in no pool any more; and one that they have."""
    rows = conn.execute(
        "SELECT p.network, min(c.vlan) FROM credential c JOIN passphrase p ON p.credential = c.id"
        " JOIN network n ON n.id = p.network AND n.removed_at IS NULL"
        f" WHERE c.vlan >= :first AND c.vlan < :stop AND {_HAS} GROUP BY p.network",
        {"first": among.start, "stop": among.stop, "now": now, "rests": RESTS_S},
    )
    return {NetworkId(network): int(vlan) for network, vlan in rows}


def give(conn: Connection, credential: CredentialId, vlan: int) -> None:
    conn.execute("UPDATE credential SET vlan = ? WHERE id = ?", (vlan, credential))


def shares_with_others(conn: Connection, credential: CredentialId, now: float) -> NetworkId | None:
    """The network on which somebody else has its VLAN too; None where it has that for itself, or has none."""
    row = conn.execute(
        "SELECT p.network FROM credential mine JOIN passphrase own ON own.credential = mine.id"
        " JOIN credential c ON c.vlan = mine.vlan AND c.id <> mine.id"
        " JOIN passphrase p ON p.credential = c.id AND p.network = own.network"
        f" WHERE mine.id = :credential AND {_HAS} LIMIT 1",
        {"credential": credential, "now": now, "rests": RESTS_S},
    ).fetchone()
    return None if row is None else NetworkId(row[0])
