"""Bytes <-> packet (RFC 2865 section 3). No sockets, no secrets, nothing of ours imported.

Whatever comes in is unverified. One error leaves this module: BadPacket, with a reason that is counted.
"""

from collections.abc import Iterator

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


class Packet:
    """A packet as it is on the wire. Slots, and the list of attributes only when somebody asks for it: one is
    made for each datagram.
    """

    __slots__ = ("_attributes", "authenticator", "code", "firsts", "has_repeats", "id", "octets", "signed_at")

    def __init__(
        self,
        code: int,
        packet_id: int,
        authenticator: bytes,
        attributes: list[Attribute] | None = None,
        octets: bytes = b"",
        signed_at: int = 0,
        firsts: dict[int, bytes] | None = None,
        has_repeats: bool = False,
    ) -> None:
        self.code = code
        self.id = packet_id
        self.authenticator = authenticator
        self._attributes = attributes
        self.octets = octets
        """As received, without padding; empty for a packet that was made here."""
        self.signed_at = signed_at
        """Where the value of the Message-Authenticator begins in `octets`; 0 when there is none."""
        self.firsts: dict[int, bytes] = firsts if firsts is not None else {}
        """The first value of each number, of a packet that was parsed."""
        self.has_repeats = has_repeats

    @property
    def attributes(self) -> list[Attribute]:
        """Numbers and values in order."""
        if self._attributes is None:
            self._attributes = list(_walk(self.octets))
        return self._attributes

    def first(self, kind: int) -> bytes | None:
        """The value of the first attribute of this number."""
        return self.firsts.get(kind)

    def all(self, kind: int) -> list[bytes]:
        """All values of this number, in order."""
        first = self.firsts.get(kind)
        if first is not None and not self.has_repeats:
            return [first]
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
    firsts: dict[int, bytes] = {}
    at, signed_at, has_repeats = HEADER_OCTETS, 0, False
    try:
        while at < length:
            kind, span = octets[at], octets[at + 1]
            end = at + span
            if span < 2 or end > length:
                raise BadPacket("attribute_length")
            if kind in firsts:
                has_repeats = True
                if kind == MESSAGE_AUTHENTICATOR:
                    raise BadPacket("message_authenticator")
            else:
                firsts[kind] = octets[at + 2 : end]
                if kind == MESSAGE_AUTHENTICATOR:
                    # RFC 3579 section 3.2: one at most, 18 octets.
                    if span != 18:
                        raise BadPacket("message_authenticator")
                    signed_at = at + 2
            at = end
    except IndexError as exc:
        raise BadPacket("attribute_length") from exc
    return Packet(octets[0], octets[1], octets[4:20], None, octets, signed_at, firsts, has_repeats)


def _walk(octets: bytes) -> Iterator[Attribute]:
    """The attributes of octets that `parse` has seen."""
    at = HEADER_OCTETS
    while at < len(octets):
        end = at + octets[at + 1]
        yield octets[at], octets[at + 2 : end]
        at = end


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
