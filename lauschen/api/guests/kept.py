"""Everybody who is here, kept in memory: a list costs what it shows, and what changed since the one before."""

import asyncio
import itertools
from collections import defaultdict
from collections.abc import AsyncIterator, Iterable
from dataclasses import dataclass, field
from sqlite3 import Connection

from lauschen.core.config.config import Config
from lauschen.core.decide.standing import State
from lauschen.core.ids import Mac, NetworkId
from lauschen.core.limits.day import Day, day_of
from lauschen.core.limits.left import Left, left
from lauschen.core.words.plain import plain_words
from lauschen.road.road import Road
from lauschen.road.touched import Change
from lauschen.store.guests import lines
from lauschen.store.guests.lines import FIRST, GuestLine
from lauschen.store.guests.touched import What

SLICE = 50
BARE_SLICE = 1000
MOST_LEFT = 1000
"""Of those that left, the newest are listed."""
HERE = (State.INSIDE, State.HELD, State.AT_DOOR, State.BARRED)
Key = tuple[Mac, NetworkId]


@dataclass(slots=True)
class Line:
    """One of them, with what follows from the house's settings."""

    line: GuestLine
    left: Left | None
    name: str
    """As lists sort it."""
    words: str
    """All by which it is found, plain, in lines."""

    @property
    def key(self) -> Key:
        return self.line.mac, self.line.network


def make_line(config: Config, line: GuestLine, now: float) -> Line:
    """`now` for what is left."""
    grant, name = line.grant, plain_words(line.name or config.name_of(line.mac))
    device = config.access_devices.get(line.access_device)
    texts = line.label, line.framed_ip or "", device.name if device else "", *line.said
    return Line(
        line,
        None if grant is None else left(config.plan_of(grant), grant.use, now),
        name,
        "\n".join([name, f"{line.mac:012x}", *(plain_words(text) for text in texts if text)]),
    )


@dataclass(slots=True)
class _Lines:
    """Lines, and how they are found."""

    by_state: defaultdict[tuple[NetworkId, State], dict[Key, Line]] = field(
        default_factory=lambda: defaultdict(dict)
    )
    group_of: dict[Key, tuple[NetworkId, State]] = field(default_factory=dict)
    left: defaultdict[NetworkId, set[Mac]] = field(default_factory=lambda: defaultdict(set))
    """Those that left are only counted."""
    keys_of: defaultdict[tuple[str, int], set[Key]] = field(default_factory=lambda: defaultdict(set))
    """By allowance and by credential: one may have let in many devices."""

    def keep(self, one: Line) -> None:
        group = one.line.network, one.line.state
        self.by_state[group][one.key], self.group_of[one.key] = one, group
        for owner in _owners(one.line):
            self.keys_of[owner].add(one.key)

    def drop(self, key: Key) -> None:
        self.left[key[1]].discard(key[0])
        group = self.group_of.pop(key, None)
        for owner in () if group is None else _owners(self.by_state[group].pop(key).line):
            self.keys_of[owner].discard(key)
            if not self.keys_of[owner]:
                del self.keys_of[owner]


@dataclass(slots=True)
class Kept:
    """Read from the database, which the lines agree with after `bring_up_to_date`."""

    road: Road
    reader: Connection
    _lines: _Lines = field(default_factory=_Lines)
    _config: Config | None = None
    """With whose settings the lines were made."""
    _day: Day | None = None
    _one_at_a_time: asyncio.Lock = field(default_factory=asyncio.Lock)

    def here(self, states: Iterable[State], networks: Iterable[NetworkId]) -> list[Line]:
        """Those who are in one of these states on one of these networks."""
        groups = (self._lines.by_state.get(group, {}) for group in itertools.product(networks, states))
        return [one for group in groups for one in group.values()]

    def counts(self, networks: Iterable[NetworkId]) -> dict[State, int]:
        """How many devices are in each state on these networks."""
        on, groups = tuple(networks), self._lines.by_state
        counts = {state: sum(len(groups.get((network, state), ())) for network in on) for state in HERE}
        return {**counts, State.LEFT: sum(len(self._lines.left.get(network, ())) for network in on)}

    async def that_left(self, networks: Iterable[NetworkId]) -> list[Line]:
        """Of each network the newest, read anew: they are many, and hardly ever looked at."""
        found: list[Line] = []
        for network in networks:
            seen = len(found)
            async for part in self._parts(network, State.LEFT):
                found += part
                if len(found) - seen >= MOST_LEFT:
                    break
        return found

    async def bring_up_to_date(self) -> None:
        """Reads what was committed since; a little at a time, so that packets go first."""
        async with self._one_at_a_time:
            try:
                await self._follow()
            except BaseException:
                self.road.touched.lose()  # what was taken is not read
                raise

    async def _follow(self) -> None:
        day, config = day_of(self.road.clock.now(), self.road.config.zone), self.road.config
        if day != self._day:
            self._day = day
            self.road.touched.lose()  # nobody has used anything today
        elif config is not self._config:
            await self._make_again()
        while (changes := self.road.touched.take()) is None or changes:
            await (self._load() if changes is None else self._read_anew(changes))

    async def _load(self) -> None:
        self._config, new = self.road.config, _Lines()
        for network in self._config.networks:
            for state in HERE:
                async for part in self._parts(network, state):
                    for one in part:
                        new.keep(one)
        after = Mac(0), NetworkId(0)
        while gone := lines.standings_that_left(self.reader, after, BARE_SLICE):
            for mac, network in gone:
                new.left[network].add(mac)
            after = gone[-1]
            await asyncio.sleep(0)
        self._lines = new

    async def _parts(self, network: NetworkId, state: State) -> AsyncIterator[list[Line]]:
        after = FIRST
        while True:
            await asyncio.sleep(0)
            config, now = self.road.config, self.road.clock.now()
            part = lines.guest_lines(
                self.reader, self.road.keys, network, state, day=self._number, after=after, at_most=SLICE
            )
            yield [make_line(config, one, now) for one in part]
            if len(part) < SLICE:
                return
            after = part[-1].since, part[-1].mac

    async def _make_again(self) -> None:
        """The settings were changed: names, plans, places."""
        self._config, now = self.road.config, self.road.clock.now()
        groups = list(self._lines.group_of.items())
        for start in range(0, len(groups), SLICE):
            await asyncio.sleep(0)
            for key, group in groups[start : start + SLICE]:
                there = self._lines.by_state[group]
                there[key] = make_line(self._config, there[key].line, now)

    async def _read_anew(self, changes: set[Change]) -> None:
        keys = list({key for change in changes for key in self._meant(change)})
        for start in range(0, len(keys), SLICE):
            if start:
                await asyncio.sleep(0)
            now = self.road.clock.now()
            for mac, network in keys[start : start + SLICE]:
                self._lines.drop((mac, network))
                line = lines.guest_line(self.reader, self.road.keys, mac, network, self._number)
                if line is not None and line.state is State.LEFT:
                    self._lines.left[network].add(mac)
                elif line is not None:
                    self._lines.keep(make_line(self.road.config, line, now))

    def _meant(self, change: Change) -> Iterable[Key]:
        what, number, network = change
        if network is not None:
            return [(Mac(number), NetworkId(network))]
        if what == What.DEVICE:
            return [(Mac(number), one) for one in lines.networks_of(self.reader, Mac(number))]
        return self._lines.keys_of.get((what, number), ())

    @property
    def _number(self) -> int:
        """Of today."""
        assert self._day is not None
        return self._day.number


def _owners(line: GuestLine) -> list[tuple[str, int]]:
    """Whose changes are changes of the line."""
    grant = line.grant
    if grant is None:
        return []
    owners = []
    if grant.allowance is not None:
        owners.append((What.ALLOWANCE.value, int(grant.allowance)))
    if grant.credential is not None:
        owners.append((What.CREDENTIAL.value, int(grant.credential)))
    return owners
