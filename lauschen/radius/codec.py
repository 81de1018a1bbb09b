"""Bytes <-> packet (RFC 2865 section 3). No sockets, no secrets, nothing of ours imported.

Whatever comes in is unverified. One error leaves this module: BadPacket, with a reason that is counted.
"""

from dataclasses import dataclass, field

HEADER_OCTETS = 20
SHORTEST_PACKET = 20
LONGEST_PACKET = 4096
LONGEST_VALUE = 253
MESSAGE_AUTHENTICATOR = 80

Attribute = tuple[int, bytes]
"""Number and value; order is kept and unknown ones are kept as bytes."""


class BadPacket(Exception):
    """These octets are no RADIUS packet; `reason` is one of a few words that are counted."""

    def __init__(self, reason: str) -> None:
        super().__init__(reason)
        self.reason = reason


@dataclass(slots=True)
class Packet:
    """A packet as it is on the wire. Slots without `frozen`: one is made for each datagram."""

    code: int
    id: int
    authenticator: bytes
    attributes: list[Attribute]
    octets: bytes = b""
    """As received, without padding; empty for a packet that was made here."""
    signed_at: int = 0
    """Where the value of the Message-Authenticator begins in `octets`; 0 when there is none."""
    firsts: dict[int, bytes] = field(default_factory=dict, compare=False, repr=False)
    """The first value of each number, of a packet that was parsed."""

    def first(self, kind: int) -> bytes | None:
        """The value of the first attribute of this number."""
        return self.firsts.get(kind)

    def all(self, kind: int) -> list[bytes]:
        """All values of this number, in order."""
        return [value for number, value in self.attributes if number == kind]

    def joined(self, kind: int) -> bytes:
        """A value that was split over several attributes (RFC 3579 section 3.1, RFC 4849 section 2)."""
        return b"".join(self.all(kind))

    def integer(self, kind: int) -> int | None:
        """A 32-bit value; BadPacket when it has another length (RFC 2865 section 5)."""
        value = self.firsts.get(kind)
        if value is None:
            return None
        if len(value) != 4:
            raise BadPacket("attribute_length")
        return int.from_bytes(value, "big")

    def opaque(self, kind: int) -> str | None:
        """An identifier that only its sender understands: each octet as one character, so nothing is lost."""
        value = self.firsts.get(kind)
        return None if value is None else value.decode("latin-1")

    def text(self, kind: int) -> str | None:
        """UTF-8 text; octets that are none are kept as marks."""
        value = self.firsts.get(kind)
        return None if value is None else value.decode("utf-8", "replace")


def parse(unverified_octets: bytes) -> Packet:
    """The packet in a datagram, or BadPacket."""
    size = len(unverified_octets)
    if size < SHORTEST_PACKET:
        raise BadPacket("truncated")
    if size > LONGEST_PACKET:
        raise BadPacket("oversized")
    length = (unverified_octets[2] << 8) | unverified_octets[3]
    if length < SHORTEST_PACKET or length > LONGEST_PACKET:
        raise BadPacket("length_lies")
    if length > size:
        raise BadPacket("truncated")
    # RFC 2865 section 3: octets outside the range of Length are padding and ignored.
    octets = unverified_octets if length == size else unverified_octets[:length]
    attributes: list[Attribute] = []
    firsts: dict[int, bytes] = {}
    at, signed_at = HEADER_OCTETS, 0
    while at < length:
        if at + 2 > length:
            raise BadPacket("attribute_length")
        kind, span = octets[at], octets[at + 1]
        end = at + span
        if span < 2 or end > length:
            raise BadPacket("attribute_length")
        if kind == MESSAGE_AUTHENTICATOR:
            # RFC 3579 section 3.2: one at most, 18 octets.
            if signed_at or span != 18:
                raise BadPacket("message_authenticator")
            signed_at = at + 2
        value = octets[at + 2 : end]
        attributes.append((kind, value))
        if kind not in firsts:
            firsts[kind] = value
        at = end
    return Packet(octets[0], octets[1], octets[4:20], attributes, octets, signed_at, firsts)


def encode_attributes(attributes: list[Attribute]) -> bytes:
    """Attributes as octets; ValueError for a value that does not fit."""
    parts = []
    for kind, value in attributes:
        if len(value) > LONGEST_VALUE:
            raise ValueError(f"attribute {kind}: {len(value)} octets, at most {LONGEST_VALUE}")
        parts.append(bytes((kind, len(value) + 2)))
        parts.append(value)
    return b"".join(parts)


def encode_header(code: int, packet_id: int, length: int, authenticator: bytes) -> bytes:
    """The first 20 octets; ValueError over 4096."""
    if length > LONGEST_PACKET:
        raise ValueError(f"packet of {length} octets, at most {LONGEST_PACKET}")
    return bytes((code, packet_id, length >> 8, length & 0xFF)) + authenticator


def encode(packet: Packet) -> bytes:
    """The packet with the authenticator it holds; signing.py makes authenticators."""
    body = encode_attributes(packet.attributes)
    return encode_header(packet.code, packet.id, HEADER_OCTETS + len(body), packet.authenticator) + body
