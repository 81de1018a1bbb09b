"""The room Now: streams with live counts, what needs attention, the listening line; and the log behind it."""

import asyncio
from collections.abc import AsyncIterator
from typing import TYPE_CHECKING

from fastapi import APIRouter, Request
from fastapi.responses import StreamingResponse

from lauschen.api.door.asking import Row, Staff, the_office
from lauschen.api.door.auth import session_token
from lauschen.api.models import LogLine, NowOut
from lauschen.api.now.attention import attention
from lauschen.core.errors import Unavailable
from lauschen.store import log, overview

if TYPE_CHECKING:
    from lauschen.api.app import Office

router = APIRouter(tags=["now"])
MOST_FEEDS = 50
LEAST_PAUSE_S = 0.5
LONGEST_PAUSE_S = 5.0
LOG_PAGE = 60


@router.get("/now")
async def now(request: Request, staff: Staff) -> NowOut:
    return picture_of_now(await the_office(request))


@router.get("/feed")
async def feed(request: Request, staff: Staff) -> StreamingResponse:
    """Server-sent events: one `now` each time something was heard, at most two a second."""
    office = await the_office(request)
    if office.feeds >= MOST_FEEDS:
        raise Unavailable("feed", meanwhile="Too many live views are open; this one shows what it has.")
    token = session_token(request)

    async def make() -> bytes:
        return picture_of_now(office).model_dump_json().encode()

    async def events() -> AsyncIterator[bytes]:
        office.feeds += 1
        try:
            # A session that was ended, here or elsewhere, shows nothing any more.
            while not office.is_closing() and office.gate.of(token) is not None:
                yield b"event: now\ndata: %b\n\n" % await office.now_shown.get(make)
                await _news(office)
        finally:
            office.feeds -= 1

    return StreamingResponse(events(), media_type="text/event-stream")


@router.get("/log")
async def read_log(request: Request, staff: Staff, before: Row | None = None) -> list[LogLine]:
    """Newest first; each decision with its trace in words."""
    office = await the_office(request)
    shaper = office.shaper()
    worder = shaper.worder()
    return [shaper.log_line(row, worder) for row in log.log_before(office.reader, before, LOG_PAGE)]


def picture_of_now(office: "Office") -> NowOut:
    shaper = office.shaper()
    worder = shaper.worder()
    latest = office.road.feed.latest()
    bars = office.road.feed.bars()
    return NowOut(
        at=shaper.now,
        streams=[
            shaper.stream(network, overview.stream_counts(office.reader, network.id, shaper.now))
            for network in shaper.house.networks.values()
        ],
        attention=attention(office.reader, office.road, office.registry, worder),
        line=shaper.log_line(latest, worder) if latest is not None else None,
        bars=bars,
        last_minute=sum(bars),
    )


async def _news(office: "Office") -> None:
    """Returns when something was heard, or after a while, since time alone changes things too."""
    seen = office.road.feed.revision
    await asyncio.sleep(LEAST_PAUSE_S)
    if office.road.feed.revision == seen:
        try:
            await asyncio.wait_for(office.road.feed.changed.wait(), LONGEST_PAUSE_S)
        except TimeoutError:
            return
