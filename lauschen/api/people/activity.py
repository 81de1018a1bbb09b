"""The activity record: who did what, from where, and what it was before and after."""

import json
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query, Response

from lauschen.api.door.asking import Inspects, NeedFirst, Row, TheOffice
from lauschen.api.lines import csv_answer
from lauschen.api.people.models import ActOut
from lauschen.api.slices import in_slices
from lauschen.api.words.events import line
from lauschen.api.words.speaker import Speaker
from lauschen.core.actor import ActorKind
from lauschen.core.words.mac import spell_mac
from lauschen.core.words.text import visible
from lauschen.store import log
from lauschen.store.log import EventRow

router = APIRouter(tags=["people"], route_class=NeedFirst)
PAGE = 100
MOST = 10_000
STAFF_KINDS = (ActorKind.PERSON, ActorKind.TOKEN, ActorKind.HOST, ActorKind.COMMAND_LINE)
Kinds = Annotated[list[ActorKind] | None, Query()]


@router.get("/activity")
async def activity(
    _: Inspects, office: TheOffice, before: Row | None = None, who: Row | None = None, kinds: Kinds = None
) -> list[ActOut]:
    """Newest first; without `kinds`, of everybody but guests. `who`: one person or program alone."""
    speaker = office.shaper().speaker()
    rows = log.acts_before(office.reader, kinds or STAFF_KINDS, before, PAGE, who)
    return [act_out(speaker, row) for row in rows]


@router.get("/activity.csv", response_class=Response)
async def as_csv(_: Inspects, office: TheOffice, kinds: Kinds = None) -> Response:
    """The newest ten thousand, newest first."""
    speaker, zone = office.shaper().speaker(), office.config.zone
    shown = (
        act_out(speaker, row) for row in log.acts_before(office.reader, kinds or STAFF_KINDS, None, MOST)
    )
    rows = await in_slices(
        list(shown),
        lambda one: (
            datetime.fromtimestamp(one.at, zone).isoformat(timespec="seconds"), one.actor, one.text, one.source,
            "; ".join(f"{name}: {before} -> {after}" for name, before, after in one.changes),
        ),
    )  # fmt: skip
    return csv_answer("activity.csv", ("at", "who", "what", "from", "before -> after"), rows)


def act_out(speaker: Speaker, row: EventRow) -> ActOut:
    assert row.actor is not None
    changes = json.loads(str(row.facts.get("changes", "[]")))
    return ActOut(
        id=row.id,
        at=row.at,
        actor=visible(speaker.actor(row.actor)),
        kind=row.actor.kind,
        text=line(speaker, row),
        source=row.actor.source,
        changes=[(visible(name), visible(before), visible(after)) for name, before, after in changes],
        mac=spell_mac(row.mac) if row.mac else None,
        network=row.network,
    )
