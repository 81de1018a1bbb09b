"""What is done again and again while we serve: each by itself, so that one that raises holds up no other."""

import asyncio
import gc
import shutil
from collections.abc import Awaitable, Callable
from dataclasses import dataclass, field
from pathlib import Path

import structlog

from lauschen.acts.hosts.waiting import look_at_vouchings
from lauschen.acts.keeping import Keeper
from lauschen.acts.mass.slices import do_slice
from lauschen.acts.messages.passcodes import tell_passcodes, untold
from lauschen.acts.staying.sweep import Sweeper
from lauschen.core.errors import Unavailable
from lauschen.http.certificate import Certificate
from lauschen.proofs.handshakes import Handshakes
from lauschen.radius.listen.registry import Registry
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.serve.checkpoints import Checkpoints
from lauschen.serve.keyfiles import KeyFiles
from lauschen.serve.keymaking import KeyMaking
from lauschen.serve.wall import WallWatch
from lauschen.store.config.access_devices import note_heard_from, signing_seen
from lauschen.store.db import changed_by_others
from lauschen.store.hosts.vouchings import next_due
from lauschen.store.passphrases.strangers import Limit, note_reached

SWEEP_S = 2.0
WATCH_S = 1.0
KEEP_S = 3.0
NOTE_HEARD_S = 10.0
COLLECT_S = 600.0
ROOM_OCTETS = 1 << 20
"""So much room on the disk is enough for the next groups."""

logger = structlog.get_logger()


@dataclass
class Rounds:
    """Begun once everything listens; `close` ends them."""

    road: Road
    registry: Registry
    data: Path
    checkpoints: Checkpoints
    wall: WallWatch
    certificate: Certificate | None
    key_files: KeyFiles
    key_making: KeyMaking
    handshakes: Handshakes
    seen_change: int
    """Of the database by other processes, as it was opened."""
    _tasks: list["asyncio.Task[None]"] = field(default_factory=list)
    _sweeper: Sweeper = field(default_factory=Sweeper)
    _keeper: Keeper = field(default_factory=Keeper)
    _noted_heard_at: float = 0.0
    _collected_at: float = 0.0
    _mass_work: asyncio.Event = field(default_factory=asyncio.Event)
    """Something is under way."""
    _told: dict[bytes, float] = field(default_factory=dict)
    """Who was told of which passcode."""

    def begin(self) -> None:
        self._collected_at = self.road.clock.monotonic()
        self.road.wake_mass_work = self._mass_work.set
        self._mass_work.set()
        self._tasks.append(asyncio.create_task(self._do_mass_work()))
        watch = (
            self._try_to_commit,
            self._take_in,
            self._look_at_certificate,
            self._tell_passcodes,
            self._look_at_vouchings,
            self._note_heard,
            self._note_handshakes,
            self.checkpoints.look,
            self._collect,
            self._look_at_wall,
            self.key_files.look,
            self.key_making.look,
        )
        for seconds, works in (
            (SWEEP_S, (self._sweep, self._look_for_mass_work)),
            (WATCH_S, watch),
            (KEEP_S, (self._keep,)),
        ):
            self._tasks.append(asyncio.create_task(self._every(seconds, works)))

    async def close(self) -> None:
        for task in self._tasks:
            task.cancel()
        await asyncio.gather(*self._tasks, return_exceptions=True)

    async def _every(self, seconds: float, works: tuple[Callable[[], Awaitable[None]], ...]) -> None:
        while True:
            await self.road.clock.sleep(seconds)
            for work in works:
                try:
                    await work()
                except Unavailable as exc:
                    logger.warning("put_off", what=work.__name__, error=str(exc))  # a full disk; Now says so
                except Exception as exc:
                    self.road.faults.note("background", exc)

    async def _sweep(self) -> None:
        has_more = True
        while has_more:
            has_more = (await self.road.act(self._sweeper.sweep)).has_more

    async def _do_mass_work(self) -> None:
        """A slice at a time; packets are served between them."""
        while True:
            await self._mass_work.wait()
            self._mass_work.clear()
            try:
                while await self.road.act(do_slice):
                    pass
            except Unavailable as exc:
                logger.warning("put_off", what="mass work", error=str(exc))
                self._mass_work.set()
                await self.road.clock.sleep(SWEEP_S)
            except Exception as exc:
                self.road.faults.note("mass", exc)
                await self.road.clock.sleep(SWEEP_S)

    async def _look_for_mass_work(self) -> None:
        """What raised is tried again, and what a restart left goes on."""
        self._mass_work.set()

    async def _keep(self) -> None:
        """Forgets what was kept for long enough."""
        has_more = True
        while has_more:
            has_more = await self.road.act(self._keeper.step)

    async def _try_to_commit(self) -> None:
        """A row might fit where a group of answers does not."""
        if self.road.trouble is not None and shutil.disk_usage(self.data).free >= ROOM_OCTETS:
            await self.road.try_to_commit()

    async def _take_in(self) -> None:
        """What the command line changed."""
        change = await self.road.between_groups(changed_by_others)
        if change != self.seen_change:
            await self.road.act(lambda _: None)  # any group takes it in
            self.seen_change = change

    async def _look_at_certificate(self) -> None:
        if self.certificate is not None:
            self.certificate.look()

    async def _tell_passcodes(self) -> None:
        """To whom hands them out, within a second of the change."""
        if untold(self.road.config, self.road.keys, self.road.clock.now(), self._told):
            self._told = await self.road.act(tell_passcodes)

    async def _look_at_vouchings(self) -> None:
        """Hosts are asked, reminded, and given up within a second."""
        due = await self.road.between_groups(next_due)
        if due is not None and due <= self.road.clock.now():
            await self.road.act(look_at_vouchings)

    async def _collect(self) -> None:
        """Garbage, at a quiet moment."""
        now = self.road.clock.monotonic()
        if self.checkpoints.is_idle and now - self._collected_at > COLLECT_S:
            self._collected_at = now
            gc.collect()

    async def _look_at_wall(self) -> None:
        await self.wall.look()

    async def _note_heard(self) -> None:
        """Writes down, now and then, what was heard of access devices; never for a single packet."""
        signed, now = list(self.registry.now_signed), self.road.clock.monotonic()
        news = self.registry.news() if signed or now - self._noted_heard_at >= NOTE_HEARD_S else []
        if not news and not signed:
            return
        self._noted_heard_at = now

        def write(tx: Tx) -> None:
            note_heard_from(tx.conn, news)
            for device in signed:
                signing_seen(tx.conn, device)
            if signed:
                tx.reconfigure()

        await self.road.act(write)
        self.registry.now_signed.difference_update(signed)

    async def _note_handshakes(self) -> None:
        """Which access devices passed on more than their share."""
        refused = list(self.handshakes.refused)

        def write(tx: Tx) -> None:
            for device, network in refused:
                note_reached(tx.conn, device, network, Limit.HANDSHAKES, tx.now)

        if refused:
            await self.road.act(write)
            self.handshakes.refused.difference_update(refused)
