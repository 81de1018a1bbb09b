"""What no HTTP client may do too much of, on either listener: bodies, requests, connections (rulings 6.13)."""

import asyncio
import resource
from collections import Counter, OrderedDict
from collections.abc import Callable
from typing import Protocol

from starlette.types import Message, Receive, Scope

from lauschen.core.words.ip import group_of

LARGEST_HEAD = 8192
"""Octets of an address with all headers. The reader of HTTP ends only heads that come in pieces at that."""
LARGEST_BODY = 64 * 1024
BODY_S = 10.0
"""For a whole body, however many pieces it comes in."""
MOST_CLIENTS = 10_000
DESCRIPTORS = 65_536
KEPT_BACK = 256
"""Descriptors that no HTTP connection takes: sockets of RADIUS, changes on their way, the database, the worker."""


class TooLarge(Exception):
    """A body went over the limit while it was received, whatever it had said of its length."""


class Body:
    """Counts a request's body while it comes.

    `receive` raises TooLarge over the limit, and TimeoutError when all of it takes too long; `fault` is the status
    that says so, also where somebody else has caught that.
    """

    def __init__(self, receive: Receive, largest: int = LARGEST_BODY) -> None:
        self._largest = largest
        self.fault: int | None = None
        self._receive = receive
        self._deadline = asyncio.get_running_loop().time() + BODY_S
        self._seen = 0
        self._is_over = False

    async def receive(self) -> Message:
        if self._is_over:
            return await self._receive()
        try:
            async with asyncio.timeout_at(self._deadline):
                message = await self._receive()
        except TimeoutError:
            self.fault = 408
            raise
        self._seen += len(message.get("body", b""))
        if self._seen > self._largest:
            self.fault = 413
            raise TooLarge
        self._is_over = not message.get("more_body", False)
        return message

    def is_left(self, headers: list[tuple[bytes, bytes]]) -> bool:
        """Whether some of the body that the headers promise has not been read."""
        promised = dict(headers)
        return not self._is_over and (
            b"transfer-encoding" in promised or promised.get(b"content-length", b"0") != b"0"
        )


def fault_of_head(scope: Scope) -> int | None:
    """The status that refuses a request for its head alone.

    431 if the address and headers are too long (RFC 6585 section 5). 400 if the length is given in two ways:
    a proxy may use the other one, and take the rest for a separate request (RFC 9112 section 6.3).
    """
    head, names = len(scope["path"]) + len(scope.get("query_string", b"")), set()
    for name, value in scope["headers"]:
        head += len(name) + len(value)
        names.add(name)
    if head > LARGEST_HEAD:
        return 431
    return 400 if b"transfer-encoding" in names and b"content-length" in names else None


def says_too_large(headers: list[tuple[bytes, bytes]], largest: int = LARGEST_BODY) -> bool:
    """A Content-Length that is over the limit, or none that anybody could read."""
    length = dict(headers).get(b"content-length", b"0")
    return not length.isdigit() or len(length) > 12 or int(length) > largest


class Buckets:
    """So many requests per second of each client, and a burst before that."""

    def __init__(self, per_s: float, burst: float, monotonic: Callable[[], float]) -> None:
        self._per_s, self._burst, self._monotonic = per_s, burst, monotonic
        self._left: OrderedDict[str, tuple[float, float]] = OrderedDict()

    def take(self, client: str) -> bool:
        """False when the client's bucket is empty."""
        now = self._monotonic()
        left, at = self._left.pop(client, (self._burst, now))
        left = min(self._burst, left + (now - at) * self._per_s)
        allowed = left >= 1.0
        self._left[client] = (left - 1.0 if allowed else left, now)
        if len(self._left) > MOST_CLIENTS:
            self._left.popitem(last=False)
        return allowed


class Connected(Protocol):
    """One connection of a listener."""

    @property
    def is_idle(self) -> bool:
        """No request is under way on it."""

    def cut(self) -> None:
        """Ends it at once."""


class Crowd:
    """The open connections of one listener, counted as they are accepted."""

    def __init__(self, most: int, most_each: int, exempt: frozenset[str] = frozenset()) -> None:
        self.most, self._most_each, self._exempt = most, most_each, exempt
        self._open: dict[Connected, str] = {}
        self._each: Counter[str] = Counter()
        self.refused: Counter[str] = Counter()
        """`each`: of one address; `all`: of the listener; `idle`: one that waited made room."""

    def enter(self, connection: Connected, address: str) -> bool:
        """False when there is no room for it; the one that was idle longest makes room first."""
        is_exempt, address = address in self._exempt, group_of(address)
        if self._each[address] >= self._most_each and not is_exempt:
            self.refused["each"] += 1
            return False
        if len(self._open) >= self.most:
            idle = next((one for one in self._open if one.is_idle), None)
            if idle is None:
                self.refused["all"] += 1
                return False
            self.refused["idle"] += 1
            self.leave(idle)
            idle.cut()
        self._open[connection] = address
        self._each[address] += 1
        return True

    def leave(self, connection: Connected) -> None:
        address = self._open.pop(connection, None)
        if address is None:
            return
        self._each[address] -= 1
        if not self._each[address]:
            del self._each[address]


def raise_descriptors() -> int:
    """Raises the limit of open files as far as the system allows; what it is then."""
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    wanted = DESCRIPTORS if hard == resource.RLIM_INFINITY else min(hard, DESCRIPTORS)
    if soft == resource.RLIM_INFINITY or soft >= wanted:
        return DESCRIPTORS if soft == resource.RLIM_INFINITY else soft
    resource.setrlimit(resource.RLIMIT_NOFILE, (wanted, hard))
    return wanted


def shares(descriptors: int) -> tuple[int, int]:
    """Connections of the guest page and of the console, so that neither takes the other's, nor anybody else's."""
    spare = max(64, descriptors - KEPT_BACK)
    return min(4000, spare * 2 // 3), min(500, spare // 4)
