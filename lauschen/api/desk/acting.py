"""Acts on what was issued, on one or a selection: each is done, or says why not, and no other waits for it."""

from collections.abc import Callable
from functools import partial

from fastapi import APIRouter

from lauschen.acts.desk import helping, pausing, undoing
from lauschen.acts.desk.within import check_theirs
from lauschen.acts.messages.passes import Address, send_issued
from lauschen.api.desk.models import ActedOn, ActOn, NotDone
from lauschen.api.desk.shapes import one_out
from lauschen.api.door.asking import Helps, TheOffice, TheSession
from lauschen.core.errors import Invalid
from lauschen.core.ids import CredentialId
from lauschen.road.tx import Tx
from lauschen.store import credentials
from lauschen.store.messages import outbox

router = APIRouter(tags=["desk"])
_ACTS: dict[str, Callable[[Tx, CredentialId], object]] = {
    "pause": pausing.pause,
    "resume": pausing.resume,
    "withdraw": helping.withdraw,
    "restore": undoing.restore,
    "new-code": pausing.draw_new_code,
    "forget": helping.forget_away,
}
_BY_TIME: dict[str, Callable[[Tx, CredentialId, int], None]] = {
    "give-time": helping.give_time,
    "shorten": undoing.shorten,
}


@router.post("/issued/acts")
async def act_on(actor: Helps, viewer: TheSession, office: TheOffice, wish: ActOn) -> ActedOn:
    """One after the other, each in a transaction of its own, so that no packet waits for all of them."""
    done, refused = [], []
    for number in dict.fromkeys(wish.issued):
        credential = CredentialId(number)
        try:
            await office.road.act(partial(_act, wish=wish, credential=credential), by=actor)
        except Invalid as exc:
            refused.append(NotDone(issued=number, text=exc.mend))
            continue
        found = credentials.get_issued(office.reader, office.road.keys, credential)
        done.append(one_out(office.shaper(viewer), found))
    return ActedOn(done=done, refused=refused)


def _act(tx: Tx, wish: ActOn, credential: CredentialId) -> None:
    if wish.what in _BY_TIME:
        if wish.seconds is None:
            raise Invalid("seconds_missing", field="seconds", mend="Say how long.")
        _BY_TIME[wish.what](tx, credential, wish.seconds)
    elif wish.what == "send-again":
        _send_again(tx, credential)
    else:
        credentials.get_credential(tx.conn, credential)
        _ACTS[wish.what](tx, credential)


def _send_again(tx: Tx, credential: CredentialId) -> None:
    """To where it went last."""
    check_theirs(tx, credential)
    last = outbox.of_credential(tx.conn, tx.keys, credential, 1)
    if not last or not last[0].to:
        raise Invalid(
            "never_sent", field="issued", mend="It was never sent to anybody. *Send* asks where to."
        )
    send_issued(tx, credential, Address(last[0].channel, last[0].to, last[0].lang))
