"""The list of guests: filtered and sorted here."""

import asyncio
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass

from lauschen.api.door.office import Office
from lauschen.api.guests.kept import HERE, Line
from lauschen.core.decide.standing import State
from lauschen.core.ids import CredentialId, NetworkId, PlanId
from lauschen.core.people.sight import Sight
from lauschen.core.ways.lead import Finder
from lauschen.core.words.codes import TypedCode, read_code
from lauschen.core.words.plain import plain_words
from lauschen.store import credentials

ALL_DATA = 1 << 62
"""Left of what has no end, where it is sorted."""


@dataclass(frozen=True, slots=True)
class Filter:
    """Which guests. None and empty: all."""

    states: tuple[State, ...] = HERE
    network: NetworkId | None = None
    plan: PlanId | None = None
    find: str = ""


def _until(one: Line) -> float:
    if one.left is None or one.left.until is None or one.line.state is not State.INSIDE:
        return float("inf")
    return one.left.until


SORTS: dict[str, Callable[[Line], float | str]] = {
    "state": lambda one: HERE.index(one.line.state) if one.line.state in HERE else len(HERE),
    # Whoever has no name comes last.
    "who": lambda one: one.name or f"\U0010ffff{one.line.mac:012x}",
    "how": lambda one: one.line.grant.way if one.line.grant is not None else "",
    "since": lambda one: one.line.since,
    "until": _until,
    "left": lambda one: one.left.octets if one.left is not None and one.left.octets is not None else ALL_DATA,
    "rate": lambda one: one.line.octets_per_s,
    "today": lambda one: one.line.octets_today,
    "used": lambda one: one.line.grant.use.octets if one.line.grant is not None else 0,
    "where": lambda one: one.line.access_device,
}


def networks_of(office: Office, wanted: NetworkId | None, sight: Sight) -> list[NetworkId]:
    """Return the networks whose guests are asked for and may be seen."""
    asked = [wanted] if wanted is not None else list(office.config.networks)
    return [network for network in asked if sight.sees(network)]


async def counts_of(office: Office, wanted: NetworkId | None, sight: Sight) -> dict[State, int]:
    """How many of those who may be seen are in each state; of those that left, the newest are looked at."""
    networks = networks_of(office, wanted, sight)
    if not sight.own_only:
        return office.kept.counts(networks)
    counted = Counter(
        one.line.state for one in office.kept.here(HERE, networks) if one.line.is_seen_by(sight)
    )
    left = await office.kept.that_left(networks)
    counted[State.LEFT] = sum(one.line.is_seen_by(sight) for one in left)
    return {state: counted[state] for state in (*HERE, State.LEFT)}


async def lines_of(office: Office, wanted: Filter, sort: str, *, down: bool, sight: Sight) -> list[Line]:
    """Who fits, in order; whoever moved last comes first among equals."""
    await office.kept.bring_up_to_date()
    networks = networks_of(office, wanted.network, sight)
    found = office.kept.here(wanted.states, networks)
    if State.LEFT in wanted.states:
        found += await office.kept.that_left(networks)
    await asyncio.sleep(0)
    if sight.own_only:
        found = [one for one in found if one.line.is_seen_by(sight)]
    if wanted.plan is not None:
        found = [one for one in found if one.line.grant is not None and one.line.grant.plan == wanted.plan]
    if plain_words(wanted.find):
        fits = _finder(office, wanted.find)
        found = [one for one in found if fits(one)]
    found.sort(key=lambda one: -one.line.since)
    if (sort, down) != ("since", True):
        found.sort(key=SORTS[sort], reverse=down)
    return found


def _finder(office: Office, text: str) -> Callable[[Line], bool]:
    """By name, label, mail, room and what else they wrote, MAC, address, place, or a whole code."""
    wanted, credential = plain_words(text), _by_code(office, text)

    def fits(one: Line) -> bool:
        return wanted in one.words or (credential is not None and one.line.credential == credential)

    return fits


def _by_code(office: Office, text: str) -> CredentialId | None:
    """What a whole code leads to, drawn or chosen."""
    typed, keys = read_code(text, office.config.code_lengths), office.road.keys
    finders = [Finder(credentials.CHOSEN, plain_words(text))]
    if isinstance(typed, TypedCode):
        finders.insert(0, Finder(credentials.CODE, typed.signs))
    for finder in finders:
        grant = credentials.find(office.reader, keys, finder, None)
        if grant is not None:
            return grant.credential
    return None
