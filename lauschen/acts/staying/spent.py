"""The last octet of an allowance was used by one of its devices: the others are over too, hundreds in slices."""

from lauschen.acts.mass.intents import MassKind, begin
from lauschen.acts.staying.reconsidering import reconsider
from lauschen.core.decide.standing import State
from lauschen.core.ids import AllowanceId, Mac, NetworkId
from lauschen.core.words.mac import spell_mac
from lauschen.road.tx import Tx
from lauschen.store import admissions
from lauschen.store.moving.intents import Intent, Target


def end_for_all(tx: Tx, allowance: AllowanceId, mac: Mac) -> None:
    """Reconsider every other device that is in by it; `mac`: the one whose report showed it."""
    others = admissions.in_by(tx.conn, allowance, mac)
    if others:
        begin(tx, SPENT, allowance, [list(where) for where in others], {})


def _look_again(tx: Tx, intent: Intent, target: Target) -> None:
    standing = tx.read_standing(Mac(target[0]), NetworkId(target[1]))
    if standing is not None and standing.admission is not None and standing.state is not State.LEFT:
        reconsider(tx, standing)


SPENT = MassKind("spent", _look_again, lambda target: spell_mac(Mac(target[0])))
