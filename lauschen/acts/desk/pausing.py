"""*Pause*, *resume* and *new code* of something that was issued."""

from lauschen.acts.desk.helping import log_of_credential
from lauschen.acts.desk.reaching import let_go, take_back
from lauschen.acts.desk.within import check_theirs
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid
from lauschen.core.ids import CredentialId
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.codes import CODE_COUNT, make_code
from lauschen.road.tx import Tx
from lauschen.store import credentials, devices
from lauschen.store.credentials import Issued


def pause(tx: Tx, credential: CredentialId) -> bool:
    """Lets nobody in until it is resumed, and whoever is in by it is held. Its time goes on meanwhile.

    False, and nothing else, where it was paused before.
    """
    issued = _there(tx, credential)
    if issued.grant.use.paused_at is not None:
        return False
    credentials.set_paused(tx.conn, credential, tx.now)
    inside = devices.where_admitted(tx.conn, credential)
    let_go(tx, credential, inside, Reason.CODE_PAUSED)
    log_of_credential(tx, "credential_paused", credential, inside, {})
    return True


def resume(tx: Tx, credential: CredentialId) -> bool:
    """End a pause. Devices that it held come in again, now or when they return, if there is time and data left.

    False where it was not paused.
    """
    issued = _there(tx, credential)
    if issued.grant.use.paused_at is None:
        return False
    credentials.set_paused(tx.conn, credential, None)
    held = take_back(tx, credential, Reason.CODE_PAUSED)
    log_of_credential(tx, "credential_resumed", credential, held, {})
    return True


def draw_new_code(tx: Tx, credential: CredentialId) -> str:
    """The one before lets nobody in any more; whoever is in stays in."""
    issued = _there(tx, credential)
    if issued.grant.way is WayIn.ACCOUNT:
        raise Invalid("no_code", field="", mend="An account has a password, and no code.")
    if issued.grant.way is WayIn.PASSPHRASE:
        raise Invalid("no_code", field="", mend="A new passphrase is made in *Passphrases*, with an overlap.")
    code = None
    while code is None:
        drawn = make_code(tx.chance.below(CODE_COUNT))
        code = drawn if credentials.replace_code(tx.conn, tx.keys, credential, drawn) else None
    log_of_credential(tx, "code_renewed", credential, devices.where_admitted(tx.conn, credential), {})
    return code


def _there(tx: Tx, credential: CredentialId) -> Issued:
    check_theirs(tx, credential)
    issued = credentials.get_issued(tx.conn, tx.keys, credential)
    if issued.grant.use.withdrawn_at is not None:
        raise Invalid("withdrawn", field="voucher", mend="It was withdrawn, and lets nobody in.")
    return issued
