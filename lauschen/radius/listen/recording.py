"""The last packets of each address, for people who look for a fault. In memory only, and without any secret."""

import contextlib
from collections import deque
from dataclasses import dataclass, field

from lauschen.radius.wire.codec import BadPacket, Packet, parse
from lauschen.radius.wire.describing import blank

KEPT = 40
EACH_SECOND = 2
"""Of answered packets of one address; dropped ones are all kept."""
MOST_ADDRESSES = 256


@dataclass(slots=True)
class Recorded:
    """One packet, and what became of it."""

    at: float
    packet: Packet | None
    """None when it was none; `octets` of it are not kept, because they hold what was blanked."""
    size: int
    outcome: str
    """`answered`, or the reason why it was dropped."""
    reply: Packet | None = None


@dataclass(slots=True)
class _Line:
    since: float = 0.0
    """Monotonic."""
    taken: int = 0
    packets: deque[Recorded] = field(default_factory=lambda: deque(maxlen=KEPT))


class Recorder:
    """Keeps few packets of many: looking must not cost what serving needs."""

    def __init__(self) -> None:
        self._lines: dict[str, _Line] = {}

    def wants(self, address: str, monotonic: float) -> bool:
        """True for the first packets of each second; asked for each packet, so it is cheap."""
        line = self._lines.get(address)
        return line is None or line.taken < EACH_SECOND or monotonic - line.since >= 1.0

    def answered(self, address: str, request: Packet, reply: bytes, at: float, monotonic: float) -> None:
        line = self._line(address)
        if monotonic - line.since >= 1.0:
            line.since, line.taken = monotonic, 0
        line.taken += 1
        line.packets.append(
            Recorded(at, _blanked(request), len(request.octets), "answered", _blanked(parse(reply)))
        )

    def dropped(self, address: str, unverified_octets: bytes, reason: str, now: float) -> None:
        packet = None
        with contextlib.suppress(BadPacket):
            packet = _blanked(parse(unverified_octets))
        self._line(address).packets.append(Recorded(now, packet, len(unverified_octets), reason))

    def of(self, address: str) -> list[Recorded]:
        """Newest first."""
        line = self._lines.get(address)
        return [] if line is None else list(reversed(line.packets))

    def _line(self, address: str) -> _Line:
        line = self._lines.get(address)
        if line is None:
            if len(self._lines) >= MOST_ADDRESSES:
                self._lines.pop(next(iter(self._lines)))
            line = self._lines[address] = _Line()
        return line


def _blanked(packet: Packet) -> Packet:
    """Blanked before it is kept (rulings 3.16); the octets as received go, for they hold everything."""
    return Packet(packet.code, packet.id, packet.authenticator, blank(packet.attributes))
