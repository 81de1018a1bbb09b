"""Requests that come again get the same octets again and are decided once (RFC 5080 section 2.2.2)."""

from collections import OrderedDict
from dataclasses import dataclass

Address = tuple[str, int] | tuple[str, int, int, int]
"""As a socket gives it: of IPv6 with flow and scope, the latter in place of the `%eth0` in the text."""
KEPT_S = 30.0
PORTS_PER_DEVICE = 64


@dataclass(slots=True)
class Slot:
    """What became of the last request with this code and id from this port."""

    authenticator: bytes
    reply: bytes | None = None
    replied_at: float = 0.0


class Duplicates:
    """One per listening socket. Changed only by verified packets (rulings 3.6). Times are monotonic."""

    def __init__(self) -> None:
        self._devices: dict[str, OrderedDict[int, dict[int, Slot]]] = {}

    def find(self, source: Address, unverified_octets: bytes, now: float) -> Slot | None:
        """The slot of the very same request, if it is still being decided or was answered lately."""
        ports = self._devices.get(source[0])
        slots = ports.get(source[1]) if ports else None
        if not slots:
            return None
        key = (unverified_octets[0] << 8) | unverified_octets[1]
        slot = slots.get(key)
        if slot is None or slot.authenticator != unverified_octets[4:20]:
            return None
        if slot.reply is not None and now - slot.replied_at > KEPT_S:
            del slots[key]
            return None
        return slot

    def keep(self, source: Address, octets: bytes) -> Slot:
        """Takes the slot for a verified request that will now be decided."""
        ports = self._devices.setdefault(source[0], OrderedDict())
        slots = ports.get(source[1])
        if slots is None:
            slots = ports[source[1]] = {}
            if len(ports) > PORTS_PER_DEVICE:
                ports.popitem(last=False)
        slot = slots[(octets[0] << 8) | octets[1]] = Slot(octets[4:20])
        return slot

    def forget(self, source: Address, octets: bytes) -> None:
        """After a rollback: the request was not decided, so its repetition must be."""
        slots = self._devices.get(source[0], OrderedDict()).get(source[1])
        if slots:
            slots.pop((octets[0] << 8) | octets[1], None)
