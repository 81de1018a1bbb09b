"""How long things are kept (rulings 8.9), and that they are forgotten after that: a slice of one table at a time."""

from collections.abc import Callable
from functools import partial

from lauschen.core.decide.grant import Grant
from lauschen.core.decide.judge import judge
from lauschen.core.decide.over import counts_nothing, over_since
from lauschen.core.decide.standing import Standing
from lauschen.core.ids import AllowanceId, CredentialId, Mac
from lauschen.core.words.mac import spell_mac
from lauschen.road.tx import Tx
from lauschen.store import admissions, batches, devices, log
from lauschen.store.upkeep import issued
from lauschen.store.upkeep.clock import oldest_kept
from lauschen.store.upkeep.keeping import (
    ACTS_S,
    ISSUED_S,
    KEPT,
    LEFT_S,
    LOG_S,
    STAYS_S,
    STRANGERS_S,
    UNFINISHED_S,
    Kept,
    forget,
)

SLICE = 200
ISSUED_SLICE = 50
"""Each is judged, and goes with what leads to it."""
STRANGERS_SLICE = 25
"""Each goes with several rows."""


class Keeper:
    """Each step looks at one slice of one table and goes on with the next at the next step."""

    def __init__(self) -> None:
        self._walks: dict[str, int] = {}
        """How far along each table was looked at; from its beginning again once it was walked through."""
        self._standings_to = Mac(0), 0
        self._tables: list[Callable[[Tx], int]] = [
            self._events,
            *(partial(self._forget, kept) for kept in KEPT),
            _unfinished,
            self._strangers,
            self._standings,
            self._allowances,
            self._credentials,
            self._batches,
            self._devices,
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

    def _forget(self, kept: Kept, tx: Tx) -> int:
        before = oldest_kept(tx.conn, tx.now, kept.keep_s)
        gone, to = forget(tx.conn, kept, before, self._walks.get(kept.table, 0), SLICE)
        self._walked(tx, kept.table, to)
        return gone

    def _events(self, tx: Tx) -> int:
        ages = (oldest_kept(tx.conn, tx.now, keep_s) for keep_s in (LOG_S, STAYS_S, ACTS_S))
        kept = log.Kept(*ages)
        after = self._walks.get("event", 0)
        gone, to = log.forget_events(tx.conn, kept, after, SLICE)
        log.forget_names(tx.conn, after, SLICE)
        self._walked(tx, "event", to)
        return gone

    def _standings(self, tx: Tx) -> int:
        """Those of devices that left long ago; one whose credential is still good may come back by it."""
        before = oldest_kept(tx.conn, tx.now, LEFT_S)
        walked = devices.standings_after(tx.conn, *self._standings_to, SLICE)
        to = (walked[-1].mac, walked[-1].network) if len(walked) == SLICE else (Mac(0), 0)
        tx.after_commit(partial(setattr, self, "_standings_to", to))
        old = [one for one in walked if devices.has_left(one) and one.last_heard < before]
        for standing in old:
            tx.attempt("keeping", spell_mac(standing.mac), partial(_forget_standing, tx, standing))
        return len(old)

    def _strangers(self, tx: Tx) -> int:
        """Phones of passers-by leave rows too; these are deleted after a week."""
        before, after = oldest_kept(tx.conn, tx.now, STRANGERS_S), Mac(self._walks.get("stranger", 0))
        found, walked_to = devices.strangers_after(tx.conn, before, after, SLICE)
        gone = [mac for mac in found if not tx.config.name_of(mac)]
        has_more = len(gone) > STRANGERS_SLICE
        if has_more:
            gone = gone[:STRANGERS_SLICE]
            walked_to = gone[-1]
        self._walked(tx, "stranger", walked_to)
        for mac in gone:
            tx.attempt("keeping", spell_mac(mac), partial(_forget_stranger, tx, mac))
        return SLICE if has_more else len(gone)

    def _allowances(self, tx: Tx) -> int:
        """What one device used of something that others use too, or agreed to by itself."""
        before = oldest_kept(tx.conn, tx.now, ISSUED_S)
        free, to = issued.allowances_after(tx.conn, AllowanceId(self._walks.get("allowance", 0)), SLICE)
        gone: list[int] = []
        for one in free:
            about = f"allowance {one.grant.allowance}"
            tx.attempt("keeping", about, partial(_forget_allowance, tx, one, before, gone))
        self._walked(tx, "allowance", to or 0)
        return len(gone)

    def _credentials(self, tx: Tx) -> int:
        """Codes, accounts, passphrases and what began at the door, with the names they were issued for."""
        before = oldest_kept(tx.conn, tx.now, ISSUED_S)
        after = CredentialId(self._walks.get("credential", 0))
        free, to = issued.credentials_after(tx.conn, before, after, ISSUED_SLICE)
        gone: list[int] = []
        for one in free:
            about = f"credential {one.grant.credential}"
            tx.attempt("keeping", about, partial(_forget_issued, tx, one, before, gone))
        self._walked(tx, "credential", to or 0)
        return SLICE if gone and to is not None else 0

    def _batches(self, tx: Tx) -> int:
        before, counts_before = (oldest_kept(tx.conn, tx.now, keep_s) for keep_s in (ISSUED_S, ACTS_S))
        gone, to = issued.blank_batches(tx.conn, before, counts_before, self._walks.get("batch", 0), SLICE)
        self._walked(tx, "batch", to)
        return gone

    def _devices(self, tx: Tx) -> int:
        gone, walked_to = devices.forget_devices(
            tx.conn, oldest_kept(tx.conn, tx.now, LEFT_S), Mac(self._walks.get("device", 0)), SLICE
        )
        self._walked(tx, "device", walked_to)
        return gone


def _forget_standing(tx: Tx, standing: Standing) -> None:
    if _lets_go(tx, standing):
        devices.forget_standing(tx.conn, standing.mac, standing.network)


def _is_over(tx: Tx, grant: Grant, before: float) -> bool:
    since = over_since(tx.config.plan_of(grant), grant, tx.now)
    return since is not None and since < before


def _begins_as_well_anew(tx: Tx, grant: Grant) -> bool:
    """Whether a device that is back is as well off with a new one from the door."""
    return grant.allowance is None or counts_nothing(tx.config.plan_of(grant))


def _is_no_use(tx: Tx, one: issued.Unused, before: float) -> bool:
    """Nothing leads to it, or it was over before that, or the door would issue it again as it is."""
    return (
        not one.is_found
        or _is_over(tx, one.grant, before)
        or (one.is_of_door and _begins_as_well_anew(tx, one.grant))
    )


def _forget_allowance(tx: Tx, one: issued.Unused, before: float, gone: list[int]) -> None:
    assert one.grant.allowance is not None
    if _is_no_use(tx, one, before):
        issued.forget_allowance(tx.conn, one.grant.allowance)
        gone.append(one.grant.allowance)


def _forget_issued(tx: Tx, one: issued.Unused, before: float, gone: list[int]) -> None:
    assert one.grant.credential is not None
    if _is_no_use(tx, one, before):
        issued.forget_credential(tx.conn, one.grant.credential)
        gone.append(one.grant.credential)


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
    verdict = judge(tx.config.plan_of(grant), grant, tx.now)
    if verdict.reason is None:
        return False
    # Its limit ended it, whenever that is noticed: what is kept of it counts from then.
    ended = tx.now if verdict.ended is None else max(admission.begun, verdict.ended)
    admissions.end_admission(tx.conn, admission.id, verdict.reason, ended)
    return True


def _forget_stranger(tx: Tx, mac: Mac) -> None:
    for network in devices.forget_stranger(tx.conn, mac):
        tx.memory.forget(mac, network)
