"""What the endpoints work with."""

from collections import Counter, OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from sqlite3 import Connection

from lauschen.acts.passphrases.issuing import KeyMakers
from lauschen.api.desk.printer import Printer
from lauschen.api.door.gate import Gate
from lauschen.api.door.shared import Shared
from lauschen.api.door.tries import SignInTries
from lauschen.api.guests.kept import Kept
from lauschen.api.shaping import Shaper
from lauschen.beside.jobs import Jobs
from lauschen.beside.worker import Worker
from lauschen.core.config.config import Config
from lauschen.core.ids import NetworkId, StaffId
from lauschen.core.limits.day import Day, day_of
from lauschen.core.people.sight import Sight
from lauschen.http.certificate import Certificate
from lauschen.notify.carriers import Carriers
from lauschen.proofs.passwords import Passwords
from lauschen.radius.listen.registry import Registry
from lauschen.road.road import Road
from lauschen.store.people import sessions
from lauschen.store.people.sessions import StaffSession

MOST_LISTS = 64


@dataclass(slots=True)
class Office:
    """One for the whole service."""

    road: Road
    registry: Registry
    reader: Connection
    worker: Worker
    jobs: Jobs
    database: Path
    key_file: Path
    host_names: frozenset[str]
    is_closing: Callable[[], bool]
    ports: dict[str, int]
    """Where RADIUS is heard: `auth`, `acct` and, if it is, `tls`."""
    radius_host: str
    carriers: Carriers
    """With which a test of a channel is sent."""
    printer: Printer
    key_makers: KeyMakers
    """Processes that make the keys of passphrases."""
    key_file_words: Callable[[NetworkId], list[str]]
    """How files of passphrases of a network are doing."""
    certificate: Certificate | None = None
    passwords: Passwords = field(default_factory=lambda: Passwords("sign-in"))
    is_warming: bool = False
    """Nothing listens yet (warm.py)."""
    feeds: Counter[StaffId | None] = field(default_factory=Counter)
    """Live views that are open, by who looks."""
    gate: Gate = field(init=False)
    kept: Kept = field(init=False)
    """Everybody who is here, for lists."""
    shown: OrderedDict[str, Shared] = field(default_factory=OrderedDict)
    """Pictures of now and lists of guests, each made once for all that look at the same and may see the same."""

    def __post_init__(self) -> None:
        self.gate = Gate(
            self.road,
            lambda token, at: sessions.find_session(self.reader, token, at),
            lambda token, at: sessions.find_program(self.reader, token, at),
            self.passwords,
            SignInTries(),
        )
        self.kept = Kept(self.road, self.reader)

    def shared(self, asked: str, sight: Sight) -> Shared:
        """What was asked for, made once for everybody who may see the same."""
        key = f"{sight.key} {asked}"
        found = self.shown.pop(key, None) or Shared(
            lambda: self.road.feed.revision, self.road.clock.monotonic
        )
        self.shown[key] = found
        if len(self.shown) > MOST_LISTS:
            self.shown.popitem(last=False)
        return found

    @property
    def config(self) -> Config:
        return self.road.config

    @property
    def today(self) -> Day:
        """In the site's zone."""
        return day_of(self.road.clock.now(), self.config.zone)

    def shaper(self, viewer: StaffSession | None = None) -> Shaper:
        """`viewer`: who looks, where codes are shown."""
        shaper = Shaper(self.config, self.road.keys, self.reader, self.road.clock.now())
        if viewer is not None:
            shaper.reads = viewer.reads_code_of
            shaper.reads_passcode_of = viewer.reads_passcode_of
            shaper.sight = viewer.sight
        return shaper
