"""What was decided of a credential reaches each of its devices, hundreds in slices: let go, or told of more."""

from collections.abc import Sequence

from lauschen.acts.arriving.admitting import begin_admission
from lauschen.acts.mass.intents import MassKind, begin
from lauschen.acts.moving.moves import end_stay, let_in
from lauschen.acts.staying.reconsidering import reconsider
from lauschen.core.decide.judge import judge, seats_of
from lauschen.core.decide.reason import LIMIT_REASONS, Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.ids import CredentialId, Mac, NetworkId
from lauschen.core.words.mac import spell_mac
from lauschen.road.tx import Tx
from lauschen.store import allowances, devices
from lauschen.store.moving import intents
from lauschen.store.moving.intents import Intent, Target

Where = tuple[Mac, NetworkId]


def let_go(tx: Tx, credential: CredentialId, found: Sequence[Where], reason: Reason) -> None:
    """End the admissions of these devices, and drop any pending good news for them."""
    intents.remove_of(tx.conn, TELL.name, credential)
    begin(tx, LET_GO, credential, [list(where) for where in found], {"reason": reason})


def tell_of_more(
    tx: Tx, credential: CredentialId, held: Sequence[Where], inside: Sequence[Where], *, by_limit: bool = True
) -> None:
    """Extend the stays of devices inside, and let held devices in again, as many as there are seats.

    `by_limit` False: those were not held by a limit, but sent out.
    """
    grant = allowances.allowances_of(tx.conn, credential)[0]
    back = held[: seats_of(tx.house.plan_of(grant), grant)] if by_limit else held
    targets = [[*where, 0] for where in inside] + [[*where, 1] for where in back]
    begin(tx, TELL, credential, targets, {"by_limit": by_limit})


def call_off(tx: Tx, credential: CredentialId, reason: Reason) -> None:
    """Cancel a pending `let_go` for this reason, because it was undone."""
    intents.remove_of(tx.conn, LET_GO.name, credential, reason)


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
    credential = CredentialId(intent.key)
    if target[2] and standing.admission is None:
        waits = _is_held(standing) if intent.facts["by_limit"] else is_sent_out(standing)
        if waits:
            _readmit(tx, standing, credential)
    elif not target[2] and standing.state is State.INSIDE:
        reconsider(tx, standing, tell=True)


def _is_held(standing: Standing) -> bool:
    return standing.reason in LIMIT_REASONS and State.HELD in (standing.state, standing.wanted)


def is_sent_out(standing: Standing) -> bool:
    """Return whether a withdrawal sent it to the door, where it still is."""
    is_at_door = State.AT_DOOR in (standing.state, standing.wanted)
    return is_at_door and standing.reason is Reason.CODE_WITHDRAWN


def _readmit(tx: Tx, standing: Standing, credential: CredentialId) -> None:
    """Let it in again by what it had, if that is over no more."""
    for grant in allowances.allowances_of(tx.conn, credential):
        verdict = judge(tx.house.plan_of(grant), grant, tx.now)
        if verdict.reason is None:
            admission = begin_admission(tx, standing.mac, standing.network, grant)
            let_in(tx, standing, admission.id, verdict.good_until, 0.0)
            return


def _about(target: Target) -> str:
    return spell_mac(Mac(target[0]))


LET_GO = MassKind("let_go", _let_go, _about)
TELL = MassKind("tell", _tell, _about)
