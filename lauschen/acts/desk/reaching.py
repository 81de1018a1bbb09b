"""What was decided of a credential reaches each of its devices, hundreds in slices: let go, or told of more."""

from collections.abc import Sequence

from lauschen.acts.arriving.admitting import begin_admission
from lauschen.acts.arriving.placing import enter
from lauschen.acts.mass.intents import MassKind, begin
from lauschen.acts.moving.moves import end_stay, let_in
from lauschen.acts.staying.reconsidering import reconsider
from lauschen.core.decide.judge import judge, seats_of
from lauschen.core.decide.reason import FOR_A_WHILE, LIMIT_REASONS, Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.ids import CredentialId, Mac, NetworkId
from lauschen.core.words.mac import spell_mac
from lauschen.road.tx import Tx
from lauschen.store import admissions, allowances, devices
from lauschen.store.moving import intents
from lauschen.store.moving.intents import Intent, Target

Where = tuple[Mac, NetworkId]
INSIDE, BACK, BEYOND = range(3)
"""What happens to a device: its stay gets a new end, it may come in again, or no seat is free for it."""


def let_go(tx: Tx, credential: CredentialId, found: Sequence[Where], reason: Reason) -> None:
    """End the admissions of these devices, and drop any pending good news for them."""
    intents.remove_of(tx.conn, TELL.name, credential)
    begin(tx, LET_GO, credential, [list(where) for where in found], {"reason": reason})


def tell_of_more(tx: Tx, credential: CredentialId, held: Sequence[Where], inside: Sequence[Where]) -> None:
    """Extend the stays of devices inside, and let held devices in again, as many as there are seats."""
    targets = [[*where, INSIDE] for where in inside]
    targets += [[*where, BACK] for where in held[: _seats(tx, credential)]]
    begin(tx, TELL, credential, targets, {})


def take_back(tx: Tx, credential: CredentialId, reason: Reason) -> list[Where]:
    """Undo a `let_go` for this reason; returns the devices that it concerns.

    Devices that are here are let in again, as many as there are seats; the others are at the door. Those that left
    meanwhile may come back as if nothing had been.
    """
    intents.remove_of(tx.conn, LET_GO.name, credential, reason)
    found = devices.put_out_by(tx.conn, credential, reason)
    here = [(mac, network) for mac, network, is_away in found if not is_away]
    away = [(mac, network) for mac, network, is_away in found if is_away]
    seats = _seats(tx, credential)
    targets = [[*where, BACK] for where in [*here[:seats], *away]]
    targets += [[*where, BEYOND] for where in here[len(here[:seats]) :]]
    begin(tx, TELL, credential, targets, {"reason": reason})
    return [*here, *away]


def _seats(tx: Tx, credential: CredentialId) -> int | None:
    grant = allowances.allowances_of(tx.conn, credential)[0]
    return seats_of(tx.config.plan_of(grant), grant)


def _let_go(tx: Tx, intent: Intent, target: Target) -> None:
    where = Mac(target[0]), NetworkId(target[1])
    if devices.is_in_by(tx.conn, *where, CredentialId(intent.key)):
        standing = devices.find_standing(tx.conn, *where)
        assert standing is not None
        end_stay(tx, standing, Reason(str(intent.facts["reason"])))


def _tell(tx: Tx, intent: Intent, target: Target) -> None:
    standing = devices.find_standing(tx.conn, Mac(target[0]), NetworkId(target[1]))
    if standing is None:
        return
    reason = intent.facts.get("reason")
    waits = _is_held(standing) if reason is None else standing.reason == reason
    if target[2] == INSIDE and standing.state is State.INSIDE:
        reconsider(tx, standing, tell=True)
    elif target[2] != INSIDE and waits and standing.admission is None:
        if target[2] == BEYOND:
            _leave_at_door(tx, standing)
        else:
            _readmit(tx, standing, CredentialId(intent.key))


def _is_held(standing: Standing) -> bool:
    return standing.reason in LIMIT_REASONS and State.HELD in (standing.state, standing.wanted)


def _readmit(tx: Tx, standing: Standing, credential: CredentialId) -> None:
    """Let it in again by what it had, if that is over no more; one that is away once it is back."""
    for grant in allowances.allowances_of(tx.conn, credential):
        verdict = judge(tx.config.plan_of(grant), grant, tx.now)
        if verdict.reason is not None and verdict.reason not in FOR_A_WHILE:
            # Give the current reason, not one that has since been undone.
            standing.reason, standing.reason_at = verdict.reason, verdict.ended
            continue
        admission = begin_admission(tx, standing.mac, standing.network, grant)
        if standing.state is not State.LEFT and verdict.reason is None:
            let_in(tx, standing, admission.id, verdict.good_until, 0.0)
            return
        admissions.free_seat(tx.conn, admission.id)
        standing.admission = admission.id
        _leave_at_door(tx, standing)
        return
    tx.write_standing(standing)


def _leave_at_door(tx: Tx, standing: Standing) -> None:
    """Nothing holds it any more, and it is not let in either."""
    standing.reason = standing.reason_at = None
    if standing.going is State.HELD:
        standing.wanted = State.AT_DOOR
    elif standing.state is State.HELD:
        enter(standing, State.AT_DOOR, tx.now)
    tx.write_standing(standing)


def _about(target: Target) -> str:
    return spell_mac(Mac(target[0]))


LET_GO = MassKind("let_go", _let_go, _about)
TELL = MassKind("tell", _tell, _about)
