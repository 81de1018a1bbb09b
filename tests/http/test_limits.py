"""Bodies, buckets and crowds by themselves."""

import asyncio
import resource

import pytest
from starlette.types import Message

from lauschen.http import limits as http_limits
from lauschen.http.limits import (
    LARGEST_BODY,
    Body,
    Buckets,
    Crowd,
    TooLarge,
    raise_descriptors,
    says_too_large,
    shares,
)


def pieces(*sizes: int) -> Body:
    left = list(sizes)

    async def receive() -> Message:
        if not left:
            return {"type": "http.disconnect"}
        size = left.pop(0)
        return {"type": "http.request", "body": b"x" * size, "more_body": bool(left)}

    return Body(receive)


async def test_a_body_is_counted_while_it_comes_whatever_it_said_of_its_length() -> None:
    body = pieces(LARGEST_BODY - 1, 1, 0)
    for _ in range(3):
        await body.receive()
    assert body.fault is None
    assert (await body.receive())["type"] == "http.disconnect"
    body = pieces(LARGEST_BODY, 1)
    await body.receive()
    with pytest.raises(TooLarge):
        await body.receive()
    assert body.fault == 413


async def test_all_of_a_body_has_one_deadline_and_what_comes_after_it_none(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(http_limits, "BODY_S", 0.05)

    async def slowly() -> Message:
        await asyncio.sleep(0.02)
        return {"type": "http.request", "body": b"x", "more_body": True}

    body = Body(slowly)

    async def all_of_it() -> None:
        for _ in range(10):
            await body.receive()

    with pytest.raises(TimeoutError):
        await all_of_it()
    assert body.fault == 408
    left = [{"type": "http.request", "body": b"x"}, {"type": "http.disconnect"}]

    async def late() -> Message:
        await asyncio.sleep(0.03)
        return left.pop(0)

    body = Body(late)
    await body.receive()
    assert (await body.receive())["type"] == "http.disconnect"  # a long answer is under way, say


@pytest.mark.parametrize(
    ("length", "is_too_large"),
    [
        (b"0", False),
        (b"65536", False),
        (b"65537", True),
        (b"-1", True),
        (b"x", True),
        (b"9" * 5000, True),
        (b"0000000" + b"65536", False),
        (b"00000000" + b"65536", True),
        (b"", True),
    ],
)
def test_what_a_request_says_of_its_length(length: bytes, is_too_large: bool) -> None:
    assert says_too_large([(b"content-length", length)]) is is_too_large


def test_a_bucket_refills_and_forgets_who_came_long_ago(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(http_limits, "MOST_CLIENTS", 2)
    now = [0.0]
    buckets = Buckets(2, 4, lambda: now[0])
    assert [buckets.take("a") for _ in range(5)] == [True] * 4 + [False]
    now[0] += 1
    assert [buckets.take("a") for _ in range(3)] == [True, True, False]
    now[0] += 100
    assert [buckets.take("a") for _ in range(5)] == [True] * 4 + [False]
    assert buckets.take("b")
    assert buckets.take("c")
    assert buckets.take("a")  # forgotten, as the one that came longest ago
    assert [buckets.take("c") for _ in range(4)] == [True] * 3 + [False]


class Wire:
    def __init__(self, *, is_idle: bool = True) -> None:
        self.is_idle, self.is_cut = is_idle, False

    def cut(self) -> None:
        self.is_cut = True


def test_a_crowd_of_busy_ones_lets_nobody_in_and_counts_it() -> None:
    crowd = Crowd(2, 2)
    busy = [Wire(is_idle=False) for _ in range(2)]
    assert all(crowd.enter(wire, "a") for wire in busy)
    assert not crowd.enter(Wire(), "b")
    assert not crowd.enter(Wire(), "a")
    assert crowd.refused == {"all": 1, "each": 1}
    crowd.leave(busy[0])
    crowd.leave(busy[0])
    waiting = Wire()
    assert crowd.enter(waiting, "a")
    assert crowd.enter(Wire(is_idle=False), "b")
    assert waiting.is_cut
    assert crowd.refused["idle"] == 1


def test_room_is_counted_exactly_as_connections_come_and_go() -> None:
    crowd = Crowd(100, 3)
    mine = [Wire(is_idle=False) for _ in range(3)]
    for _ in range(3):
        assert [crowd.enter(wire, "a") for wire in mine] == [True] * 3
        assert not crowd.enter(Wire(), "a")
        crowd.leave(mine[0])
        assert crowd.enter(mine[0], "a")
        assert not crowd.enter(Wire(), "a")
        for wire in mine:
            crowd.leave(wire)
    assert crowd.refused == {"each": 6}
    full = Crowd(1, 9)
    wires = [Wire() for _ in range(4)]
    assert [full.enter(wire, "a") for wire in wires] == [True] * 4
    assert [wire.is_cut for wire in wires] == [True] * 3 + [False]
    assert full.refused == {"idle": 3}
    wires[3].is_idle = False
    assert [full.enter(Wire(), "a") for _ in range(2)] == [False, False]
    assert full.refused["all"] == 2


@pytest.mark.parametrize(
    ("soft", "hard", "is_set", "descriptors"),
    [
        (1024, 4096, 4096, 4096),
        (1024, resource.RLIM_INFINITY, 65_536, 65_536),
        (4096, 4096, None, 4096),
        (100_000, 200_000, None, 100_000),
        (resource.RLIM_INFINITY, resource.RLIM_INFINITY, None, 65_536),
    ],
)
def test_the_limit_of_descriptors_is_raised_where_that_is_possible(
    monkeypatch: pytest.MonkeyPatch, soft: int, hard: int, is_set: int | None, descriptors: int
) -> None:
    said: list[tuple[int, int]] = []
    monkeypatch.setattr(resource, "getrlimit", lambda _: (soft, hard))
    monkeypatch.setattr(resource, "setrlimit", lambda _, limits: said.append(limits))
    assert raise_descriptors() == descriptors
    assert said == ([] if is_set is None else [(is_set, hard)])


@pytest.mark.parametrize(
    ("descriptors", "each"), [(256, (42, 16)), (1024, (512, 192)), (4096, (2560, 500)), (65_536, (4000, 500))]
)
def test_page_and_console_have_each_its_share(descriptors: int, each: tuple[int, int]) -> None:
    assert shares(descriptors) == each


def test_descriptors_are_raised_and_shared_so_that_some_are_kept_back() -> None:
    before = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (min(700, before[1]), before[1]))
    try:
        raised = raise_descriptors()
        assert (
            resource.getrlimit(resource.RLIMIT_NOFILE)[0] == raised == min(before[1], http_limits.DESCRIPTORS)
        )
    finally:
        resource.setrlimit(resource.RLIMIT_NOFILE, before)
    for limit in (256, 1024, 4096, 65_536):
        guests, staff = shares(limit)
        assert min(guests, staff) > 0
        if limit >= 1024:
            assert guests + staff + http_limits.KEPT_BACK <= limit


def test_all_addresses_of_a_64_are_one_client() -> None:
    crowd = Crowd(10, 2, frozenset({"2001:db8::9"}))
    ones = [Wire() for _ in range(4)]
    assert crowd.enter(ones[0], "2001:db8::1")
    assert crowd.enter(ones[1], "2001:db8::2")
    assert not crowd.enter(ones[2], "2001:db8::3")
    assert crowd.enter(ones[2], "2001:db8::9")  # a proxy
    assert crowd.enter(ones[3], "2001:db8:0:1::1")
    for one in ones:
        crowd.leave(one)
    assert crowd.enter(ones[0], "2001:db8::4")
