"""Private groups: which VLANs of a network's pool are given out."""

from sqlite3 import Connection

from lauschen.core.ids import CredentialId, NetworkId

RESTS_S = 600.0
"""So long nobody else gets the VLAN of one that is over: its devices may be on their way out still."""
_HAS = (
    "coalesce(c.withdrawn_at, :now) > :now - :rests AND coalesce(c.valid_until, :now) > :now - :rests"
    " AND EXISTS (SELECT 1 FROM network n WHERE n.id = c.network AND n.removed_at IS NULL)"
)
"""Whether a credential `c` keeps its VLAN from others."""


def free(conn: Connection, pool: range, now: float) -> list[int]:
    """Those of the pool that no group has, in their order."""
    taken = _given(conn, pool, now).keys()
    return [vlan for vlan in pool if vlan not in taken]


def owners(conn: Connection, among: range, now: float) -> dict[NetworkId, int]:
    """Networks whose groups have one of these VLANs, also where it is in no pool any more; and one that they have."""
    return {network: vlan for vlan, network in _given(conn, among, now).items()}


def give(conn: Connection, credential: CredentialId, vlan: int) -> None:
    conn.execute("UPDATE credential SET vlan = ? WHERE id = ?", (vlan, credential))


def shares_with_others(conn: Connection, credential: CredentialId, now: float) -> NetworkId | None:
    """Its network, where another group has its VLAN too; None where it has that for itself, or has none."""
    row = conn.execute(
        "SELECT mine.network FROM credential mine JOIN credential c ON c.vlan = mine.vlan AND c.id <> mine.id"
        f" WHERE mine.id = :credential AND {_HAS} LIMIT 1",
        {"credential": credential, "now": now, "rests": RESTS_S},
    ).fetchone()
    return None if row is None else NetworkId(row[0])


def _given(conn: Connection, among: range, now: float) -> dict[int, NetworkId]:
    rows = conn.execute(
        f"SELECT c.vlan, c.network FROM credential c WHERE c.vlan >= :first AND c.vlan < :stop AND {_HAS}",
        {"first": among.start, "stop": among.stop, "now": now, "rests": RESTS_S},
    )
    return {int(vlan): NetworkId(network) for vlan, network in rows}
