"""Puts the pieces together: opens the data folder, and starts and stops everything that serves."""

import asyncio
import fcntl
import os
import random
import signal
import socket
import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import structlog

from lauschen.acts.moving.sender import Sender
from lauschen.acts.passphrases.issuing import KeyMakers
from lauschen.api.app import make_app
from lauschen.api.desk.printer import Printer
from lauschen.api.door.office import Office
from lauschen.api.door.warm import warm_up
from lauschen.beside.jobs import Jobs
from lauschen.beside.worker import Worker
from lauschen.core.errors import LauschenError
from lauschen.core.ways.passphrase import Signed
from lauschen.core.words.ip import in_url
from lauschen.http.certificate import Certificate
from lauschen.http.limits import Crowd, raise_descriptors, shares
from lauschen.http.server import HttpServer, listen
from lauschen.notify.carriers import Carriers
from lauschen.notify.mail import Postman
from lauschen.notify.outbox import Outbox
from lauschen.notify.syslog import Herald
from lauschen.outgoing.calls import Caller
from lauschen.outgoing.reach import Reach
from lauschen.portal.app import Portal
from lauschen.proofs.accounts import Accounts
from lauschen.proofs.handshakes import Handshakes
from lauschen.proofs.prove import Proofs
from lauschen.radius.answer.dynauth import MoveClient, Reauthorisations
from lauschen.radius.listen.intake import Intake
from lauschen.radius.listen.registry import Registry
from lauschen.radius.listen.server import accounting_server, authentication_server
from lauschen.radius.listen.tls import Certificates, TlsServer
from lauschen.road.chance import SystemChance
from lauschen.road.clock import Clock
from lauschen.road.road import Road
from lauschen.serve.checkpoints import Checkpoints
from lauschen.serve.enforcers import CallingEnforcer, HostapdEnforcer
from lauschen.serve.first_run import open_data
from lauschen.serve.keyfiles import KeyFiles
from lauschen.serve.keymaking import KeyMaking
from lauschen.serve.listening import each_host
from lauschen.serve.rounds import Rounds
from lauschen.serve.wall import WallWatch
from lauschen.store.config.access_devices import heard_from
from lauschen.store.config.settings import load_config
from lauschen.store.db import DATABASE_NAME, changed_by_others, gather_statistics, open_reader
from lauschen.store.keys import KEY_NAME, KeyRing
from lauschen.store.passphrases.keys import pmk_of_device

LOCK_NAME = "lauschen.lock"
GUEST_CONNECTIONS, STAFF_CONNECTIONS = 20, 60
"""Of one address (rulings 6.13). Each tab of the console keeps one open for as long as it is."""

logger = structlog.get_logger()


@dataclass(frozen=True, slots=True)
class Options:
    """Where to listen. Port 0 lets the system choose."""

    data: Path
    staff: tuple[str, int] = ("127.0.0.1", 7700)
    portal: tuple[str, int] = ("127.0.0.1", 7701)
    radius_host: str = "127.0.0.1"
    auth_port: int = 1812
    acct_port: int = 1813
    staff_names: tuple[str, ...] = ()
    """Further host names (with port) under which staff may call the console."""
    tls_port: int | None = None
    """None: RADIUS over TLS is not heard."""
    certificates: Certificates | None = None
    reach: Reach = field(default_factory=Reach)
    """Private addresses that calls to controllers, mails and other messages may go to."""
    warms_up: bool = False
    """Takes a moment at start, so that no first request holds the loop."""
    guest_names: tuple[str, ...] = ()
    """Further host names under which guests may call the page."""
    proxies: tuple[str, ...] = ()
    """Addresses of TLS proxies in front of us, whose forwarded headers are believed."""
    certificate: Certificate | None = None
    """With it the console speaks HTTPS, and the guest page does at an address of its own, beside plain HTTP."""
    portal_tls: tuple[str, int] = ("127.0.0.1", 7743)
    key_files: Path | None = None
    """Where files of passphrases are written, for access points on this host."""
    hostapd: Path | None = None
    """Where their control sockets are."""


@dataclass
class Service:
    """One running Lauschen. `start` returns when everything listens; `close` ends it all."""

    options: Options
    clock: Clock
    lock: int | None = None
    """The data folder's lock, if it is held already."""
    ports: dict[str, int] = field(default_factory=dict)
    _servers: list[HttpServer] = field(default_factory=list)
    _is_closing: bool = False

    async def start(self) -> None:
        data = self.options.data
        self._lock = take_lock(data) if self.lock is None else self.lock
        conn, keys = open_data(data)
        gather_statistics(conn)
        self.road = Road(
            conn, keys, load_config(conn, keys), self.clock, SystemChance(), fsync_s=measure_fsync(data)
        )
        asyncio.get_running_loop().set_exception_handler(self._escaped)
        wall = WallWatch(self.clock, self.road)
        wall.begin(conn)
        seen_change = changed_by_others(conn)
        self.reader = open_reader(data / DATABASE_NAME)
        self.registry = Registry(self.road.config, keys.token_key)
        self.road.when_config(self.registry.load)
        self.registry.remember(heard_from(conn))
        self.worker, self.printer, self._key_makers = Worker(), Printer(), KeyMakers()
        self.key_files = KeyFiles(
            self.road,
            self.worker,
            data / DATABASE_NAME,
            data / KEY_NAME,
            self.options.key_files,
            self.options.hostapd,
        )
        self.handshakes = Handshakes(
            lambda: self.road.config,
            data / DATABASE_NAME,
            data / KEY_NAME,
            self.road.clock.monotonic,
            lambda mac, network, ssid: pmk_of_device(self.reader, keys, mac, network, ssid),
        )
        self._rounds = Rounds(
            self.road,
            self.registry,
            data,
            Checkpoints(data / DATABASE_NAME, self.road),
            wall,
            self.options.certificate,
            self.key_files,
            KeyMaking(self.road, self._key_makers),
            self.handshakes,
            seen_change,
        )
        reauthorisations = Reauthorisations()
        self._client = MoveClient(self.clock, self.registry, reauthorisations, random.random)
        self._caller = Caller(self.options.reach)
        calling = CallingEnforcer(self.registry, self.clock, self._caller)
        self.sender = Sender(self.road, [HostapdEnforcer(self.key_files), calling, self._client])
        self.accounts = Accounts(
            lambda: self.road.config, self.reader, keys, self.road.clock.monotonic, self.road.memory
        )
        proofs = Proofs({**self.accounts.proofs().provers, Signed: self.handshakes})
        self._intake = intake = Intake(self.road, self.registry, reauthorisations, proofs)
        self._radius = authentication_server(intake), accounting_server(intake)
        self.jobs = Jobs(self.road.faults)
        self.carriers = Carriers(
            Postman(self.options.reach),
            self._caller,
            Herald(self.options.reach),
            self.worker,
            self.clock.now,
        )
        self.outbox = Outbox(self.road, self.carriers)
        hosts = each_host(self.options.radius_host)
        self.ports["auth"] = self._radius[0].open(hosts, self.options.auth_port)
        self.ports["acct"] = self._radius[1].open(hosts, self.options.acct_port)
        self._tls: TlsServer | None = None
        if self.options.tls_port is not None and self.options.certificates is not None:
            self._tls = TlsServer(intake, self.options.certificates)
            self.ports["tls"] = await self._tls.open(listen(hosts, self.options.tls_port))
        await self._start_http(keys)
        await self.sender.start()
        self.outbox.wake()
        self._rounds.begin()

    async def close(self) -> None:
        self._is_closing = True
        asyncio.get_running_loop().set_exception_handler(None)
        logger.info("served", longest_hold_ms=round(self.road.longest_hold_s * 1000, 1))
        self.road.feed.publish([], 0)  # live views see that it is over, and end
        for radius in self._radius:
            radius.close()
        if self._tls is not None:
            await self._tls.close()
        self._intake.close()
        await self._rounds.close()
        await asyncio.gather(*(server.stop() for server in self._servers))
        await self.jobs.close()
        await self.sender.close()
        await self.outbox.close()
        self._client.close()
        await self._caller.close()
        self.worker.close()
        self.printer.close()
        self.handshakes.close()
        self._key_makers.close()
        self._office.passwords.close()
        self.accounts.passwords.close()
        self.reader.close()
        await self.road.between_groups(lambda _: None)  # what is under way ends first
        self.road.close()
        self.clock.close()
        os.close(self._lock)

    async def _start_http(self, keys: KeyRing) -> None:
        staff_sockets = self._listen("staff", self.options.staff)
        portal_sockets = self._listen("portal", self.options.portal)
        staff_hosts = ("127.0.0.1", "[::1]", "localhost", in_url(self.options.staff[0]))
        names = {f"{host}:{self.ports['staff']}" for host in staff_hosts}
        self._office = Office(
            self.road,
            self.registry,
            self.reader,
            self.worker,
            self.jobs,
            database=self.options.data / DATABASE_NAME,
            key_file=self.options.data / KEY_NAME,
            host_names=frozenset(names | set(self.options.staff_names)),
            is_closing=lambda: self._is_closing,
            ports=self.ports,
            radius_host=self.options.radius_host,
            certificate=self.options.certificate,
            carriers=self.carriers,
            printer=self.printer,
            key_makers=self._key_makers,
            key_file_words=self.key_files.words,
        )
        portal = Portal(
            self.road, self.reader, self.accounts, self._key_makers, frozenset(self.options.guest_names)
        )
        guests, staff = shares(raise_descriptors())
        proxies = self.options.proxies
        office_app = make_app(self._office)
        if self.options.warms_up:
            await warm_up(office_app, self._office)
            self._caller.make_ready()
            await self.handshakes.begin()
        guest_app, guest_crowd = portal.app(), Crowd(guests, GUEST_CONNECTIONS, frozenset(proxies))
        certificate = self.options.certificate
        tls = certificate.context if certificate is not None else None
        staff_crowd = Crowd(staff, STAFF_CONNECTIONS, frozenset(proxies))
        listeners = [
            HttpServer(office_app, staff_sockets, staff_crowd, proxies=proxies, tls=tls),
            HttpServer(guest_app, portal_sockets, guest_crowd, proxies=proxies),
        ]
        if tls is not None:
            secure = self._listen("portal_tls", self.options.portal_tls)
            listeners.append(HttpServer(guest_app, secure, guest_crowd, proxies=proxies, tls=tls))
        for server in listeners:
            self._servers.append(server)
            await server.begin()

    def _listen(self, name: str, at: tuple[str, int]) -> list[socket.socket]:
        host, port = at
        socks = listen(each_host(host), port)
        self.ports[name] = int(socks[0].getsockname()[1])
        return socks

    async def reload(self) -> None:
        """The configuration was changed by another hand than the road's."""
        await self.road.act(lambda tx: tx.reconfigure())

    def _escaped(self, _: asyncio.AbstractEventLoop, context: dict[str, Any]) -> None:
        """What raised where nobody waits for it: a callback of a socket, a task of a library."""
        error = context.get("exception")
        if isinstance(error, Exception):
            self.road.faults.note("background", error)
        else:
            logger.warning("loop", message=str(context.get("message")))


class AlreadyServing(LauschenError):
    """Another process serves this data folder; two writers would not see each other's configuration."""


def take_lock(data: Path) -> int:
    """A descriptor that is held as long as this process serves; a killed process loses it by itself.

    Makes the folder, readable by its owner only, if there is none.
    """
    data.mkdir(mode=0o700, parents=True, exist_ok=True)
    descriptor = os.open(data / LOCK_NAME, os.O_RDWR | os.O_CREAT, 0o600)
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError as exc:
        os.close(descriptor)
        raise AlreadyServing(f"{data} is served by another process already") from exc
    return descriptor


def measure_fsync(data: Path) -> float:
    """Seconds of one fsync in the data folder, the median of five (rulings 1.3)."""
    probe = data / ".fsync-probe"
    times = []
    descriptor = os.open(probe, os.O_RDWR | os.O_CREAT, 0o600)
    try:
        for _ in range(5):
            os.write(descriptor, b"x" * 512)
            started = time.perf_counter()
            os.fsync(descriptor)
            times.append(time.perf_counter() - started)
    finally:
        os.close(descriptor)
        probe.unlink()
    return sorted(times)[2]


async def until_signalled() -> None:
    """Returns at SIGINT or SIGTERM."""
    over = asyncio.Event()
    loop = asyncio.get_running_loop()
    for number in (signal.SIGINT, signal.SIGTERM):
        loop.add_signal_handler(number, over.set)
    await over.wait()
