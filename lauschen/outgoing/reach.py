"""Where our own requests may go (rulings 6.8).

https only; loopback, link-local and metadata addresses never; private ranges only if listed at start.
"""

import asyncio
import socket
from collections.abc import Awaitable, Callable
from dataclasses import dataclass, field
from ipaddress import IPv4Address, IPv4Network, IPv6Address, IPv6Network, ip_address, ip_network
from urllib.parse import urlsplit

from lauschen.core.errors import Invalid, Unavailable

Network = IPv4Network | IPv6Network
_NEVER: tuple[Network, ...] = (
    IPv4Network("192.0.0.0/24"),  # RFC 6890: protocol assignments, the translator's own among them
    IPv4Network("192.88.99.0/24"),  # RFC 7526: relays of a withdrawn transition
    IPv6Network("::/96"),  # RFC 4291 section 2.5.5.1: an IPv4 address inside
    IPv6Network("::ffff:0:0/96"),  # RFC 4291 section 2.5.5.2
    IPv6Network("64:ff9b::/96"),  # RFC 6052: translated to the IPv4 address inside
    IPv6Network("64:ff9b:1::/48"),  # RFC 8215
    IPv6Network("2001::/32"),  # RFC 4380: tunnelled to the IPv4 address inside
    IPv6Network("2002::/16"),  # RFC 3056
    IPv6Network("fec0::/10"),  # RFC 3879: site-local, withdrawn; what it leads to is the site's own
)
"""Addresses that lead to another one, which would have to be judged itself; a listed range is no excuse."""
Resolve = Callable[[str, int], Awaitable[list[str]]]


@dataclass(frozen=True, slots=True)
class Reach:
    """Exceptions, given at start: ranges for https, and single addresses (with port) for plain http."""

    ranges: tuple[Network, ...] = ()
    plain: frozenset[tuple[str, int]] = field(default_factory=frozenset)


@dataclass(frozen=True, slots=True)
class Target:
    """An address that was checked: the request goes to `ip`, whatever the name resolves to later."""

    scheme: str
    host: str
    ip: str
    port: int
    path: str


def read_reach(texts: list[str]) -> Reach:
    """From the start option: `10.0.0.0/8`, or `http://10.0.0.5:8080` for one that speaks no TLS."""
    ranges, plain = [], set()
    for text in texts:
        try:
            if text.startswith("http://"):
                parts = urlsplit(text)
                plain.add((str(ip_address(parts.hostname or "")), parts.port or 80))
            else:
                ranges.append(ip_network(text))
        except ValueError as exc:
            raise Invalid("reach", field="reach", mend=f"{text}: a range, or http://ADDRESS:PORT") from exc
    return Reach(tuple(ranges), frozenset(plain))


async def resolve(host: str, port: int) -> list[str]:
    """The addresses of a name, from the system's resolver."""
    try:
        found = await asyncio.get_running_loop().getaddrinfo(host, port, type=socket.SOCK_STREAM)
    except (
        OSError,
        UnicodeError,
    ) as exc:  # the latter: a part of it is longer than a name may have (RFC 1035)
        raise Unavailable(host, meanwhile="The name leads nowhere now.") from exc
    return [str(entry[4][0]) for entry in found]


async def check_target(url: str, reach: Reach, look_up: Resolve = resolve) -> Target:
    """Where `url` leads; Invalid when it may not be reached, Unavailable when its name leads nowhere."""
    scheme, host, port, path = read_address(url)
    addresses = await look_up(host, port)
    for address in addresses:
        if not _may(ip_address(address), port, scheme, reach):
            raise Invalid("address", field="url", mend=f"{host} ({address}) may not be reached from here.")
    if not addresses:
        raise Unavailable(host, meanwhile="The name leads nowhere now.")
    return Target(scheme, host, addresses[0], port, path)


async def check_host(host: str, port: int, reach: Reach, look_up: Resolve = resolve) -> str:
    """The address of a server that is no web server; the same may be reached as by https, or is listed alone.

    Invalid when it may not be reached, Unavailable when its name leads nowhere.
    """
    addresses = await look_up(host, port)
    for address in addresses:
        if not _may(ip_address(address), port, "https", reach):
            mend = f"{host} ({address}) may not be reached from here: {_listed(address, port)} lists it."
            raise Invalid("address", field="host", mend=mend)
    if not addresses:
        raise Unavailable(host, meanwhile="The name leads nowhere now.")
    return addresses[0]


def _listed(address: str, port: int) -> str:
    """The start option that lists an address: what no range covers is listed alone."""
    ip = ip_address(address)
    if _may(ip, port, "https", Reach((ip_network(address),))):
        return f"--reach {address}"
    return f"--reach http://{f'[{address}]' if ip.version == 6 else address}:{port}"


def read_address(url: str) -> tuple[str, str, int, str]:
    """Scheme, host, port and path of an address; Invalid says what of it is wrong."""
    try:
        parts = urlsplit(url)
        port = parts.port
    except ValueError as exc:
        raise Invalid("address", field="url", mend=f"{url[:60]}: {exc}.") from exc
    host, scheme = parts.hostname or "", parts.scheme
    if scheme not in ("https", "http") or not host:
        raise Invalid("address", field="url", mend="An https:// address is needed.")
    try:
        host = host.encode("idna").decode() if ":" not in host else host
    except UnicodeError as exc:
        mend = f"{host[:60]}: a part of the name is empty or longer than 63 letters."
        raise Invalid("address", field="url", mend=mend) from exc
    path = (parts.path or "/") + (f"?{parts.query}" if parts.query else "")
    return scheme, host, port or (443 if scheme == "https" else 80), path


def _may(ip: IPv4Address | IPv6Address, port: int, scheme: str, reach: Reach) -> bool:
    if (str(ip), port) in reach.plain:
        return True
    if scheme != "https" or ip.is_loopback or ip.is_link_local or ip.is_multicast or ip.is_unspecified:
        return False
    if any(ip in network for network in _NEVER if network.version == ip.version):
        return False
    if any(ip in network for network in reach.ranges if network.version == ip.version):
        return True
    return ip.is_global
