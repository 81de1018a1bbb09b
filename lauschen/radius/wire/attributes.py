"""Single attributes as octets, ready to be joined, and the way back from octets to values."""

from datetime import UTC, datetime
from ipaddress import IPv4Address, IPv6Address, IPv6Network

from lauschen.radius.wire.codec import LONGEST_VALUE
from lauschen.radius.wire.numbers import Kind

LONGEST_VENDOR_VALUE = 247
LAST_TAG = 0x1F
_TUNNEL_TYPE_VLAN = 13  # RFC 3580 section 3.31
_TUNNEL_MEDIUM_IEEE_802 = 6
_UNTAGGED = 0x00


def octets(kind: int, value: bytes) -> bytes:
    if len(value) > LONGEST_VALUE:
        raise ValueError(f"attribute {kind}: {len(value)} octets, at most {LONGEST_VALUE}")
    return bytes((kind, len(value) + 2)) + value


def text(kind: int, value: str) -> bytes:
    return octets(kind, value.encode())


def opaque(kind: int, value: str) -> bytes:
    """The way back from `Packet.opaque`."""
    return octets(kind, value.encode("latin-1"))


def integer(kind: int, value: int) -> bytes:
    return bytes((kind, 6)) + value.to_bytes(4, "big")


def integer64(kind: int, value: int) -> bytes:
    return bytes((kind, 10)) + value.to_bytes(8, "big")


def time(kind: int, at: float) -> bytes:
    """UTC epoch seconds as 32 bits (RFC 8044 section 3.3)."""
    return integer(kind, int(at))


def address(kind: int, value: str) -> bytes:
    return octets(kind, IPv4Address(value).packed)


def address6(kind: int, value: str) -> bytes:
    """RFC 3162 section 2.1."""
    return octets(kind, IPv6Address(value).packed)


def prefix6(kind: int, value: str) -> bytes:
    """RFC 3162 section 2.3: a reserved octet, the prefix length, and as many octets as the prefix needs."""
    network = IPv6Network(value)
    needed = -(-network.prefixlen // 8)
    return octets(kind, bytes((0, network.prefixlen)) + network.network_address.packed[:needed])


def interface6(kind: int, value: str) -> bytes:
    """RFC 3162 section 2.2: 64 bits as four groups of hex digits."""
    groups = value.split(":")
    return octets(kind, b"".join(int(group, 16).to_bytes(2, "big") for group in groups))


def tagged_integer(kind: int, value: int, tag: int = _UNTAGGED) -> bytes:
    """RFC 2868 section 3.1: a tag octet and 24 bits."""
    return octets(kind, bytes((tag,)) + value.to_bytes(3, "big"))


def tagged_text(kind: int, value: str, tag: int | None) -> bytes:
    """RFC 2868 section 3.3; tag None leaves the octet out."""
    return octets(kind, (b"" if tag is None else bytes((tag,))) + value.encode())


def vendor(enterprise: int, number: int, value: bytes) -> bytes:
    """RFC 2865 section 5.26; the value may hold 247 octets."""
    return vendor_many(enterprise, [(number, value)])


def vendor_many(enterprise: int, subs: list[tuple[int, bytes]]) -> bytes:
    """One Vendor-Specific with several sub-attributes (RFC 2865 section 5.26)."""
    body = b"".join(bytes((number, len(value) + 2)) + value for number, value in subs)
    return octets(Kind.VENDOR_SPECIFIC, enterprise.to_bytes(4, "big") + body)


def split(kind: int, value: bytes) -> bytes:
    """A long value over as many attributes as it needs, cut anywhere (RFC 4849 section 2, RFC 3579 section 3.1)."""
    pieces = [value[at : at + LONGEST_VALUE] for at in range(0, len(value), LONGEST_VALUE)]
    return b"".join(octets(kind, piece) for piece in pieces)


def vlan(group: str, tag: int | None = _UNTAGGED) -> bytes:
    """RFC 3580 section 3.31. Type and medium carry tag 0x00; the group's tag is the dialect's (rulings 3.10)."""
    return b"".join(
        (
            tagged_integer(Kind.TUNNEL_TYPE, _TUNNEL_TYPE_VLAN, tag or _UNTAGGED),
            tagged_integer(Kind.TUNNEL_MEDIUM_TYPE, _TUNNEL_MEDIUM_IEEE_802, tag or _UNTAGGED),
            tagged_text(Kind.TUNNEL_PRIVATE_GROUP_ID, group, tag),
        )
    )


def read_vendor(value: bytes) -> tuple[int, list[tuple[int, bytes]]] | None:
    """Enterprise number and sub-attributes; None when it is not of the form that RFC 2865 recommends.

    Such a value is no error: it is kept whole.
    """
    if len(value) < 7:
        return None
    subs, at = [], 4
    while at < len(value):
        if at + 2 > len(value) or value[at + 1] < 2 or at + value[at + 1] > len(value):
            return None
        subs.append((value[at], value[at + 2 : at + value[at + 1]]))
        at += value[at + 1]
    return int.from_bytes(value[:4], "big"), subs


def read_tag(value: bytes) -> tuple[int | None, bytes]:
    """RFC 2868 section 3.3: a first octet up to 0x1F is the tag, a greater one the text's first."""
    if value[:1] and value[0] <= LAST_TAG:
        return value[0], value[1:]
    return None, value


def read_vlan(private_group_id: bytes) -> str:
    """The name in a Tunnel-Private-Group-ID."""
    return read_tag(private_group_id)[1].decode("utf-8", "replace")


def read_prefix6(value: bytes) -> str | None:
    """RFC 3162 section 2.3; None when the octets are no prefix."""
    if not 2 <= len(value) <= 18 or value[1] > 128:
        return None
    return f"{IPv6Address(value[2:].ljust(16, bytes(1)))}/{value[1]}"


def read_interface6(value: bytes) -> str | None:
    """Four groups of four hex digits."""
    return value.hex(":", 2) if len(value) == 8 else None


def read_time(value: bytes) -> datetime | None:
    """RFC 8044 section 3.3."""
    return datetime.fromtimestamp(int.from_bytes(value, "big"), UTC) if len(value) == 4 else None
