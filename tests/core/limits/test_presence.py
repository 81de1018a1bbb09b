"""What a guest sees as one stay, over however many reports."""

from dataclasses import dataclass

from lauschen.core.ids import AccessDeviceId, StayId
from lauschen.core.limits.presence import presences

WEST, BARN, GATE = (AccessDeviceId(n) for n in (1, 2, 3))


@dataclass
class Part:
    id: StayId
    root: StayId | None
    started: float
    ended: float | None
    end_cause: str | None
    access_device: AccessDeviceId
    counts: bool = True


def part(number: int, root: int | None, start: float, end: float | None, cause: str | None, at: AccessDeviceId,
         counts: bool = True) -> Part:  # fmt: skip
    return Part(StayId(number), None if root is None else StayId(root), start, end, cause, at, counts)


def test_a_walk_over_three_access_points_is_one_presence() -> None:
    walked = [
        part(3, 1, 20, None, None, WEST), part(2, 1, 10, 20, "roamed", BARN), part(1, None, 0, 10, "roamed", WEST),
        part(9, None, 50, 60, "user_request", BARN),
    ]  # fmt: skip
    newest, walk = presences(walked)
    assert (newest.started, newest.ended, newest.end_cause) == (50, 60, "user_request")
    assert (walk.started, walk.ended, walk.end_cause) == (0, None, None)
    assert walk.where == [WEST, BARN]


def test_a_device_that_reports_the_same_traffic_adds_nothing() -> None:
    (seen,) = presences(
        [part(1, None, 0, 30, "user_request", WEST), part(2, 1, 1, None, None, GATE, counts=False)]
    )
    assert (seen.ended, seen.end_cause, seen.where) == (30, "user_request", [WEST])
    assert [p.id for p in seen.counted] == [1]


def test_when_nobody_counts_the_reports_still_tell_when_it_was() -> None:
    (seen,) = presences([part(1, None, 0, 30, "lost", WEST, counts=False)])
    assert (seen.ended, seen.counted) == (30, [])


def test_a_part_whose_beginning_is_forgotten_stands_for_itself() -> None:
    (alone,) = presences([part(5, 2, 7, None, None, WEST)])
    assert alone.started == 7
