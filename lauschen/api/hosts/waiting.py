"""Guests who wait for a host: who is asked, and what the desk may do about it."""

from fastapi import APIRouter

from lauschen.acts.hosts.answering import Answer, answer_by_desk, ask_another
from lauschen.api.door.asking import Helps, Id, Looks, NeedFirst, TheOffice, TheSession
from lauschen.api.hosts import models
from lauschen.api.hosts.shapes import vouching_out
from lauschen.core.ids import HostId, VouchingId
from lauschen.store.hosts import vouchings

router = APIRouter(tags=["hosts"], route_class=NeedFirst)
SHOWN = 100
OVER_SHOWN_S = 4 * 3600.0


@router.get("/vouchings")
async def waiting(_: Looks, viewer: TheSession, office: TheOffice) -> list[models.VouchingOut]:
    """Those who wait, the longest first; then those of the last hours whom nobody answered."""
    shaper = office.shaper()
    conn, keys = shaper.conn, shaper.keys
    found = vouchings.waiting(conn, keys, SHOWN)
    found += vouchings.unanswered(conn, keys, shaper.now - OVER_SHOWN_S, SHOWN)
    return [vouching_out(shaper, one) for one in found if viewer.sight.sees(one.network)]


@router.post("/vouchings/{vouching}/answer", status_code=204)
async def answer(actor: Helps, office: TheOffice, vouching: Id, wanted: models.AnswerIn) -> None:
    """Decides in the host's stead; the guest reads it at once."""
    said = Answer(wanted.length, " ".join(wanted.word.split()))
    await office.road.act(lambda tx: answer_by_desk(tx, VouchingId(vouching), said), by=actor)


@router.post("/vouchings/{vouching}/ask", status_code=204)
async def ask(actor: Helps, office: TheOffice, vouching: Id, wanted: models.AskIn) -> None:
    """Asks another host too; the first answer counts."""
    await office.road.act(lambda tx: ask_another(tx, VouchingId(vouching), HostId(wanted.host)), by=actor)
