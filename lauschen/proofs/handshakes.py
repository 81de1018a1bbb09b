"""Which private passphrase a device has: found by its handshake among all keys, beside the loop.

A device that was seen before is known again at once by the key that it had. Looking through all keys takes processes
of their own some milliseconds, so what is tried again and again is not looked at again and again. Each access device
has a share of their time: wrong handshakes of one, with a new address each, delay nobody at another.
"""

import asyncio
import os
from collections import OrderedDict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import TypeVar

from lauschen.beside.turns import Turns
from lauschen.beside.worker import Worker
from lauschen.core.config.config import Config
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Unavailable
from lauschen.core.ids import AccessDeviceId, KeyId, Mac, NetworkId
from lauschen.core.passphrases.handshake import Handshake, is_signed_by
from lauschen.core.ways.passphrase import Signed
from lauschen.core.ways.ways import Asked
from lauschen.proofs.matching import make_ready, match
from lauschen.store.passphrases.keys import Share

MOST_KNOWN = 20_000
AT_ONCE = 2
"""Handshakes that are looked for at a time: the next one is there when a process is done with one."""
MOST_WAITING = 16
"""Handshakes waiting at one access device. Further ones are refused, and the access device asks again."""
FREE_TRIES = 3
"""Wrong ones of one device that are looked at whenever they come."""
PAUSE_S = 2.0
"""After those, one of it is looked at in so long; the others are refused without a look."""
MOST_PROCESSES = 4
R = TypeVar("R")


def _processes() -> int:
    return min(os.cpu_count() or 1, MOST_PROCESSES)


@dataclass(slots=True)
class _Tries:
    wrong: int = 0
    again_at: float = 0.0


Had = tuple[KeyId, bytes]
"""The key that a device has, and its PMK."""


@dataclass
class Handshakes:
    """`database` and `key_file` are opened by the process that looks."""

    config: Callable[[], Config]
    database: Path
    key_file: Path
    monotonic: Callable[[], float]
    had: Callable[[Mac, NetworkId, bytes], Had | None]
    """With which key a device joined last, and its PMK under this SSID, from the database."""
    workers: Sequence[Worker] = field(default_factory=lambda: [Worker() for _ in range(_processes())])
    """Each looks through its share of the keys."""
    refused: set[tuple[AccessDeviceId, NetworkId]] = field(default_factory=set)
    """Access devices that had a handshake refused because too many of theirs were waiting. The reader clears it."""
    _known: OrderedDict[tuple[Mac, bytes], Had] = field(default_factory=OrderedDict)
    """Which key a device had last under this SSID, and its PMK."""
    _tries: OrderedDict[Mac, _Tries] = field(default_factory=OrderedDict)
    _waiting: set[Mac] = field(default_factory=set)
    _turns: Turns = field(default_factory=lambda: Turns(AT_ONCE, MOST_WAITING))

    def waits(self, asked: Asked) -> bool:
        """Whether all keys must be looked through; the key of a device that is known is found here and now."""
        if not isinstance(asked, Signed):
            return False
        shake = asked.handshake
        network = self._network(shake)
        if network is None:
            return False
        known = self._had(shake, network)
        if known is not None and is_signed_by(known[1], shake):
            asked.key = known[0]
            self._tries.pop(shake.station, None)
            return False
        if self._is_too_soon(shake.station):
            asked.fault = Reason.TOO_SOON
            return False
        asked.is_known = known is not None
        return True

    async def __call__(self, asked: Asked) -> Reason | None:
        """What is found is put into what was asked; whether that key holds is decided on the road."""
        assert isinstance(asked, Signed)
        shake = asked.handshake
        network = self._network(shake)
        if network is None or shake.station in self._waiting:
            raise Unavailable("handshakes", meanwhile="The access point asks again.")
        self._waiting.add(shake.station)
        try:
            looked = await self._look(asked, network)
        finally:
            self._waiting.discard(shake.station)
        found = next(filter(None, looked), None)
        self._note(shake, found)
        asked.key = None if found is None else KeyId(found[0])
        return None

    async def _look(self, asked: Signed, network: NetworkId) -> list[tuple[int, bytes] | None]:
        try:
            # Somebody's device that was right before has a new passphrase; strangers are behind it.
            async with self._turns.turn(asked.access_device, is_first=asked.is_known):
                return await self._by_all(match, network, asked.handshake)
        except Unavailable as exc:
            if exc.what == "turn":
                self.refused.add((asked.access_device, network))
            raise

    def _had(self, shake: Handshake, network: NetworkId) -> Had | None:
        """Which key this device had last. After a start that is read once for each."""
        key = shake.station, shake.ssid
        if key not in self._known and shake.station not in self._tries:
            found = self.had(shake.station, network, shake.ssid)
            if found is not None:
                self._keep(key, found)
        return self._known.get(key)

    def _keep(self, key: tuple[Mac, bytes], had: Had) -> None:
        self._known[key] = had
        if len(self._known) > MOST_KNOWN:
            self._known.popitem(last=False)

    async def begin(self) -> None:
        """Its processes are there, and have prepared all keys, before somebody's device waits for it."""
        for network in self.config().networks.values():
            if network.by_key:
                await self._by_all(make_ready, network.id, network.ssid.value)

    def close(self) -> None:
        for worker in self.workers:
            worker.close()

    async def _by_all(self, task: Callable[..., R], *asked: object) -> list[R]:
        """What each process says of its share of the keys."""
        runs = (
            worker.run(task, self.database, self.key_file, Share(number, len(self.workers)), *asked)
            for number, worker in enumerate(self.workers)
        )
        return await asyncio.gather(*runs)

    def _network(self, shake: Handshake) -> NetworkId | None:
        """Whose devices have keys, and which has this SSID."""
        of_keys = (one for one in self.config().networks.values() if one.by_key)
        return next((one.id for one in of_keys if one.ssid.fits(shake.ssid)), None)

    def _is_too_soon(self, station: Mac) -> bool:
        tries = self._tries.get(station)
        return tries is not None and tries.wrong >= FREE_TRIES and self.monotonic() < tries.again_at

    def _note(self, shake: Handshake, found: tuple[int, bytes] | None) -> None:
        if found is not None:
            self._tries.pop(shake.station, None)
            self._keep((shake.station, shake.ssid), (KeyId(found[0]), found[1]))
            return
        tries = self._tries.setdefault(shake.station, _Tries())
        tries.wrong += 1
        tries.again_at = self.monotonic() + PAUSE_S
        if len(self._tries) > MOST_KNOWN:
            self._tries.popitem(last=False)
