"""Files of passphrases for access points on this host: written when something changed, and who joined by them."""

import asyncio
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path

from lauschen.acts.passphrases.filed import file_text, joined_by_file, left_the_file
from lauschen.beside.worker import Worker
from lauschen.core.errors import Unavailable
from lauschen.core.ids import NetworkId
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.passphrase import KeyFile, PrivatePassphrase
from lauschen.hostapd.control import Station, opened
from lauschen.hostapd.whole import write_whole
from lauschen.road.road import Road

AT_LEAST_S = 30.0
"""So often it is looked at whether the clock alone changed a file."""
PAUSE_S = 2.0
"""Between two writes: in a busy house something happens all the time."""
LOOK_S = 5.0
"""So often access points are asked who is there, and told once more where they did not read."""


@dataclass(slots=True)
class FileState:
    """What is known of one file."""

    text: str | None = None
    """As it was written last; None: not since this start."""
    is_read: bool = False
    """The access point was told to read that."""
    trouble: str = ""
    """Why it is not as it should be; empty when it is."""


@dataclass
class KeyFiles:
    """`files` and `sockets`: the folders that the command line named; None: there are none."""

    road: Road
    worker: Worker
    database: Path
    key_file: Path
    files: Path | None
    sockets: Path | None
    states: dict[tuple[NetworkId, str], FileState] = field(default_factory=dict)
    _turn: asyncio.Lock = field(default_factory=asyncio.Lock)
    _seen: int = -1
    _looked_at: float = -LOOK_S
    _written_at: float = -AT_LEAST_S

    async def look(self) -> None:
        """Once a second, by the rounds; one after the other."""
        async with self._turn:
            await self._look()

    async def _look(self) -> None:
        now, wanted = self.road.clock.monotonic(), self._wanted()
        if not wanted:
            return
        revision = self.road.feed.revision
        is_changed = revision != self._seen and now - self._written_at >= PAUSE_S
        is_behind = now - self._written_at >= LOOK_S and any(not self._state(*one).is_read for one in wanted)
        if is_changed or is_behind or now - self._written_at >= AT_LEAST_S:
            self._seen, self._written_at = revision, now
            for network, one in wanted:
                await self._write(network, one)
        if now - self._looked_at >= LOOK_S:
            self._looked_at = now
            for network, one in wanted:
                await self._who_is_there(network, one)

    def words(self, network: NetworkId) -> list[str]:
        """How the files of a network are doing, a sentence for each."""
        found = []
        for of, one in self._wanted():
            state = self._state(of, one)
            if of == network:
                is_fine = state.is_read and not state.trouble
                found.append(
                    f"{one.file} is in force." if is_fine else f"{one.file}: {state.trouble or 'not yet'}."
                )
        return found

    def _wanted(self) -> list[tuple[NetworkId, KeyFile]]:
        found = []
        for network in self.road.config.networks.values():
            way = network.way(WayIn.PASSPHRASE)
            if isinstance(way, PrivatePassphrase):
                found += [(network.id, one) for one in way.files]
        return found

    def _state(self, network: NetworkId, one: KeyFile) -> FileState:
        return self.states.setdefault((network, one.file), FileState())

    async def _write(self, network: NetworkId, one: KeyFile) -> None:
        """The old one stays whole when the new one cannot be written."""
        state = self._state(network, one)
        if self.files is None or self.sockets is None:
            state.trouble = "lauschen serve was not told where: --key-files and --hostapd name the folders"
            return
        now = self.road.clock.now()
        text = await self.worker.run(file_text, self.database, self.key_file, network, now)
        try:
            if text != state.text:
                state.is_read = False
                await self._put(self.files / one.file, text)
                state.text = text
            if not state.is_read:
                async with opened(self.sockets / one.interface) as control:
                    await control.reload_passphrases()
                    state.is_read = True
                self._looked_at = -LOOK_S  # whoever has a key that is not in it any more is thrown off now
            state.trouble = ""
        except OSError as exc:
            state.trouble = f"{one.file} cannot be written ({exc.strerror}); the one before is in force"
        except Unavailable as exc:
            state.trouble = str(exc)

    async def _put(self, path: Path, text: str) -> None:
        await asyncio.to_thread(write_whole, path, text)

    async def _who_is_there(self, network: NetworkId, one: KeyFile) -> None:
        state = self._state(network, one)
        if self.sockets is None:
            return
        try:
            async with opened(self.sockets / one.interface) as control:
                stations = await control.stations()
                for station in stations:
                    if not await self._may_stay(network, one, station):
                        await control.throw_off(station.mac)
        except Unavailable as exc:
            state.trouble = str(exc)
            return
        here = frozenset(station.mac for station in stations)
        await self.road.act(partial(left_the_file, network=network, place=one.access_device, here=here))

    async def _may_stay(self, network: NetworkId, one: KeyFile, station: Station) -> bool:
        found = partial(
            joined_by_file, mac=station.mac, network=network, place=one.access_device, key=station.key
        )
        return await self.road.act(found)
