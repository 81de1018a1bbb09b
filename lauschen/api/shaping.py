"""What every shape is made from."""

from dataclasses import dataclass
from functools import lru_cache
from sqlite3 import Connection

from lauschen.api.words.speaker import Speaker
from lauschen.core.house.house import House
from lauschen.store import admissions, staff
from lauschen.store.keys import KeyRing


@dataclass(slots=True)
class Shaper:
    """One answer's worth of shaping: a house, a connection and an instant."""

    house: House
    keys: KeyRing
    conn: Connection
    now: float

    def speaker(self) -> Speaker:
        """Names whoever was in by what was issued for one person."""
        holder = lru_cache(
            lambda mac, at: admissions.holder_at(self.conn, mac, at) or self.house.name_of(mac)
        )
        return Speaker(self.house, staff.staff_names(self.conn), self.now, holder)
