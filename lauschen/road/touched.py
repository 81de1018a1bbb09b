"""Which lines of the lists changed since somebody looked last, as far as it is committed."""

from sqlite3 import Connection

from lauschen.road.memory import Memory
from lauschen.store.guests.touched import tell_changes

MOST = 5_000
"""When nobody has looked for so many changes, reading everybody anew takes no longer."""
Change = tuple[str, int, int | None]
"""What (`store.guests.touched.What`), its number, and the network of a standing."""


class Touched:
    """Notes changes as they are written, and tells them to one who looks once they are committed; memory at once."""

    def __init__(self, conn: Connection, memory: Memory) -> None:
        self._pending: set[Change] = set()
        self._committed: set[Change] = set()
        self._is_lost = True

        def note(what: str, number: int, network: int | None) -> None:
            self._pending.add((what, number, network))
            if memory.is_act:  # asked here, as this is called for each report
                memory.touched(what, number, network)

        tell_changes(conn, note, memory.touched)

    def commit(self) -> None:
        """What was noted can be read now. What is rolled back stays noted: reading it again does no harm."""
        if not self._pending:
            return
        if not self._is_lost:
            self._committed |= self._pending
            if len(self._committed) > MOST:
                self.lose()
        self._pending.clear()

    def lose(self) -> None:
        """Anything may have changed: another process wrote, or what was taken was not made use of."""
        self._is_lost = True
        self._committed = set()

    def take(self) -> set[Change] | None:
        """What changed since the last time; None when that is not known."""
        taken = None if self._is_lost else self._committed
        self._is_lost, self._committed = False, set()
        return taken
