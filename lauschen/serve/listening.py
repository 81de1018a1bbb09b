"""Where we listen: one address, or all of this machine, of both versions of IP where it has both."""

import socket

EVERYWHERE = "*"
"""As an option: every address of this machine."""
ALL4, ALL6 = "0.0.0.0", "::"  # noqa: S104 - what the option asks for


def each_host(host: str) -> tuple[str, ...]:
    """The addresses to listen on; the two versions have a socket each, so that IPv4 addresses stay what they are."""
    if host != EVERYWHERE:
        return (host,)
    return (ALL4, ALL6) if _has_ipv6() else (ALL4,)


def _has_ipv6() -> bool:
    """Also False where the system was told to do without it."""
    try:
        with socket.socket(socket.AF_INET6, socket.SOCK_DGRAM) as probe:
            probe.setsockopt(socket.IPPROTO_IPV6, socket.IPV6_V6ONLY, 1)
            probe.bind((ALL6, 0))
    except OSError:
        return False
    return True
