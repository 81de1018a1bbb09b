"""How long things are kept (rulings 8.9), and that they are forgotten after that: a slice of one table at a time."""

from collections.abc import Callable
from functools import partial
from sqlite3 import Connection

from lauschen.core.decide.judge import judge
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import Standing
from lauschen.core.ids import Mac
from lauschen.core.words.mac import spell_mac
from lauschen.road.tx import Tx
from lauschen.store import (
    addresses,
    admissions,
    batches,
    devices,
    log,
    placements,
    stays,
    visits,
)
from lauschen.store.hosts import questions, vouchings
from lauschen.store.messages import consents, outbox, registrations
from lauschen.store.passphrases import bound, wrong
from lauschen.store.people import issued_once, sessions

DAY_S = 86_400.0
LOG_S = 30 * DAY_S
ACTS_S = 730 * DAY_S
"""What people, programs and the command line did; to a guest's device, as long as its stays."""
STAYS_S = 180 * DAY_S
"""Stays, admissions, placements and addresses."""
LEFT_S = 90 * DAY_S
"""Where devices stood that have left, and devices of which nothing else is kept."""
VISITS_S = 2 * DAY_S
MESSAGES_S = 30 * DAY_S
"""With the addresses that they went to."""
TRIES_S = 3600.0
ONCE_S = 2 * DAY_S
"""How long a request to issue is known again."""
UNFINISHED_S = DAY_S
WRONG_S = 7 * DAY_S
"""Keys that did not hold: whoever tries may make up an address for each."""
SLICE = 200


class Keeper:
    """Each step looks at one slice of one table and goes on with the next at the next step."""

    def __init__(self) -> None:
        self._walks: dict[str, int] = {}
        """How far along each table was looked at; from its beginning again once it was walked through."""
        self._standings_to = Mac(0), 0
        self._tables: list[Callable[[Tx], int]] = [
            lambda tx: log.forget_decisions(tx.conn, tx.now - LOG_S, SLICE),
            self._events,
            lambda tx: visits.forget_visits(tx.conn, tx.now - VISITS_S, SLICE),
            lambda tx: outbox.forget_messages(tx.conn, tx.now - MESSAGES_S, SLICE),
            lambda tx: bound.forget_trials(tx.conn, tx.now - DAY_S, SLICE),
            lambda tx: wrong.forget_wrong(tx.conn, tx.now - WRONG_S, SLICE),
            lambda tx: registrations.forget_registrations(tx.conn, tx.now - STAYS_S, SLICE),
            lambda tx: vouchings.forget_vouchings(tx.conn, tx.now - STAYS_S, SLICE),
            lambda tx: questions.forget_links(tx.conn, tx.now, SLICE),
            lambda tx: consents.forget_consents(tx.conn, tx.now - STAYS_S, SLICE),
            lambda tx: visits.forget_tries(tx.conn, tx.now - TRIES_S, SLICE),
            lambda tx: addresses.forget_addresses(tx.conn, tx.now - STAYS_S, SLICE),
            lambda tx: self._walk(tx, "stay", stays.forget_stays),
            # A placement names its admission, which names its device: from the end of the chain.
            lambda tx: self._walk(tx, "placement", placements.forget_placements),
            lambda tx: self._walk(tx, "admission", admissions.forget_admissions),
            _unfinished,
            self._standings,
            self._devices,
            lambda tx: issued_once.forget_old(tx.conn, tx.now - ONCE_S, SLICE),
            lambda tx: sessions.forget_sessions(tx.conn, tx.now),
        ]
        self._next = 0

    def step(self, tx: Tx) -> bool:
        """Return whether there is more of the same, so that the next step should not wait.

        A table that raises is left for the next turn, and holds up no other.
        """
        gone: list[int] = []
        table = self._tables[self._next]
        has_more = tx.attempt("keeping", "", lambda: gone.append(table(tx))) and gone[0] >= SLICE
        if not has_more:
            tx.after_commit(partial(setattr, self, "_next", (self._next + 1) % len(self._tables)))
        return has_more

    def _walked(self, tx: Tx, table: str, to: int) -> None:
        tx.after_commit(lambda: self._walks.__setitem__(table, to))

    def _walk(
        self, tx: Tx, table: str, forget: Callable[[Connection, float, int, int], tuple[int, int]]
    ) -> int:
        gone, to = forget(tx.conn, tx.now - STAYS_S, self._walks.get(table, 0), SLICE)
        self._walked(tx, table, to)
        return gone

    def _events(self, tx: Tx) -> int:
        kept = log.Kept(log=tx.now - LOG_S, acts_on_devices=tx.now - STAYS_S, acts=tx.now - ACTS_S)
        gone, to = log.forget_events(tx.conn, kept, self._walks.get("event", 0), SLICE)
        self._walked(tx, "event", to)
        return gone

    def _standings(self, tx: Tx) -> int:
        """Those of devices that left long ago; one whose credential is still good may come back by it."""
        walked = devices.standings_after(tx.conn, *self._standings_to, SLICE)
        to = (walked[-1].mac, walked[-1].network) if len(walked) == SLICE else (Mac(0), 0)
        tx.after_commit(partial(setattr, self, "_standings_to", to))
        old = [one for one in walked if devices.has_left(one) and one.last_heard < tx.now - LEFT_S]
        for standing in old:
            tx.attempt("keeping", spell_mac(standing.mac), partial(_forget_standing, tx, standing))
        return len(old)

    def _devices(self, tx: Tx) -> int:
        gone, walked_to = devices.forget_devices(
            tx.conn, tx.now - LEFT_S, Mac(self._walks.get("device", 0)), SLICE
        )
        self._walked(tx, "device", walked_to)
        return gone


def _forget_standing(tx: Tx, standing: Standing) -> None:
    if _lets_go(tx, standing):
        devices.forget_standing(tx.conn, standing.mac, standing.network)


def _unfinished(tx: Tx) -> int:
    """Vouchers that were being issued when the process ended; only those of another run are so old."""
    batch = batches.unfinished_before(tx.conn, tx.now - UNFINISHED_S)
    return 0 if batch is None else batches.forget_unfinished(tx.conn, batch, SLICE)


def _lets_go(tx: Tx, standing: Standing) -> bool:
    """False while the device has an admission by which it would be let in again."""
    admission = devices.open_admission_of(tx.conn, standing.mac, standing.network)
    if admission is None:
        return True
    grant = admission.grant
    if judge(tx.house.plan_of(grant), grant, tx.now).reason is None:
        return False
    admissions.end_admission(tx.conn, admission.id, Reason.TIME_USED_UP, tx.now)
    return True
