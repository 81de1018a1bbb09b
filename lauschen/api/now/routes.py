"""The room Now: streams with live counts, what needs attention, the listening line; and the log behind it."""

import asyncio
from collections.abc import AsyncIterator, Callable
from contextlib import suppress
from functools import partial

from fastapi import APIRouter, Request
from fastapi.responses import StreamingResponse

from lauschen.api.door.asking import Looks, NeedFirst, Row, TheOffice, TheSession
from lauschen.api.door.office import Office
from lauschen.api.now.attention import attention
from lauschen.api.now.first_path import first_path
from lauschen.api.now.models import LogLine, NowOut
from lauschen.api.now.seeing import sees_attention, sees_row
from lauschen.api.now.shapes import log_line_out, stream_out
from lauschen.api.slices import in_slices
from lauschen.core.errors import Unavailable
from lauschen.core.people.sight import Sight
from lauschen.store import log, overview

router = APIRouter(tags=["now"], route_class=NeedFirst)
MOST_FEEDS, FEEDS_EACH = 50, 10
"""Live views in all, and of one person or program."""
LEAST_PAUSE_S = 0.5
LOOKS, LOOK_S = 5, 1.0
"""In a quiet house a view is sent anew after so many looks at whether its session goes on."""
LOG_PAGE = 60
MOST_PAGES = 200
"""Of the log that are looked through for one page of what somebody may see."""


@router.get("/now")
async def now(_: Looks, viewer: TheSession, office: TheOffice) -> NowOut:
    return await picture_of_now(office, viewer.sight)


@router.get("/feed")
async def feed(actor: Looks, office: TheOffice, request: Request) -> StreamingResponse:
    """Server-sent events: one `now` each time something was heard, at most two a second."""
    if office.feeds.total() >= MOST_FEEDS or office.feeds[actor.staff] >= FEEDS_EACH:
        raise Unavailable("feed", meanwhile="Too many live views are open; this one shows what it has.")

    async def events() -> AsyncIterator[bytes]:
        office.feeds[actor.staff] += 1
        try:
            # A session that was ended, here or elsewhere, shows nothing any more.
            while not office.is_closing() and (viewer := office.gate.of(request)) is not None:
                sight = viewer.sight
                picture = await office.shared("now", sight).get(partial(_as_json, office, sight))
                yield b"event: now\ndata: %b\n\n" % picture
                await _news(office, lambda: office.gate.of(request) is None)
        finally:
            office.feeds[actor.staff] -= 1

    return StreamingResponse(events(), media_type="text/event-stream")


@router.get("/log")
async def read_log(
    _: Looks, viewer: TheSession, office: TheOffice, before: Row | None = None
) -> list[LogLine]:
    """Newest first; each decision with its trace in words."""
    speaker = office.shaper().speaker()
    return [log_line_out(speaker, row) for row in await _seen(office, before, viewer.sight)]


async def _seen(office: Office, before: int | None, sight: Sight) -> list[log.LogRow]:
    """Return a page of what may be seen; a long way is gone a little at a time."""
    found: list[log.LogRow] = []
    for _ in range(MOST_PAGES):
        page = log.log_before(office.reader, before, LOG_PAGE)
        found += [row for row in page if sees_row(office.reader, sight, row)]
        if len(page) < LOG_PAGE or len(found) >= LOG_PAGE:
            break
        before = page[-1].id
        await asyncio.sleep(0)
    return found[:LOG_PAGE]


async def _as_json(office: Office, sight: Sight) -> bytes:
    return (await picture_of_now(office, sight)).model_dump_json().encode()


async def picture_of_now(office: Office, sight: Sight) -> NowOut:
    """Of all networks that may be seen, a few at a time.

    What concerns the whole house is for people without a network limit.
    """
    shaper = office.shaper()
    speaker = shaper.speaker()
    latest = office.road.feed.latest()
    bars = office.road.feed.bars()
    streams = await in_slices(
        [network for network in shaper.config.networks.values() if sight.sees(network.id)],
        lambda network: stream_out(
            shaper, network, overview.stream_counts(office.reader, network.id, shaper.now)
        ),
    )
    await asyncio.sleep(0)
    found = attention(
        office.reader, office.road, office.registry, speaker, office.certificate,
        lambda one: sees_attention(office.reader, sight, one),
    )  # fmt: skip
    if latest is not None and not sees_row(office.reader, sight, latest):
        latest = None
    return NowOut(
        at=shaper.now,
        first_path=first_path(office.reader, shaper.config, office.registry),
        streams=streams,
        attention=found,
        line=log_line_out(speaker, latest) if latest is not None else None,
        bars=bars,
        last_minute=sum(bars),
    )


async def _news(office: Office, is_over: Callable[[], bool]) -> None:
    """Return when something was heard, when the session is over, or after a while: time alone changes things too."""
    seen = office.road.feed.revision
    await asyncio.sleep(LEAST_PAUSE_S)
    for _ in range(LOOKS):
        if office.road.feed.revision != seen or is_over() or office.is_closing():
            return
        with suppress(TimeoutError):
            await asyncio.wait_for(office.road.feed.changed.wait(), LOOK_S)
