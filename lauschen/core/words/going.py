"""Where a guest was going: believed for nothing, and shown as the host that the link really leads to."""

import re
import unicodedata
from collections.abc import Sequence
from urllib.parse import SplitResult, urlsplit

from lauschen.core.words.codes import USUAL, TypedCode, read_code

LONGEST_GOING = 1500
_HOST = re.compile(r"[a-z0-9_]([a-z0-9_-]*[a-z0-9_])?(\.[a-z0-9_]([a-z0-9_-]*[a-z0-9_])?)*\.?")
_IPV6 = re.compile(r"[0-9a-f:.]+")


def going_on(
    unverified_url: str, slip_host: str, lengths: Sequence[int] = USUAL
) -> tuple[str | None, str | None]:
    """A link that is safe to show, and the code if the address was a slip's; None for everything else.

    The link's host is in ASCII, so that no browser reads another one in it than we do.
    """
    parts = _split(unverified_url)
    if parts is None or not parts.hostname:
        return None, None
    if parts.hostname == slip_host:
        typed = read_code(parts.path.strip("/"), lengths)
        return None, typed.signs if isinstance(typed, TypedCode) else None
    host = _ascii(parts.hostname)
    if host is None:
        return None, None
    port = "" if parts.port is None else f":{parts.port}"
    url = parts._replace(netloc=host + port).geturl()
    return (url, None) if len(url) <= LONGEST_GOING else (None, None)


def shown_host(url: str) -> str:
    """The host of a link of ours as people read it; as it is on the wire when its letters are of several scripts.

    Letters that look alike would else show another host than the one it leads to.
    """
    host = urlsplit(url).hostname or ""
    try:
        readable = ".".join(label.encode().decode("idna") for label in host.split("."))
    except UnicodeError:
        return host
    scripts = {_script(sign) for sign in readable if sign.isalpha()}
    return readable if len(scripts) <= 1 else host


def _split(unverified_url: str) -> SplitResult | None:
    """None for what browsers and we might read differently: backslashes, controls, blanks, a user before the host."""
    if len(unverified_url) > LONGEST_GOING or "\\" in unverified_url:
        return None
    if any(not sign.isprintable() or sign.isspace() for sign in unverified_url):
        return None
    try:
        parts = urlsplit(unverified_url)
        _ = parts.port  # raises when it is none
    except ValueError:
        return None
    if parts.scheme not in ("http", "https") or "@" in parts.netloc or "%" in parts.netloc:
        return None
    if "[" in parts.netloc and ":" not in (parts.hostname or ""):
        return None  # brackets are for IPv6 addresses
    return parts


def _ascii(host: str) -> str | None:
    if ":" in host:
        return f"[{host}]" if _IPV6.fullmatch(host) else None
    try:
        encoded = host.encode("idna").decode()
    except UnicodeError:
        return None
    return encoded if _HOST.fullmatch(encoded) else None


def _script(sign: str) -> str:
    """`LATIN`, `CYRILLIC`, ...: the first word of a letter's name."""
    return unicodedata.name(sign, "?").split(" ")[0]
