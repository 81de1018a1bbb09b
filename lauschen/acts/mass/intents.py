"""Begins work on many devices, and does a slice of it: the first at once, the others between packets."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from itertools import groupby
from operator import attrgetter

from lauschen.core.decide.standing import Standing
from lauschen.core.ids import Mac
from lauschen.core.words.mac import spell_mac
from lauschen.road.slices import AGAIN_S, Slice
from lauschen.road.tx import Tx
from lauschen.store import devices
from lauschen.store.log import Facts
from lauschen.store.moving import intents
from lauschen.store.moving.intents import Intent, Target

WALKED_AT_ONCE = 50
LAST_NETWORK = 1 << 62
"""Behind every network of a device."""
FAULT = "mass"
FEW = 200
PIECE = 100


def _nothing(tx: Tx, intent: Intent) -> None:
    """Nothing is left to be done."""


@dataclass(frozen=True, slots=True)
class MassKind:
    """What is done to one target of an intent, and once all are done."""

    name: str
    work: Callable[[Tx, Intent, Target], None]
    about: Callable[[Target], str]
    """Return what Now calls a target that raised."""
    finish: Callable[[Tx, Intent], None] = _nothing

    def do_slice(self, tx: Tx, intent: Intent) -> None:
        slice_ = Slice()
        while intent.done < intent.size and not slice_.is_over:
            for target in intents.targets_of(tx.conn, intent.id, intent.done):
                self._attempt(tx, intent, intent.done, target)
                intent.done += 1
                slice_.done += 1
                if slice_.is_over:
                    break
        if intent.done < intent.size:
            _go_on(tx, intent)
            return
        if slice_.done == 0:
            again, intent.failed = intent.failed, []
            for position in again:
                self._attempt(tx, intent, position, intents.targets_of(tx.conn, intent.id, position)[0])
        if not intent.failed:
            self.finish(tx, intent)
        _end(tx, intent)

    def _attempt(self, tx: Tx, intent: Intent, position: int, target: Target) -> None:
        if not tx.attempt(FAULT, self.about(target), partial(self.work, tx, intent, target)):
            intent.failed.append(position)


@dataclass(frozen=True, slots=True)
class Walk:
    """Something is done to everybody who may be concerned: a walk over all standings, in order of MAC address.

    `Intent.done` is the address behind which it goes on, `Intent.failed` has those whose turn raised.
    """

    name: str
    work: Callable[[Tx, Intent, Standing], None]

    def do_slice(self, tx: Tx, intent: Intent) -> None:
        slice_ = Slice()
        if intent.is_walked:
            again, intent.failed = intent.failed, []
            for mac in again:
                self._attempt(tx, intent, slice_, mac, devices.standings_of(tx.conn, Mac(mac)))
            _end(tx, intent)
            return
        walked = devices.standings_after(tx.conn, Mac(intent.done), LAST_NETWORK, WALKED_AT_ONCE)
        is_end = len(walked) < WALKED_AT_ONCE
        # The last device may stand on more networks than were read.
        known = walked if is_end else [one for one in walked if one.mac != walked[-1].mac]
        if walked and not known:
            known = devices.standings_of(tx.conn, walked[0].mac)  # it alone stands on as many networks
        for mac, standings in groupby(known, key=attrgetter("mac")):
            if slice_.is_over:
                is_end = False
                break
            self._attempt(tx, intent, slice_, mac, list(standings))
            intent.done = mac
        if is_end:
            intent.is_walked = True
            _end(tx, intent)
        else:
            _go_on(tx, intent)

    def _attempt(self, tx: Tx, intent: Intent, slice_: Slice, mac: int, standings: list[Standing]) -> None:
        def each() -> None:
            for standing in standings:
                self.work(tx, intent, standing)

        if not tx.attempt(FAULT, spell_mac(Mac(mac)), each):
            intent.failed.append(mac)
        slice_.done += 1


@dataclass(frozen=True, slots=True)
class Pieces:
    """Something is done to all rows of which it is still to be done, some at a time."""

    name: str
    work: Callable[[Tx, Intent, int], int]
    """Do at most so many; return how many."""

    def do_slice(self, tx: Tx, intent: Intent) -> None:
        slice_ = Slice()
        while not slice_.is_over:
            if self.work(tx, intent, PIECE) < PIECE:
                _end(tx, intent)
                return
            slice_.done += 1
        _go_on(tx, intent)


def begin_pieces(tx: Tx, kind: Pieces, key: int) -> None:
    """Do the first ones at once; the others follow between packets."""
    intents.remove_of(tx.conn, kind.name, key)
    kind.do_slice(tx, intents.add_intent(tx.conn, kind.name, key, [], {}, tx.actor, tx.now))


def begin(tx: Tx, kind: MassKind, key: int, targets: Sequence[Target], facts: Facts) -> None:
    """Write down what is to be done, and do as much as fits into a slice; where they are many, all of it follows."""
    intent = intents.add_intent(tx.conn, kind.name, key, targets, facts, tx.actor, tx.now)
    if len(targets) <= FEW:
        kind.do_slice(tx, intent)
    else:
        tx.has_mass_work = True  # finding them took its time


def begin_later(tx: Tx, kind: Walk, key: int) -> None:
    """Write down that a walk is to be done, once what the act changed of the configuration is in force."""
    intents.remove_of(tx.conn, kind.name, key)  # a pending walk of the same kind starts over
    intents.add_intent(tx.conn, kind.name, key, [], {}, tx.actor, tx.now)
    tx.has_mass_work = True


def _go_on(tx: Tx, intent: Intent) -> None:
    intents.save_progress(tx.conn, intent, tx.now)
    tx.has_mass_work = True


def _end(tx: Tx, intent: Intent) -> None:
    """It is done, but for those that raised, whose turn comes again."""
    if intent.failed:
        intents.save_progress(tx.conn, intent, tx.now + AGAIN_S)
    else:
        intents.remove_intent(tx.conn, intent.id)
