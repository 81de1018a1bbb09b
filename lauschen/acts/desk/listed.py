"""A pasted list of guests: read whole, each bad line named, and passes issued for all of them or for nobody."""

import asyncio
import csv
import io
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import partial
from zoneinfo import ZoneInfo

from lauschen.acts.desk.issuing import begin_batch, check_batch, draw_one, issue_once
from lauschen.acts.messages.passes import Address, send_issued
from lauschen.core.actor import Actor
from lauschen.core.errors import Invalid, Unavailable
from lauschen.core.ids import BatchId, CredentialId, PlanId
from lauschen.core.limits.civil import read_civil
from lauschen.core.limits.terms import Terms
from lauschen.core.messages.message import Channel
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.addresses import read_mail, read_phone
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store import batches
from lauschen.store.batches import Said
from lauschen.store.people.issued_once import Once

COLUMNS = ("name", "send to", "until", "devices", "note")
MOST_LINES = 50_000
LONGEST_NAME, LONGEST_NOTE, MOST_DEVICES = 80, 500, 999
PIECE = 10
"""Passes of one act of the road: some milliseconds."""
MOST_BAD = 200
LOOKED_AT = 50
"""Lines by which it is told what stands between cells."""
END_OF_DAY = "T23:59"
NOTHING = "\x1f"
"""A sign that nobody types."""
Drawn = tuple[BatchId, CredentialId, Address | None]
"""A pass that is not good yet, and where it will be sent."""


@dataclass(frozen=True, slots=True)
class Listed:
    """One guest of a list."""

    name: str
    address: Address | None
    until: float | None
    devices: int | None
    note: str


@dataclass(frozen=True, slots=True)
class BadRow:
    """A row that cannot be: where it stands (lines from 1, both ends), and why not."""

    first: int
    last: int
    why: str


@dataclass(frozen=True, slots=True)
class ListRead:
    """Bad rows beyond the first two hundred are only counted."""

    guests: list[Listed]
    bad: list[BadRow]
    bad_count: int


def read_list(
    text: str, zone_key: str, countries: tuple[str, ...], lang: str, *, commas: bool = True
) -> ListRead:
    """In the worker. Commas, semicolons or tabs between cells, quotes where one has lines; a heading is skipped.

    Without `commas` they part nothing, as in `Room 7, Lutes`, unless the heading has them.
    """
    text = text.removeprefix("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    has_commas = commas or text.casefold().startswith(f"{COLUMNS[0]},")
    reader = csv.reader(
        io.StringIO(text), delimiter=_delimiter(text, "," if has_commas else NOTHING), strict=True
    )
    zone, count = ZoneInfo(zone_key), 0
    guests: list[Listed] = []
    bad: list[BadRow] = []
    columns: tuple[str, ...] = COLUMNS
    while True:
        first = reader.line_num + 1
        try:
            cells = [cell.strip() for cell in next(reader)]
            if not any(cells):
                continue
            if first == 1 and cells[0].casefold() == COLUMNS[0]:
                columns = _columns(cells)
                continue
            if len(guests) + count >= MOST_LINES:
                raise Invalid("list_long", field="text", mend=f"At most {MOST_LINES:,} guests at once.")
            guests.append(_read_row(_in_order(cells, columns), zone, countries, lang))
        except StopIteration:
            return ListRead(guests, bad, count)
        except csv.Error:
            bad.append(BadRow(first, max(first, reader.line_num), "A quote opens here and does not close."))
            return ListRead(guests, bad, count + 1)
        except Invalid as exc:
            count += 1
            if len(bad) < MOST_BAD:
                bad.append(BadRow(first, reader.line_num, exc.mend))
            if exc.code == "list_long":
                return ListRead(guests, bad, count)


def _columns(cells: list[str]) -> tuple[str, ...]:
    """What a heading says; Invalid for a column that there is not, or that is there twice."""
    names = tuple(cell.casefold() for cell in cells if cell)
    unknown = [name for name in names if name not in COLUMNS]
    if unknown or len(set(names)) < len(names):
        wrong = unknown[0] if unknown else next(name for name in names if names.count(name) > 1)
        mend = f"The heading has {wrong!r}. Columns are {', '.join(COLUMNS)}, each once, in any order."
        raise Invalid("heading", field="text", mend=mend)
    return names


def _in_order(cells: list[str], columns: tuple[str, ...]) -> list[str]:
    """The cells of a row in the order of `COLUMNS`; Invalid for more than its heading has."""
    if columns == COLUMNS:
        return cells
    if len(cells) > len(columns) and any(cells[len(columns) :]):
        raise Invalid("row", field="text", mend=f"Too many cells: {', '.join(columns)}.")
    said = dict(zip(columns, cells, strict=False))
    return [said.get(column, "") for column in COLUMNS]


def _delimiter(text: str, otherwise: str) -> str:
    """Tabs or semicolons, where the first lines have any."""
    head = "\n".join(text.split("\n", LOOKED_AT)[:LOOKED_AT])
    return next((sign for sign in "\t;" if sign in head), otherwise)


def _read_row(cells: list[str], zone: ZoneInfo, countries: tuple[str, ...], lang: str) -> Listed:
    if len(cells) > len(COLUMNS):
        raise Invalid("row", field="text", mend=f"Too many cells: {', '.join(COLUMNS)}.")
    name, to, until, devices, note = [*cells, *([""] * (len(COLUMNS) - len(cells)))]
    if not 1 <= len(name) <= LONGEST_NAME:
        raise Invalid("row", field="text", mend=f"A name of 1 to {LONGEST_NAME} letters comes first.")
    if len(note) > LONGEST_NOTE:
        raise Invalid("row", field="text", mend=f"A note of up to {LONGEST_NOTE} letters.")
    return Listed(name, _address(to, countries, lang), _until(until, zone), _devices(devices), note)


def _address(to: str, countries: tuple[str, ...], lang: str) -> Address | None:
    if not to:
        return None
    if "@" in to:
        return Address(Channel.MAIL, read_mail(to, "text"), lang)
    if not any(sign.isdigit() for sign in to):
        raise Invalid("row", field="text", mend="That is neither a mail address nor a phone number.")
    return Address(Channel.TEXT, read_phone(to, countries, "text"), lang)


def _until(text: str, zone: ZoneInfo) -> float | None:
    """A day alone is good to its end."""
    if not text:
        return None
    text = text.replace(" ", "T", 1)
    return read_civil(text if "T" in text else text + END_OF_DAY, zone, "text")


def _devices(text: str) -> int | None:
    if not text:
        return None
    if not (text.isascii() and text.isdecimal() and len(text) < 4 and 1 <= int(text) <= MOST_DEVICES):
        raise Invalid(
            "row", field="text", mend=f"{text[:20]} is no number of devices from 1 to {MOST_DEVICES}."
        )
    return int(text)


async def issue_listed(
    road: Road,
    guests: Sequence[Listed],
    *,
    plan: PlanId,
    terms: Terms,
    words: str,
    by: Actor,
    made: Callable[[int], None],
    once: Once | None = None,
) -> int:
    """A pass for each, or for nobody: none is good, and none is sent, before all are there. How many there are.

    `once`: the request's own name, under which nothing is issued twice.
    """
    drawn: list[Drawn] = []
    try:
        for start in range(0, len(guests), PIECE):
            draw = partial(_draw, part=guests[start : start + PIECE], plan=plan, terms=terms, words=words)
            new = await road.act(draw if start else partial(_draw_once, once=once, draw=draw), by=by)
            if not new:
                made(len(guests))
                return len(guests)
            drawn += new
            made(len(drawn))
    except BaseException:
        await asyncio.shield(_take_back(road, [batch for batch, _, _ in drawn]))
        raise
    # From here on it is done, whoever cancels. The first, which stands for all of it, comes last.
    await asyncio.shield(_give_out(road, [*drawn[1:], drawn[0]], by))
    return len(drawn)


def _draw_once(tx: Tx, once: Once | None, draw: Callable[[Tx], list[Drawn]]) -> list[Drawn]:
    """Nothing where the list was issued before."""
    drawn: list[Drawn] = []

    def begin(tx: Tx) -> BatchId:
        drawn.extend(draw(tx))
        return drawn[0][0]

    issue_once(tx, once, begin)
    return drawn


def _draw(tx: Tx, part: Sequence[Listed], plan: PlanId, terms: Terms, words: str) -> list[Drawn]:
    drawn = []
    for guest in part:
        own = _own(guest, terms)
        said = Said(guest.name, words, guest.note)
        batch = begin_batch(tx, plan=plan, size=1, said=said, terms=own)
        credential, _ = draw_one(tx, way=WayIn.GUEST_PASS, batch=batch, plan=plan, terms=own)
        drawn.append((batch, credential, guest.address))
    return drawn


def _own(guest: Listed, terms: Terms) -> Terms:
    until = guest.until if guest.until is not None else terms.valid_until
    return replace(terms, valid_until=until, devices=guest.devices or terms.devices)


def check_listed(tx: Tx, guests: Sequence[Listed], *, plan: PlanId, terms: Terms) -> None:
    """Invalid when one of them could not be issued."""
    for own in {_own(guest, terms) for guest in guests}:
        check_batch(tx, plan=plan, size=1, terms=own)


async def _give_out(road: Road, drawn: Sequence[Drawn], by: Actor) -> None:
    def give(tx: Tx, part: Sequence[Drawn]) -> None:
        for batch, credential, address in part:
            batches.make_valid(tx.conn, batch)
            if address is not None:
                with suppress(Invalid):  # a budget is used up: *Not sent* has it, and the pass is good
                    send_issued(tx, credential, address)

    for start in range(0, len(drawn), PIECE):
        await road.act(partial(give, part=drawn[start : start + PIECE]), by=by)
    await road.act(lambda tx: tx.log("list_issued", facts={"count": len(drawn)}), by=by)


async def _take_back(road: Road, found: Sequence[BatchId]) -> None:
    with suppress(Unavailable):
        for start in range(0, len(found), PIECE):
            await road.act(partial(_forget, part=found[start : start + PIECE]))


def _forget(tx: Tx, part: Sequence[BatchId]) -> None:
    for batch in part:
        batches.forget_unfinished(tx.conn, batch, 2)
