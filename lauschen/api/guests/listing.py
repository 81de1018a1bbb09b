"""The list of guests: filtered, sorted and paged here, a little at a time, so that packets go first."""

import asyncio
from collections.abc import AsyncIterator, Callable
from dataclasses import dataclass

from lauschen.api.door.office import Office
from lauschen.core.decide.standing import State
from lauschen.core.house.house import House
from lauschen.core.ids import CredentialId, Mac, NetworkId
from lauschen.core.limits.left import Left, left
from lauschen.core.ways.finder import Finder
from lauschen.core.words.codes import TypedCode, read_code
from lauschen.core.words.mac import spell_mac
from lauschen.core.words.plain import plain_words
from lauschen.store import credentials, overview
from lauschen.store.overview import GuestLine

SLICE = 200
MOST_LEFT = 1000
"""Of those that left, the newest."""
BARE_SLICE = 1000
BARE = ("state", "since", "where")
"""Sorted by these, a list needs nothing but where devices stand."""
HERE = (State.INSIDE, State.HELD, State.AT_DOOR, State.BARRED)
Key = tuple[Mac, NetworkId]


@dataclass(frozen=True, slots=True)
class Filter:
    """Which guests. None and empty: all."""

    states: tuple[State, ...] = HERE
    network: NetworkId | None = None
    find: str = ""


@dataclass(slots=True)
class _Line:
    """One of them, with what is left of what it is in by."""

    line: GuestLine
    left: Left | None

    @property
    def key(self) -> Key:
        return self.line.mac, self.line.network


def _name(one: _Line) -> str:
    return plain_words(one.line.name) or f"~{one.line.mac:012x}"


def _until(one: _Line) -> float:
    if one.left is None or one.left.until is None or one.line.state != State.INSIDE:
        return float("inf")
    return one.left.until


SORTS: dict[str, Callable[[_Line], float | str]] = {
    "state": lambda one: HERE.index(State(one.line.state)) if one.line.state in HERE else len(HERE),
    "who": _name,
    "how": lambda one: one.line.grant.way if one.line.grant is not None else "",
    "since": lambda one: one.line.since,
    "until": _until,
    "left": lambda one: one.left.octets if one.left is not None and one.left.octets is not None else 1 << 62,
    "used": lambda one: one.line.grant.use.octets if one.line.grant is not None else 0,
    "where": lambda one: one.line.access_device,
}


async def keys_of(office: Office, wanted: Filter, sort: str, *, down: bool) -> list[Key]:
    """Who fits, in order; whoever moved last comes first among equals."""
    find = _finder(office, wanted.find)
    found: list[_Line] = []
    networks = [wanted.network] if wanted.network is not None else list(office.house.networks)
    now, is_bare = office.road.clock.now(), sort in BARE and not plain_words(wanted.find)
    for network in networks:
        for state in wanted.states:
            async for part in _parts(office, network, state, is_bare=is_bare):
                found += [_line(office.house, one, now) for one in part if find(one)]
    found.sort(key=lambda one: -one.line.since)
    found.sort(key=SORTS[sort], reverse=down)
    return [one.key for one in found]


async def _parts(
    office: Office, network: NetworkId, state: State, *, is_bare: bool
) -> AsyncIterator[list[GuestLine]]:
    read, size = (overview.bare_lines, BARE_SLICE) if is_bare else (overview.guest_lines, SLICE)
    after, seen = (float("inf"), Mac(1 << 48)), 0
    while True:
        await asyncio.sleep(0)
        part = read(office.reader, network, state, after, size)
        yield part
        seen += len(part)
        if len(part) < size or (state is State.LEFT and seen >= MOST_LEFT):
            return
        after = part[-1].since, part[-1].mac


def _line(house: House, line: GuestLine, now: float) -> _Line:
    grant = line.grant
    return _Line(line, None if grant is None else left(house.plan_of(grant), grant.use, now))


def _finder(office: Office, text: str) -> Callable[[GuestLine], bool]:
    """By name, label, MAC, address, place, or a whole code."""
    wanted = plain_words(text)
    if not wanted:
        return lambda _: True
    credential, house = _by_code(office, text), office.house

    def fits(one: GuestLine) -> bool:
        if one.grant is not None and credential is not None and one.grant.credential == credential:
            return True
        device = house.access_devices.get(one.access_device)
        texts = (one.name, one.label, house.name_of(one.mac), device.name if device is not None else "")
        if any(wanted in plain_words(said) for said in texts if said):
            return True
        return wanted in plain_words(spell_mac(one.mac)) or wanted in plain_words(one.framed_ip or "")

    return fits


def _by_code(office: Office, text: str) -> CredentialId | None:
    """What a whole code leads to, drawn or chosen."""
    typed, keys = read_code(text, office.house.code_lengths), office.road.keys
    finders = [Finder(credentials.CHOSEN, plain_words(text))]
    if isinstance(typed, TypedCode):
        finders.insert(0, Finder(credentials.CODE, typed.signs))
    for finder in finders:
        grant = credentials.find(office.reader, keys, finder, None)
        if grant is not None:
            return grant.credential
    return None
