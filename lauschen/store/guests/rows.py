"""One device on a network, with all that its dossier and its acts need."""

from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.core.decide.standing import State
from lauschen.core.ids import Mac, NetworkId
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
    devices_in: int
    """Devices that are in by that credential."""


_MORE = (
    f"SELECT s.last_heard, s.admission IS NOT NULL, f.sealed, f.kind, {DEVICES_IN}"
    " FROM standing s LEFT JOIN credential c ON c.id = ?3"
    f" LEFT JOIN finder f ON f.credential = c.id AND {READABLE} WHERE s.mac = ?1 AND s.network = ?2"
)


def guest(conn: Connection, keys: KeyRing, mac: Mac, network: NetworkId, day: int) -> GuestRow | None:
    """`day`: the number of today."""
    line = guest_line(conn, keys, mac, network, day)
    if line is None:
        return None
    last_heard, is_admitted, sealed, kind, devices_in = conn.execute(
        _MORE, (mac, network, line.credential)
    ).fetchone()
    return GuestRow(
        line,
        last_heard,
        is_remembered=bool(is_admitted) and line.state is State.LEFT,
        code_sealed=sealed,
        is_chosen=kind != CODE,
        devices_in=devices_in,
    )
