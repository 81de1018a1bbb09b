"""Begins work on many devices, and does a slice of it: the first at once, the others between packets."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

from lauschen.road.slices import AGAIN_S, Slice
from lauschen.road.tx import Tx
from lauschen.store.log import Facts
from lauschen.store.moving import intents
from lauschen.store.moving.intents import Intent, Target


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


def begin(tx: Tx, kind: MassKind, key: int, targets: Sequence[Target], facts: Facts) -> None:
    """Write down what is to be done to each target, and do as much as fits into a slice."""
    work(tx, kind, intents.add_intent(tx.conn, kind.name, key, targets, facts, tx.actor, tx.now))


def work(tx: Tx, kind: MassKind, intent: Intent) -> None:
    """Do one slice; an intent that is done is gone."""
    slice_ = Slice()
    while intent.done < len(intent.targets) and not slice_.is_over:
        _attempt(tx, kind, intent, intent.done)
        intent.done += 1
        slice_.done += 1
    if intent.done < len(intent.targets):
        intents.save_progress(tx.conn, intent, tx.now)
        tx.has_mass_work = True
        return
    again, intent.failed = (intent.failed, []) if slice_.done == 0 else ([], intent.failed)
    for position in again:
        _attempt(tx, kind, intent, position)
    if intent.failed:
        intents.save_progress(tx.conn, intent, tx.now + AGAIN_S)
    else:
        kind.finish(tx, intent)
        intents.remove_intent(tx.conn, intent.id)


def _attempt(tx: Tx, kind: MassKind, intent: Intent, position: int) -> None:
    target = intent.targets[position]
    if not tx.attempt("mass", kind.about(target), partial(kind.work, tx, intent, target)):
        intent.failed.append(position)
