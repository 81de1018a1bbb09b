"""What every shape is made from."""

from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.api.words.speaker import Speaker
from lauschen.core.house.house import House
from lauschen.store import staff
from lauschen.store.keys import KeyRing


@dataclass(slots=True)
class Shaper:
    """One answer's worth of shaping: a house, a connection and an instant."""

    house: House
    keys: KeyRing
    conn: Connection
    now: float

    def speaker(self) -> Speaker:
        return Speaker(self.house, staff.staff_names(self.conn), self.now)
