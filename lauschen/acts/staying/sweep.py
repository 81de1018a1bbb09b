"""What time alone brings about: what the clock alone changes, bars that end, seats that nobody took."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from lauschen.acts.desk.helping import lift_bar_by_tries
from lauschen.acts.passphrases.changing import put_out_by_old_key
from lauschen.acts.staying.comings import leave
from lauschen.acts.staying.endings import close_lost
from lauschen.acts.staying.reconsidering import reconsider
from lauschen.core.decide.standing import Standing
from lauschen.core.ids import Mac
from lauschen.core.limits.left import DOOR_SESSION_S, INTERIM_S
from lauschen.core.words.mac import spell_mac
from lauschen.road.slices import PutOff, Slice
from lauschen.road.tx import Tx
from lauschen.store import admissions, devices, stays
from lauschen.store.passphrases import bound

AT_ONCE = 50
"""Read at once; a slice ends sooner when its time is over."""
WALKED_AT_ONCE = 200
"""Open stays, and seats, looked at in one turn."""
DOOR_GRACE_S = 600
"""A device before login asks again when its time-out is over; silence beyond this means that it has left."""
DOOR_SILENCE_S = DOOR_SESSION_S + DOOR_GRACE_S
OVER_GRACE_S = 10
"""The access device keeps Session-Timeout itself; this long after it we do."""
SEAT_GRACE_S = 120
KEYS_AGAIN_S = 86_400.0
"""A device that is inside by a passphrase that ended so long ago is looked at again and again."""
FAULT = "sweep"


@dataclass(frozen=True, slots=True)
class Swept:
    """How much was done."""

    done: int
    has_more: bool
    """What is due was not all done: the next slice should not wait."""


class Sweeper:
    """Does what is due in slices. An item that raises is put off, and the others are done.

    It walks over the open stays from turn to turn, for those that fell silent, and over the seats.
    """

    def __init__(self) -> None:
        self._walked_to = Mac(0)
        self._seats_to = 0.0
        self._keys_since = 0.0
        """Passphrases that ended before are done with; after a start none is, however long the house was down."""
        self._first = 0
        """The part that the next slice begins with: one that is cut short goes on where it stopped."""
        self._put_off = PutOff()

    def sweep(self, tx: Tx) -> Swept:
        """Do one slice of everything that became due by `tx.now`."""
        slice_ = Slice()
        parts: list[Callable[[Tx, Slice], bool]] = [
            self._end_silent, self._reconsider, self._lift_bars,
            self._leave_door, self._end_old_keys, self._free_seats,
        ]  # fmt: skip
        has_more, first = False, self._first
        for number in range(len(parts)):
            at = (self._first + number) % len(parts)
            if slice_.is_over:
                has_more, first = True, at
                break
            has_more |= parts[at](tx, slice_)
        tx.after_commit(lambda: setattr(self, "_first", first))
        return Swept(slice_.done, has_more)

    def _do(
        self, tx: Tx, slice_: Slice, mac: Mac, key: tuple[object, ...], work: Callable[[], object]
    ) -> None:
        self._put_off.attempt(tx, FAULT, key, spell_mac(mac), work)
        slice_.done += 1

    def _end_silent(self, tx: Tx, slice_: Slice) -> bool:
        lost, walked_to = stays.silent_stays(tx.conn, tx.now, INTERIM_S, self._walked_to, WALKED_AT_ONCE)
        cut = False
        for stay in sorted(lost, key=lambda stay: stay.mac):
            if slice_.is_over:
                cut = True
                break
            self._do(tx, slice_, stay.mac, ("stay", stay.id), partial(close_lost, tx, stay))
            walked_to = stay.mac if slice_.is_over else walked_to
        slice_.has_walked = True
        tx.after_commit(lambda: setattr(self, "_walked_to", walked_to))
        return cut

    def _reconsider(self, tx: Tx, slice_: Slice) -> bool:
        due = devices.to_reconsider(tx.conn, tx.now - OVER_GRACE_S, self._room())
        return self._each_standing(tx, slice_, due, "reconsider", partial(reconsider, tx))

    def _lift_bars(self, tx: Tx, slice_: Slice) -> bool:
        ended = devices.ended_bars(tx.conn, tx.now, self._room())
        for mac in ended:
            if slice_.is_over:
                return True
            self._do(tx, slice_, mac, ("bar", mac), partial(lift_bar_by_tries, tx, mac))
        return len(ended) >= self._room()

    def _leave_door(self, tx: Tx, slice_: Slice) -> bool:
        has_more, before = False, tx.now - DOOR_SILENCE_S
        for network in tx.config.networks:
            silent = devices.silent_at_door(tx.conn, network, before, self._room())
            has_more |= self._each_standing(tx, slice_, silent, "door", partial(_leave_silently, tx))
        return has_more

    def _end_old_keys(self, tx: Tx, slice_: Slice) -> bool:
        since = min(self._keys_since, tx.now - KEYS_AGAIN_S)
        due = bound.inside_by_ended(tx.conn, since, tx.now, self._room())
        for mac, network in due:
            if slice_.is_over:
                return True
            self._do(tx, slice_, mac, ("key", mac, network), partial(put_out_by_old_key, tx, mac, network))
        has_more, now = len(due) >= self._room(), tx.now
        if not has_more:
            tx.after_commit(lambda: setattr(self, "_keys_since", now - KEYS_AGAIN_S))
        return has_more

    def _free_seats(self, tx: Tx, slice_: Slice) -> bool:
        before = tx.now - SEAT_GRACE_S
        walked_to = admissions.free_seats_without_stay(tx.conn, self._seats_to, before, WALKED_AT_ONCE)
        slice_.has_walked = True
        tx.after_commit(lambda: setattr(self, "_seats_to", walked_to))
        return False

    def _each_standing(
        self, tx: Tx, slice_: Slice, due: list[Standing], what: str, work: Callable[[Standing], object]
    ) -> bool:
        for standing in due:
            if slice_.is_over:
                return True
            key = what, standing.mac, standing.network
            self._do(tx, slice_, standing.mac, key, partial(work, standing))
        return len(due) >= self._room()

    def _room(self) -> int:
        """Those that are put off are read too, and must not fill the slice."""
        return AT_ONCE + len(self._put_off)


def _leave_silently(tx: Tx, standing: Standing) -> None:
    """One that was not asked about again. If its session is still reported it is there: its access device does not
    keep the time-out before login."""
    stay = None
    if standing.session_id is not None:
        tx.settle()
        stay = stays.open_stay(tx.conn, standing.mac, standing.session_id, standing.access_device)
    if (
        stay is not None
        and stay.last_event > standing.last_heard
        and stay.last_event > tx.now - DOOR_SILENCE_S
    ):
        standing.last_heard = stay.last_event
        tx.write_standing(standing)
    else:
        leave(tx, standing)
