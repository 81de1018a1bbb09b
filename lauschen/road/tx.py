"""What one group of jobs works with inside its transaction."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from sqlite3 import Connection

from lauschen.core.actor import Actor
from lauschen.core.config.config import Config
from lauschen.core.decide.arrival import Arrival
from lauschen.core.decide.decision import Decision
from lauschen.core.decide.picture import Picture
from lauschen.core.decide.standing import Standing
from lauschen.core.decide.trace import write_trace
from lauschen.core.errors import Unavailable
from lauschen.core.ids import AccessDeviceId, AllowanceId, Mac, NetworkId, StaffId, StayId
from lauschen.road.chance import Chance
from lauschen.road.memory import Memory
from lauschen.road.trouble import is_trouble
from lauschen.store import allowances, devices, log, stays
from lauschen.store.config.settings import count_version, load_config
from lauschen.store.db import atomic
from lauschen.store.keys import KeyRing
from lauschen.store.log import DecisionRow, EventRow, Facts, LogRow
from lauschen.store.moving import wanted
from lauschen.store.stays import Stay

REPEAT_S = 60.0


class Tx:
    """One transaction: its connection, its instant, and the log rows and effects that wait for its COMMIT."""

    __slots__ = (
        "_charged",
        "_decisions",
        "_events",
        "_note_fault",
        "_noted_again",
        "_refused_again",
        "_reported",
        "_use_config",
        "_written",
        "actor",
        "chance",
        "config",
        "conn",
        "effects",
        "has_mass_work",
        "has_messages",
        "has_wishes",
        "keys",
        "memory",
        "next_log_id",
        "now",
    )

    def __init__(
        self,
        conn: Connection,
        *,
        config: Config,
        keys: KeyRing,
        now: float,
        chance: Chance,
        next_log_id: int,
        memory: Memory,
        use_config: Callable[[Config], None] = lambda _: None,
        note_fault: Callable[[str, Exception, str], None] = lambda *_: None,
    ) -> None:
        self.conn = conn
        self.config = config
        self._use_config = use_config
        self._note_fault = note_fault
        self.keys = keys
        self.now = now
        self.chance = chance
        self.next_log_id = next_log_id
        self.memory = memory
        self.actor: Actor | None = None
        """Who acts now; nobody does while a packet is answered or time alone brings something about."""
        self.has_wishes = False
        """Something is wanted of an access device, which the sender is told of once that is committed."""
        self.has_mass_work = False
        """Work on many devices goes on once this is committed."""
        self.has_messages = False
        """Something was written to the outbox, which is told of it once that is committed."""
        self.effects: list[Callable[[], None]] = []
        self._decisions: list[DecisionRow] = []
        self._events: list[EventRow] = []
        self._noted_again: dict[tuple[Mac, NetworkId], Standing] = {}
        self._refused_again: dict[int, DecisionRow] = {}
        self._reported: dict[StayId, Stay] = {}
        self._charged: dict[AllowanceId, int] = {}
        self._written = 0

    @contextmanager
    def inner(self, *, by: Actor | None = None, holds_wishes: bool = False) -> Iterator[None]:
        """An act of `by`: what it writes is undone together when it raises.

        Facts in memory that its statements touch are forgotten at once. One that `holds_wishes` tells the sender
        itself of what it wants, later.
        """
        had_wishes, outer, was_act = self.has_wishes, self.actor, self.memory.is_act
        with self.savepoint():
            self.actor, self.memory.is_act = by, True
            try:
                yield
                self.settle()
            finally:
                self.actor, self.memory.is_act = outer, was_act
        if holds_wishes:
            self.has_wishes = had_wishes

    @contextmanager
    def savepoint(self) -> Iterator[None]:
        """Everything that is done inside is undone when it raises: rows, memory, and all that waits for COMMIT."""
        self.settle()
        config, mark = self.config, self.memory.mark()
        decisions, events, effects = len(self._decisions), len(self._events), len(self.effects)
        written, next_log_id, refused = self._written, self.next_log_id, dict(self._refused_again)
        flags = self.has_wishes, self.has_messages, self.has_mass_work
        try:
            with atomic(self.conn):
                yield
        except BaseException:
            del self._decisions[decisions:], self._events[events:], self.effects[effects:]
            # Rows of earlier jobs may have been written inside, and were undone with it.
            self._written, self.next_log_id, self._refused_again = written, next_log_id, refused
            self.has_wishes, self.has_messages, self.has_mass_work = flags
            self._noted_again.clear()
            self._reported.clear()
            self._charged.clear()
            self.memory.roll_back(mark)
            if self.config is not config:
                self.config = config
                self._use_config(config)
            raise

    def attempt(self, kind: str, about: str, work: Callable[[], object]) -> bool:
        """Do one item of many, and return whether it was done.

        When it raises, nothing of it is kept and the others go on; Now shows a fault of this `kind`, and what it is
        `about`. What would raise for each of them (a full disk, something outside that is down) is raised.
        """
        try:
            with self.savepoint():
                work()
        except Unavailable:
            raise
        except Exception as exc:
            if is_trouble(exc):
                raise
            self.after_commit(partial(self._note_fault, kind, exc, about))
            return False
        return True

    @property
    def staff(self) -> StaffId | None:
        """Which person acts, if one does."""
        return self.actor.staff if self.actor is not None else None

    def reconfigure(self) -> None:
        """The configuration was changed in this transaction: it is in force for its next job (rulings 8.10)."""
        count_version(self.conn)
        self._load_config()

    def after_commit(self, call: Callable[[], None]) -> None:
        """`call` changes what is no part of the transaction: a flag, a counter, who is on the way."""
        self.effects.append(call)

    def take_in(self) -> None:
        """Another process wrote since the last transaction (the command line): nothing that was known may stay."""
        self.memory.forget_all()
        self.memory.account_names = None
        self.next_log_id = log.last_log_id(self.conn) + 1
        self._load_config()

    def _load_config(self) -> None:
        self.config = load_config(self.conn, self.keys)
        self._use_config(self.config)

    def decided(self, arrival: Arrival, decision: Decision, standing: Standing | None) -> None:
        """Keeps a decision with its trace; the same one again within a minute raises a counter.

        `standing` None: it placed nobody, so it is no link in the chain of a device's placements.
        """
        mark = f"{arrival.access_device}:{arrival.medium}:{decision.mark}"
        before = None
        if standing is None:
            if self._is_refused_again(arrival, mark):
                return
        else:
            if standing.decision_mark == mark and self.now - standing.decision_at < REPEAT_S:
                standing.repeats += 1
                return
            before = standing.decision
            if standing.repeats and before is not None:
                if self._written < len(self._decisions) and before >= self._decisions[self._written].id:
                    self._write_decisions()  # the row still waits in this very group
                log.set_repeats(self.conn, [(standing.repeats, before)])
            standing.decision = self.next_log_id
            standing.decision_at = self.now
            standing.decision_mark = mark
            standing.repeats = 0
        row = DecisionRow(
            self._take_log_id(),
            self.now,
            arrival.mac,
            decision.network,
            arrival.access_device,
            arrival.medium,
            decision.answer,
            decision.reason,
            decision.role,
            decision.rule,
            decision.left.until if decision.left else None,
            write_trace(decision.trace),
            before,
            config=self.config.version,
            hints=arrival.hints(),
        )
        self._decisions.append(row)
        if standing is None:
            self.memory.note_refused(arrival.mac, arrival.access_device, mark, row)

    def _is_refused_again(self, arrival: Arrival, mark: str) -> bool:
        known = self.memory.find_refused(arrival.mac, arrival.access_device)
        if known is None or known[0] != mark or self.now - known[1].at >= REPEAT_S:
            return False
        self.memory.repeat(known[1])
        self._refused_again[known[1].id] = known[1]
        return True

    def repeats(self, picture: Picture) -> bool:
        """Counts the same decision about a known device within a minute; False when it is due to be kept anew."""
        standing = picture.standing
        if standing is None or self.now - standing.decision_at >= REPEAT_S:
            return False
        standing.repeats += 1
        standing.last_heard = self.now
        self._noted_again[standing.mac, standing.network] = standing
        return True

    def log(
        self,
        kind: str,
        *,
        mac: Mac | None = None,
        network: NetworkId | None = None,
        access_device: AccessDeviceId | None = None,
        facts: Facts | None = None,
    ) -> None:
        """Keeps an event that is not a decision, with whoever acts now."""
        self._events.append(
            EventRow(
                self._take_log_id(), self.now, kind, mac, network, access_device, self.actor, facts or {}
            )
        )

    def note_again(self, standing: Standing) -> None:
        """Nothing changed but that a device was heard again; written with others of its kind."""
        self._noted_again[standing.mac, standing.network] = standing

    def save_report(self, stay: Stay) -> None:
        """Written with others of its kind."""
        self._reported[stay.id] = stay

    def charge(self, allowance: AllowanceId, octets: int) -> None:
        """Adds to what was used of an allowance; written with others of its kind."""
        self._charged[allowance] = self._charged.get(allowance, 0) + octets
        self.memory.charge(allowance, octets)

    def read_standing(self, mac: Mac, network: NetworkId) -> Standing | None:
        """A standing as the database has it, with what this group has heard so far."""
        self.settle()
        return devices.find_standing(self.conn, mac, network)

    def write_standing(self, standing: Standing, *, wants: bool = True) -> None:
        """Writes what `read_standing` (or another reader of the database) gave; memory forgets its own.

        The state that is wanted is written with it, unless the caller writes all that should hold (`wants` False).
        """
        devices.save_standing(self.conn, standing)
        if wants:
            wanted.put_state(self.conn, standing.mac, standing.network, standing.wanted, self.now)
        self.memory.forget(standing.mac, standing.network)

    def settle(self) -> None:
        """Before somebody reads standings, stays or credentials from the database."""
        if self._noted_again:
            devices.note_heard(self.conn, self._noted_again.values())
            self._noted_again.clear()
        if self._reported:
            stays.save_reports(self.conn, self._reported.values())
            self._reported.clear()
        if self._charged:
            allowances.charge(self.conn, self._charged)
            self._charged.clear()

    def flush(self) -> None:
        """Writes the rows that waited, with one statement each."""
        self.settle()
        self._write_decisions()
        if self._refused_again:
            log.set_repeats(self.conn, [(row.repeats, row.id) for row in self._refused_again.values()])
        if self._events:
            log.add_events(self.conn, self._events)

    def rows(self) -> list[LogRow]:
        """What this transaction adds to the log, in order."""
        rows: list[LogRow] = [*self._decisions, *self._events]
        rows.sort(key=lambda row: row.id)
        return rows

    def _write_decisions(self) -> None:
        if self._written < len(self._decisions):
            log.add_decisions(self.conn, self._decisions[self._written :])
            self._written = len(self._decisions)

    def _take_log_id(self) -> int:
        taken = self.next_log_id
        self.next_log_id += 1
        return taken
