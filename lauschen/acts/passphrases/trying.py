"""Keys for a device of which nothing is known: its access point tries them, and it joins with the right one."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from itertools import islice
from typing import TypeVar

from lauschen.core.decide.arrival import Arrival
from lauschen.core.decide.grant import Grant
from lauschen.core.decide.judge import judge
from lauschen.core.ids import KeyId, NetworkId
from lauschen.core.passphrases.strangers import NEW_DEVICES, NEW_DEVICES_S, SHOWN_KEYS, SHOWN_KEYS_S
from lauschen.core.passphrases.trial import Trial, next_trial
from lauschen.core.ways.kinds import WayIn
from lauschen.road.tx import Tx
from lauschen.store.passphrases import bound, strangers, wrong
from lauschen.store.passphrases.bound import Likely
from lauschen.store.passphrases.strangers import Limit

K = TypeVar("K")
ROOM_OCTETS = 2400
"""Of a reply that passphrases may take: so many fit beside all else that an Accept may carry."""


@dataclass(frozen=True, slots=True)
class Tried:
    """What goes to the access point."""

    trial: Trial
    texts: tuple[str, ...]
    grants: tuple[Grant, ...]
    """What each of them leads to."""


def keys_to_try(tx: Tx, arrival: Arrival, network: NetworkId) -> Tried | None:
    """None when there are none that it could have."""
    way = tx.config.networks[network].way(WayIn.PASSPHRASE)
    if way is None or way.is_off or not way.is_open(tx.now):
        return None
    known: dict[KeyId, Likely] = {}
    shown = strangers.shown_since(tx.conn, arrival.access_device, network, tx.now - SHOWN_KEYS_S)
    if len(shown) >= SHOWN_KEYS:
        strangers.note_reached(tx.conn, arrival.access_device, network, Limit.SHOWN, tx.now)

    def window(passed: int) -> tuple[KeyId, ...]:
        found = _fitting(tx, arrival, network, passed, shown)
        known.update((one.key, one) for one in found)
        return tuple(one.key for one in found)

    def holds(key: KeyId) -> bool:
        found = bound.likely_of(tx.conn, key, tx.now)
        if found is None or not _lets_in(tx, found):
            return False
        known[key] = found
        return True

    before = bound.find_trial(tx.conn, arrival.mac, network)
    trial = next_trial(before, window, holds)
    if not trial.given:
        return None
    if before is not None and before.is_whole and trial.passed == 0:
        # It was given all that it may have, and joined with none.
        wrong.count(tx.conn, network, arrival.mac, arrival.access_device, None, tx.now)
    strangers.note_asked(tx.conn, arrival.access_device, network, arrival.mac, tx.now)
    strangers.note_shown(tx.conn, arrival.access_device, network, trial.given, tx.now)
    given = [known[key] for key in trial.given]
    texts = tuple(one.text(tx.keys) for one in given)
    return Tried(trial, texts, tuple(one.grant for one in given))


def are_too_many(tx: Tx, arrival: Arrival, network: NetworkId) -> bool:
    """Return whether its access device had as many other new devices tried as it may."""
    since = tx.now - NEW_DEVICES_S
    others = strangers.count_asked(tx.conn, arrival.access_device, network, since, but=arrival.mac)
    if others < NEW_DEVICES:
        return False
    strangers.note_reached(tx.conn, arrival.access_device, network, Limit.NEW_DEVICES, tx.now)
    return True


def _fitting(tx: Tx, arrival: Arrival, network: NetworkId, passed: int, shown: set[KeyId]) -> list[Likely]:
    """As many as fit into one reply, of those that let one more device in, behind so many likelier ones.

    Once as many were `shown` to the access device as may be, no others go there.
    """
    likely = bound.likely_keys(tx.conn, network, arrival.access_device, tx.now)
    room = SHOWN_KEYS - len(shown)
    may_go = (one for one in likely if one.key in shown or room > 0)
    behind = islice((one for one in may_go if _lets_in(tx, one)), passed, None)
    return fitting(behind, lambda one: one.text(tx.keys))


def fitting(found: Iterable[K], text_of: Callable[[K], str]) -> list[K]:
    """The first of them, as many as fit into one reply."""
    room, kept = ROOM_OCTETS, list[K]()
    for one in found:
        room -= hidden_octets(text_of(one))
        if room < 0:
            break
        kept.append(one)
    return kept


def _lets_in(tx: Tx, one: Likely) -> bool:
    return judge(tx.config.plan_of(one.grant), one.grant, tx.now, one.seats_taken).reason is None


def hidden_octets(text: str) -> int:
    """Of a passphrase in a reply (RFC 2868 section 3.5): type, length, tag, salt, and blocks of sixteen."""
    return 5 + -(-(len(text.encode()) + 1) // 16) * 16
