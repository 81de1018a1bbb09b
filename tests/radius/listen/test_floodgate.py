"""A flooding address is dropped by the kernel, one packet of eight excepted; nobody else is."""

import socket
from collections import Counter
from collections.abc import Iterator

import pytest

from lauschen.radius.listen import floodgate
from lauschen.radius.listen.floodgate import SHUT_AT, SHUT_S, FloodGate

LOUD, CALM, OTHER = "127.77.0.11", "127.77.0.12", "127.77.0.13"


@pytest.fixture
def heard() -> Iterator[socket.socket]:
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as sock:
        sock.bind(("127.0.0.1", 0))
        sock.setblocking(False)
        yield sock


@pytest.fixture
def heard6() -> Iterator[socket.socket]:
    with socket.socket(socket.AF_INET6, socket.SOCK_DGRAM) as sock:
        sock.bind(("::1", 0))
        sock.setblocking(False)
        yield sock


def say(to: socket.socket, address: str, times: int) -> None:
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as wire:
        wire.bind((address, 0))
        for _ in range(times):
            wire.sendto(b"x", to.getsockname())


def count(sock: socket.socket) -> Counter[str]:
    found: Counter[str] = Counter()
    while True:
        try:
            found[sock.recvfrom(10)[1][0]] += 1
        except BlockingIOError:
            return found


def test_by_ipv6_too(heard6: socket.socket) -> None:
    """There is one loopback address of it: an address that is near it is let through."""
    gate = FloodGate(heard6)
    for address in ("2001:db8::1", "::1:0:0:1", "::2"):
        shut_out(gate, address, 5.0)
    with socket.socket(socket.AF_INET6, socket.SOCK_DGRAM) as wire:
        for _ in range(100):
            wire.sendto(b"x", heard6.getsockname())
        assert count(heard6)["::1"] == 100
        shut_out(gate, "::1", 5.0)
        for _ in range(100):
            wire.sendto(b"x", heard6.getsockname())
    assert 0 < count(heard6)["::1"] < 40


def shut_out(gate: FloodGate, address: str, now: float) -> None:
    for _ in range(SHUT_AT):
        gate.dropped(address, now)


def test_of_a_flood_one_in_eight_is_read_and_the_rest_counted(heard: socket.socket) -> None:
    gate = FloodGate(heard)
    shut_out(gate, LOUD, 5.0)
    shut_out(gate, OTHER, 5.0)
    assert gate.shut == {LOUD, OTHER}
    read: Counter[str] = Counter()
    for _ in range(40):
        for address, times in ((LOUD, 40), (OTHER, 40), (CALM, 10)):
            say(heard, address, times)
        read += count(heard)
    assert read[CALM] == 400
    assert 100 < read[LOUD] < 320  # 200 of 1600, by chance
    assert 100 < read[OTHER] < 320
    assert gate.look(5.0 + SHUT_S - 0.1) == {}
    lost = gate.look(5.0 + SHUT_S)
    assert sum(lost.values()) in (3200 - read[LOUD] - read[OTHER], 3200 - read[LOUD] - read[OTHER] - 1)
    assert gate.shut == set()
    say(heard, LOUD, 50)
    assert count(heard)[LOUD] == 50  # open again, until it floods again


def test_what_is_dropped_slowly_is_no_flood(heard: socket.socket) -> None:
    gate = FloodGate(heard)
    for number in range(4 * SHUT_AT):
        gate.dropped(LOUD, number * 0.001)
    assert gate.shut == set()


def test_without_such_a_filter_everything_is_read(
    heard: socket.socket, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(floodgate, "SO_ATTACH_FILTER", 9999)
    gate = FloodGate(heard)
    shut_out(gate, LOUD, 5.0)
    assert gate.shut == set()
    say(heard, LOUD, 50)
    assert count(heard)[LOUD] == 50
