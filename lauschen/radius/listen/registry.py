"""Who may send us RADIUS: access devices with their secrets, what was heard and dropped of each, and unknown ones."""

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Protocol

from lauschen.core.config.access_device import AccessDevice
from lauschen.core.config.config import Config
from lauschen.core.config.dialect import HandshakeIn, KeysBy
from lauschen.core.ids import AccessDeviceId
from lauschen.core.words.ip import read_ip, read_range
from lauschen.radius.answer.answers import Answers
from lauschen.radius.listen.recording import Recorder
from lauschen.radius.wire.codec import BadPacket, Packet
from lauschen.radius.wire.signing import Secret
from lauschen.store.config.access_devices import HeardFrom

MOST_UNKNOWN = 256
MOST_KNOWN_SOURCES = 4096


@dataclass(slots=True)
class Source:
    """One address that verified packets of an access device come from."""

    last_heard: float = 0.0
    uses_old_secret: bool = False
    was_signed: bool = True
    requests: int = 0
    reports: int = 0
    clock_error_s: float | None = None
    """By how much its clock is ahead, if it says the time (Event-Timestamp, RFC 2869 section 5.3)."""
    is_written: bool = True


@dataclass(slots=True)
class Peer:
    """An access device as the servers need it."""

    device: AccessDevice
    secret: Secret
    old_secret: Secret | None
    shared_password: str
    hears_unsigned: bool
    handshake: HandshakeIn | None
    """Where its requests hold handshakes, if they do."""
    sources: dict[str, Source] = field(default_factory=dict)
    change_trip_s: float | None = None
    """How long its last answer to a change took."""
    changes: Counter[str] = field(default_factory=Counter)
    """Answers to changes, counted."""
    found: dict[str, "Peer"] = field(default_factory=dict)
    """Where the registry keeps which addresses of ranges were verified."""

    def source(self, address: str) -> Source:
        """What is known of an address whose packet was verified; it is remembered from now on."""
        known = self.sources.get(address)
        if known is None:
            if len(self.sources) >= MOST_KNOWN_SOURCES:
                self.sources.pop(next(iter(self.sources)))
            known = self.sources[address] = Source()
            if self.device.is_range:
                self.found[address] = self
        return known

    def in_order(self, address: str) -> tuple[Secret, Secret | None]:
        """The secrets that a packet from there may be signed with, the likelier first; notes nothing."""
        known = self.sources.get(address)
        if known is not None and known.uses_old_secret and self.old_secret is not None:
            return self.old_secret, self.secret
        return self.secret, self.old_secret


class Link(Protocol):
    """A device's connection, when it has one (RADIUS over TLS)."""

    async def ask(self, build: Callable[[int], bytes], wait_s: float) -> Packet | None:
        """Sends the request that `build` makes for an id; None when nobody answered."""


@dataclass(slots=True)
class UnknownAccessDevice:
    """Packets from an address that is no access device."""

    first: float
    last: float
    packets: int
    unverified_octets: bytes
    """The last one, to try a secret on when somebody adds it."""
    port: str
    """`authentication`, `accounting` or `TLS`."""


class Registry:
    """Made anew when the configuration changed; what was counted stays."""

    def __init__(self, config: Config, token_key: bytes) -> None:
        self._token_key = token_key
        self.drops: Counter[tuple[str, str]] = Counter()
        """(address, reason) -> packets."""
        self.change_drops: Counter[str] = Counter()
        """Packets that came to where changes are sent from, and were no answers, by reason."""
        self.unknown: dict[str, UnknownAccessDevice] = {}
        self.recorder = Recorder()
        self.links: dict[AccessDeviceId, Link] = {}
        """Devices that are connected by TLS: changes go to them over the same connection."""
        self.now_signed: set[AccessDeviceId] = set()
        """Devices whose exception for old firmware has ended by a signed packet; to be written down."""
        self.peers: dict[AccessDeviceId, Peer] = {}
        self.load(config)

    def load(self, config: Config) -> None:
        self.config = config
        before = self.peers
        self._in_range: dict[str, Peer] = {}
        self.peers = {d.id: self._peer(d, before.get(d.id)) for d in config.access_devices.values()}
        self._by_address = {p.device.address: p for p in self.peers.values() if not p.device.is_range}
        ranges = [(read_range(p.device.address), p) for p in self.peers.values() if p.device.is_range]
        self._ranges = sorted(ranges, key=lambda pair: -pair[0].prefixlen)
        self.answers = Answers(config, self._token_key)
        for address in [a for a in self.unknown if self.find(a) is not None]:
            del self.unknown[address]

    def find(self, address: str) -> Peer | None:
        """The access device at this address; a single address beats a range, a narrow range a wide one."""
        peer = self._by_address.get(address)
        if peer is not None or not self._ranges:
            return peer
        peer = self._in_range.get(address)
        if peer is not None:
            return peer
        at = read_ip(address)
        return next((peer for network, peer in self._ranges if at in network), None)

    def blamed(self, unverified_address: str) -> str:
        """Under which address a packet is counted that nobody verified.

        Anybody can send under every address of a range: those that were never verified are counted as the range, so
        that they fill no table and push nobody out of one.
        """
        peer = self.find(unverified_address)
        if peer is None or not peer.device.is_range or unverified_address in peer.sources:
            return unverified_address
        return peer.device.address

    def whose(self, blamed: str) -> Peer | None:
        """The access device that drops of this address (or range) are counted for."""
        if "/" not in blamed:
            return self.find(blamed)
        return next((peer for peer in self.peers.values() if peer.device.address == blamed), None)

    def remember(self, heard: list[HeardFrom]) -> None:
        """What the database knows from before this start."""
        for row in heard:
            if row.access_device in self.peers:
                source = self.peers[row.access_device].source(row.source)
                source.last_heard, source.uses_old_secret = row.last_heard, row.uses_old_secret
                source.was_signed = row.was_signed

    def news(self) -> list[HeardFrom]:
        """What was heard since the last call, to be written down."""
        news = []
        for peer in self.peers.values():
            for address, source in peer.sources.items():
                if not source.is_written:
                    source.is_written = True
                    news.append(
                        HeardFrom(
                            peer.device.id,
                            address,
                            source.last_heard,
                            source.uses_old_secret,
                            source.was_signed,
                        )
                    )
        return news

    def secret_in_use(self, device: AccessDevice, address: str) -> Secret:
        """The one that the device last signed with; the newer one when it was never heard."""
        peer = self.peers[device.id]
        known = peer.sources.get(address)
        if known is not None and known.uses_old_secret and peer.old_secret is not None:
            return peer.old_secret
        return peer.secret

    def note_unknown(self, address: str, unverified_octets: bytes, port: str, now: float) -> None:
        """Never answered (rulings 3.14); at most 256 sources in memory."""
        known = self.unknown.pop(address, None)
        if known is None and len(self.unknown) >= MOST_UNKNOWN:
            gone = next(iter(self.unknown))
            del self.unknown[gone]
            self.drops.pop((gone, "unknown_source"), None)
        first, packets = (known.first, known.packets + 1) if known else (now, 1)
        self.unknown[address] = UnknownAccessDevice(first, now, packets, unverified_octets, port)
        self.drops[address, "unknown_source"] += 1

    def drop(self, address: str, reason: str, unverified_octets: bytes, now: float) -> None:
        """Counts a packet of an access device that gets no answer, and keeps it for the raw view."""
        blamed = self.blamed(address)
        self.drops[blamed, reason] += 1
        self.recorder.dropped(blamed, unverified_octets, reason, now)

    def flooded(self, address: str, count: int = 1) -> None:
        """More came of it than is heard at once."""
        self.drops[self.blamed(address), "flooded"] += count

    def _peer(self, device: AccessDevice, before: Peer | None) -> Peer:
        dialect = self.config.dialects[device.dialect]
        peer = Peer(
            device,
            Secret(device.secret),
            None if device.old_secret is None else Secret(device.old_secret),
            dialect.shared_password,
            # A range is never excepted (rulings 3.2).
            device.hears_unsigned and not device.is_range and device.id not in self.now_signed,
            dialect.handshake if dialect.keys_by is KeysBy.HANDSHAKE else None,
            found=self._in_range,
        )
        if before is not None:
            peer.change_trip_s, peer.changes = before.change_trip_s, before.changes
            if before.device.secret == device.secret:
                peer.sources = before.sources
            elif before.device.secret == device.old_secret:
                # A change-over: what each address used until now has become the old one.
                peer.sources = before.sources
                for source in peer.sources.values():
                    source.uses_old_secret = not source.uses_old_secret
        return peer


def verify_request(peer: Peer, packet: Packet, address: str, now: float) -> Secret:
    """The secret under which an Access-Request or Status-Server is signed; BadPacket when it is not."""
    if not packet.signed_at:
        if not peer.hears_unsigned:
            raise BadPacket("unsigned")  # rulings 3.1
        # Only of a single address, which is the device's as far as anybody can tell (rulings 3.2).
        source, secret = peer.source(address), peer.in_order(address)[0]
        _heard(source, now, uses_old=source.uses_old_secret, was_signed=False)
        return secret
    for candidate in peer.in_order(address):
        if candidate is not None and candidate.is_signed(packet):
            source = peer.source(address)
            _heard(source, now, uses_old=candidate is peer.old_secret, was_signed=True)
            source.requests += 1
            return candidate
    raise BadPacket("wrong_secret")


def verify_report(peer: Peer, packet: Packet, address: str, now: float) -> Secret:
    """The secret under which an Accounting-Request is authentic; BadPacket when it is not."""
    for secret in peer.in_order(address):
        if secret is not None and secret.is_accounting(packet):
            source = peer.source(address)
            _heard(source, now, uses_old=secret is peer.old_secret, was_signed=source.was_signed)
            source.reports += 1
            return secret
    raise BadPacket("wrong_secret")


def _heard(source: Source, now: float, *, uses_old: bool, was_signed: bool) -> None:
    source.last_heard = now
    source.uses_old_secret = uses_old
    source.was_signed = was_signed
    source.is_written = False
