"""IP addresses of both versions: one spelling of each, and who has how many of them."""

from functools import lru_cache
from ipaddress import IPv4Address, IPv4Network, IPv6Address, IPv6Network, ip_address, ip_network

Address = IPv4Address | IPv6Address
Network = IPv4Network | IPv6Network
HOST_PREFIX6 = 64
"""One guest, or one machine, has so much of IPv6 for itself (RFC 4291 section 2.5.1, RFC 7934)."""


def read_ip(text: str) -> Address:
    """ValueError for what is no address. `::ffff:192.0.2.1` is the IPv4 address in it (RFC 4291 section 2.5.5.2)."""
    address = ip_address(text.partition("%")[0])
    if isinstance(address, IPv6Address) and address.ipv4_mapped is not None:
        return address.ipv4_mapped
    return address


def read_range(text: str) -> Network:
    """One address, or many with the same first bits; ValueError for what is neither."""
    if "/" in text:
        return ip_network(text)
    return ip_network(read_ip(text))


def plain_ip(text: str) -> str:
    """The one spelling that addresses are compared in; text that is no address stays as it is."""
    return _plain6(text) if ":" in text else text


@lru_cache(4096)
def _plain6(text: str) -> str:
    try:
        return str(read_ip(text))
    except ValueError:
        return text


def group_of(text: str) -> str:
    """What counts as one client: an IPv4 address, or the /64 of an IPv6 address."""
    return _group6(text) if ":" in text and "/" not in text else text


@lru_cache(4096)
def _group6(text: str) -> str:
    try:
        address = read_ip(text)
    except ValueError:
        return text
    if isinstance(address, IPv4Address):
        return str(address)
    return str(IPv6Network((int(address) >> HOST_PREFIX6 << HOST_PREFIX6, HOST_PREFIX6)))


def in_url(host: str) -> str:
    """As it stands in an address on the web (RFC 3986 section 3.2.2)."""
    return f"[{host}]" if ":" in host else host
