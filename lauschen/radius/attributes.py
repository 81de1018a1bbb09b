"""Single attributes as octets, ready to be joined."""

from ipaddress import IPv4Address

from lauschen.radius.codec import LONGEST_VALUE
from lauschen.radius.numbers import Kind

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


def address(kind: int, value: str) -> bytes:
    return octets(kind, IPv4Address(value).packed)


def vendor(enterprise: int, number: int, value: bytes) -> bytes:
    """RFC 2865 section 5.26; the value may hold 247 octets."""
    return octets(
        Kind.VENDOR_SPECIFIC, enterprise.to_bytes(4, "big") + bytes((number, len(value) + 2)) + value
    )


def read_vendor(value: bytes) -> tuple[int, int, bytes] | None:
    """Enterprise, number and value of a vendor attribute with one sub-attribute; None for another form."""
    if len(value) < 6 or value[5] != len(value) - 4:
        return None
    return int.from_bytes(value[:4], "big"), value[4], value[6:]


def vlan(number: int) -> bytes:
    """RFC 3580 section 3.31, with the tag octets of rulings 3.10."""
    return b"".join(
        (
            octets(Kind.TUNNEL_TYPE, bytes((_UNTAGGED, 0, 0, _TUNNEL_TYPE_VLAN))),
            octets(Kind.TUNNEL_MEDIUM_TYPE, bytes((_UNTAGGED, 0, 0, _TUNNEL_MEDIUM_IEEE_802))),
            octets(Kind.TUNNEL_PRIVATE_GROUP_ID, bytes((_UNTAGGED,)) + str(number).encode()),
        )
    )


def read_vlan(private_group_id: bytes) -> str:
    """The name in a Tunnel-Private-Group-ID (RFC 2868 section 3.6: a first octet up to 0x1F is the tag)."""
    value = private_group_id[1:] if private_group_id[:1] and private_group_id[0] <= 0x1F else private_group_id
    return value.decode("utf-8", "replace")
