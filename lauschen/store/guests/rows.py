"""One device on a network, with all that its dossier and its acts need."""

from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.decide.standing import State
from lauschen.core.ids import Mac, NetworkId, StaffId
from lauschen.store.credentials import CODE, DEVICES_IN, READABLE
from lauschen.store.guests.lines import GuestLine, guest_line
from lauschen.store.keys import KeyRing


@dataclass(slots=True)
class GuestRow:
    """A line, and more about it."""

    line: GuestLine
    last_heard: float
    is_remembered: bool
    """It has left, and what let it in goes on: it comes back without the page."""
    code_sealed: bytes | None
    is_chosen: bool
    """Its code is not one of ten signs."""
    issuer: StaffId | None
    """Which person issued it, if one did."""
    devices_in: int
    """Devices that are in by that credential."""


_MORE = (
    f"SELECT s.last_heard, s.admission IS NOT NULL, f.sealed, f.kind, b.issued_by, {DEVICES_IN}"
    " FROM standing s LEFT JOIN credential c ON c.id = ?3 LEFT JOIN batch b ON b.id = c.batch"
    f" LEFT JOIN finder f ON f.credential = c.id AND {READABLE} WHERE s.mac = ?1 AND s.network = ?2"
)


def guest(conn: Connection, keys: KeyRing, mac: Mac, network: NetworkId, day: int) -> GuestRow | None:
    """`day`: the number of today."""
    line = guest_line(conn, keys, mac, network, day)
    if line is None:
        return None
    row = conn.execute(_MORE, (mac, network, line.credential)).fetchone()
    return GuestRow(
        line,
        row[0],
        is_remembered=bool(row[1]) and line.state is State.LEFT,
        code_sealed=row[2],
        is_chosen=row[3] != CODE,
        issuer=row[4],
        devices_in=row[5],
    )
