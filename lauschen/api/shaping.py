"""What every shape is made from."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from sqlite3 import Connection

from lauschen.api.words.speaker import Speaker
from lauschen.core.config.config import Config
from lauschen.core.ids import CredentialId, NetworkId, StaffId
from lauschen.core.people.sight import EVERYTHING, Sight
from lauschen.core.words.text import visible
from lauschen.store import admissions
from lauschen.store.hosts import questions, vouchings
from lauschen.store.keys import KeyRing
from lauschen.store.people import staff


@dataclass(slots=True)
class Shaper:
    """One answer's worth of shaping: a house, a connection and an instant."""

    config: Config
    keys: KeyRing
    conn: Connection
    now: float
    reads: Callable[[StaffId | None], bool] = lambda _: True
    """Whether whoever looks may read a code that this person issued."""
    reads_passcode_of: Callable[[NetworkId], bool] = lambda _: True
    sight: Sight = EVERYTHING
    """What the viewer may see."""

    def speaker(self) -> Speaker:
        """Names whoever was in by what was issued for one person."""
        holder = lru_cache(
            lambda mac, at: admissions.holder_at(self.conn, mac, at) or self.config.name_of(mac)
        )
        return Speaker(self.config, staff.staff_names(self.conn), self.now, holder, self._vouched)

    def _vouched(self, credential: CredentialId) -> str:
        """Who said yes to it, and when."""
        found = vouchings.of_credential(self.conn, self.keys, credential)
        if found is None:
            return ""
        at = Speaker(self.config, {}, self.now).clock(found.answered_at or found.at)
        question = None
        if found.answered_by is not None:
            question = questions.get_question(self.conn, self.keys, found.answered_by)
        who = visible(question.person.name) if question is not None else "the desk, in the host's stead,"
        return f"{who} said yes at {at}"
