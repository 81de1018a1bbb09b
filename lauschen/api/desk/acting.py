"""Acts on what was issued, on one or a selection: each is done, or says why not, and no other waits for it."""

from collections.abc import Callable
from functools import partial

from fastapi import APIRouter

from lauschen.acts.desk import helping, pausing, undoing
from lauschen.acts.desk.undoing import Taken
from lauschen.acts.desk.within import check_theirs
from lauschen.acts.messages.passes import Address, send_issued
from lauschen.api.desk.models import ActedOn, ActOn, NotDone, TakenModel
from lauschen.api.desk.shapes import one_out
from lauschen.api.door.asking import Helps, NeedFirst, TheOffice, TheSession
from lauschen.core.errors import Invalid
from lauschen.core.ids import AllowanceId, CredentialId
from lauschen.road.tx import Tx
from lauschen.store import credentials
from lauschen.store.messages import outbox

router = APIRouter(tags=["desk"], route_class=NeedFirst)
_TURNS: dict[str, tuple[Callable[[Tx, CredentialId], bool], str]] = {
    "pause": (pausing.pause, "It was paused before."),
    "resume": (pausing.resume, "It is not paused."),
    "withdraw": (helping.withdraw, "It was withdrawn before."),
    "restore": (undoing.restore, "It is not withdrawn."),
}
"""What changes nothing is not done, so that nobody undoes what somebody else did."""


@router.post("/issued/acts")
async def act_on(actor: Helps, viewer: TheSession, office: TheOffice, wish: ActOn) -> ActedOn:
    """One after the other, each in a transaction of its own, so that no packet waits for all of them."""
    done, refused, taken = [], [], []
    for number in dict.fromkeys(wish.issued):
        credential = CredentialId(number)
        try:
            less = await office.road.act(partial(_act, wish=wish, credential=credential), by=actor)
        except Invalid as exc:
            refused.append(NotDone(issued=number, text=exc.mend))
            continue
        found = credentials.get_issued(office.reader, office.road.keys, credential)
        done.append(one_out(office.shaper(viewer), found))
        if less is not None:
            taken.append(
                TakenModel(
                    issued=number, seconds={int(key): n for key, n in less.seconds.items()}, until=less.until
                )
            )
    return ActedOn(done=done, refused=refused, taken=taken)


def _act(tx: Tx, wish: ActOn, credential: CredentialId) -> Taken | None:
    if wish.what in ("give-time", "shorten"):
        if wish.seconds is None:
            raise Invalid("seconds_missing", field="seconds", mend="Say how long.")
        if wish.what == "shorten":
            return undoing.shorten(tx, credential, wish.seconds)
        helping.give_time(tx, credential, wish.seconds)
    elif wish.what == "give-back":
        undoing.give_back(tx, credential, _taken(wish, credential))
    elif wish.what in _TURNS:
        turn, otherwise = _TURNS[wish.what]
        if not turn(tx, credential):
            raise Invalid("so_before", field="issued", mend=otherwise)
    else:
        _ACTS[wish.what](tx, credential)
    return None


def _taken(wish: ActOn, credential: CredentialId) -> Taken:
    for one in wish.taken:
        if one.issued == credential:
            return Taken({AllowanceId(key): less for key, less in one.seconds.items()}, one.until)
    return Taken({}, None)


def _send_again(tx: Tx, credential: CredentialId) -> None:
    """To where it went last."""
    check_theirs(tx, credential)
    last = outbox.of_credential(tx.conn, tx.keys, credential, 1)
    if not last or not last[0].to:
        raise Invalid(
            "never_sent", field="issued", mend="It was never sent to anybody. *Send* asks where to."
        )
    send_issued(tx, credential, Address(last[0].channel, last[0].to, last[0].lang))


_ACTS: dict[str, Callable[[Tx, CredentialId], object]] = {
    "new-code": pausing.draw_new_code,
    "forget": helping.forget_away,
    "send-again": _send_again,
}
