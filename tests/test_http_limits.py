"""Bodies, buckets and crowds by themselves."""

import asyncio
import resource

import pytest
from starlette.types import Message

from lauschen import http_limits
from lauschen.http_limits import (
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
    body = pieces(1)
    await body.receive()
    await asyncio.sleep(0.06)
    assert (await body.receive())["type"] == "http.disconnect"


@pytest.mark.parametrize(
    ("length", "is_too_large"),
    [
        (b"0", False),
        (b"65536", False),
        (b"65537", True),
        (b"-1", True),
        (b"x", True),
        (b"9" * 5000, True),
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
    assert len(buckets._left) == 2


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
