"""The room Now: streams with live counts, what needs attention, the listening line; and the log behind it."""

import asyncio
from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from fastapi.responses import StreamingResponse

from lauschen.api.door.asking import Looks, Row, TheOffice
from lauschen.api.door.office import Office
from lauschen.api.now.attention import attention
from lauschen.api.now.first_path import first_path
from lauschen.api.now.models import LogLine, NowOut
from lauschen.api.now.shapes import log_line_out, stream_out
from lauschen.api.slices import in_slices
from lauschen.core.errors import Unavailable
from lauschen.store import log, overview

router = APIRouter(tags=["now"])
MOST_FEEDS = 50
LEAST_PAUSE_S = 0.5
LONGEST_PAUSE_S = 5.0
LOG_PAGE = 60


@router.get("/now")
async def now(_: Looks, office: TheOffice) -> NowOut:
    return await picture_of_now(office)


@router.get("/feed")
async def feed(_: Looks, office: TheOffice, request: Request) -> StreamingResponse:
    """Server-sent events: one `now` each time something was heard, at most two a second."""
    if office.feeds >= MOST_FEEDS:
        raise Unavailable("feed", meanwhile="Too many live views are open; this one shows what it has.")

    async def make() -> bytes:
        return (await picture_of_now(office)).model_dump_json().encode()

    async def events() -> AsyncIterator[bytes]:
        office.feeds += 1
        try:
            # A session that was ended, here or elsewhere, shows nothing any more.
            while not office.is_closing() and office.gate.of(request) is not None:
                yield b"event: now\ndata: %b\n\n" % await office.now_shown.get(make)
                await _news(office)
        finally:
            office.feeds -= 1

    return StreamingResponse(events(), media_type="text/event-stream")


@router.get("/log")
async def read_log(_: Looks, office: TheOffice, before: Row | None = None) -> list[LogLine]:
    """Newest first; each decision with its trace in words."""
    shaper = office.shaper()
    speaker = shaper.speaker()
    return [log_line_out(speaker, row) for row in log.log_before(office.reader, before, LOG_PAGE)]


async def picture_of_now(office: Office) -> NowOut:
    """Of all networks, a few at a time."""
    shaper = office.shaper()
    speaker = shaper.speaker()
    latest = office.road.feed.latest()
    bars = office.road.feed.bars()
    streams = await in_slices(
        list(shaper.house.networks.values()),
        lambda network: stream_out(
            shaper, network, overview.stream_counts(office.reader, network.id, shaper.now)
        ),
    )
    await asyncio.sleep(0)
    return NowOut(
        at=shaper.now,
        first_path=first_path(office.reader, shaper.house, office.registry),
        streams=streams,
        attention=attention(office.reader, office.road, office.registry, speaker, office.certificate),
        line=log_line_out(speaker, latest) if latest is not None else None,
        bars=bars,
        last_minute=sum(bars),
    )


async def _news(office: Office) -> None:
    """Returns when something was heard, or after a while, since time alone changes things too."""
    seen = office.road.feed.revision
    await asyncio.sleep(LEAST_PAUSE_S)
    if office.road.feed.revision == seen:
        try:
            await asyncio.wait_for(office.road.feed.changed.wait(), LONGEST_PAUSE_S)
        except TimeoutError:
            return
