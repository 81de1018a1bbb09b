"""What is decided again without being asked anew is what would be decided, or it is asked anew."""

from collections.abc import Callable
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.decide.again import decide_again
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.grant import Grant
from lauschen.core.decide.picture import AdmissionFacts, Picture
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.decide.steps import decide
from lauschen.core.ids import AccessDeviceId, AdmissionId, AllowanceId, CredentialId, Mac
from lauschen.core.limits.use import Use
from lauschen.core.ways.kinds import WayIn
from tests.core.decide.test_steps import GARDEN, HOUSE, PLAN, T0, VISITOR

MAC, WEST, BARN = Mac(0x020000AABB01), AccessDeviceId(1), AccessDeviceId(2)
ADMISSION = AdmissionId(1)
ENDS = T0 - 60 + 8 * 3600


class Case:
    """A device that asks again, and all that is known of it."""

    def __init__(self, *, inside: bool, medium: Medium = Medium.ASKED, reason: Reason | None = None) -> None:
        self.use = Use(T0 - 60, T0 - 60)
        self.admission = AdmissionFacts(
            ADMISSION,
            Grant(WayIn.VOUCHER, PLAN, self.use, CredentialId(5), AllowanceId(5)),
            True,
            T0 - 60,
            None,
            "t",
        )
        state = State.INSIDE if inside else State.AT_DOOR
        self.standing = Standing(
            MAC, GARDEN, state, T0, state, reason, None, WEST, "S1", "x",
            "10.0.0.1", VISITOR, "10.0.0.5", T0, None, None, ADMISSION if inside else None, ENDS if inside else None,
            None, T0, "", 0,
        )  # fmt: skip
        self.picture = Picture(HOUSE, self.standing, admission=self.admission if inside else None)
        self.arrival = Arrival(
            medium, MAC, WEST, b"Hollerau Garden", spelled="x", session_id="S1", source="10.0.0.1",
            framed_ip="10.0.0.5",
        )  # fmt: skip
        self.picture.memo, self.picture.memo_medium = decide(self.arrival, self.picture, T0), medium
        self.now = T0 + 5

    def again(self) -> Decision | None:
        return decide_again(self.arrival, self.picture, self.now)


def same(one: Decision, other: Decision) -> bool:
    parts = [(d.answer, d.reason, d.network, d.role, d.rule, d.left, d.good_until) for d in (one, other)]
    return parts[0] == parts[1]


@pytest.mark.parametrize("medium", [Medium.ASKED, Medium.PERSON])
def test_who_is_inside_is_decided_again_with_what_is_left_now(medium: Medium) -> None:
    case = Case(inside=True, medium=medium)
    case.use.octets += 5
    found = case.again()
    assert found is not None
    assert found.left is not None
    assert (found.left.seconds, found.left.octets) == (8 * 3600 - 65, 2 * 10**9 - 5)
    assert same(found, decide(case.arrival, case.picture, case.now))


@pytest.mark.parametrize("reason", [None, Reason.TIME_USED_UP, Reason.DATA_USED_UP])
def test_who_is_at_the_door_or_held_is_too(reason: Reason | None) -> None:
    case = Case(inside=False, reason=reason)
    found = case.again()
    assert found is not None
    assert found.answer is Answer.DOOR
    assert same(found, decide(case.arrival, case.picture, case.now))


def change(**of: object) -> Callable[[Case], None]:
    """Sets attributes: `standing__wanted=...`."""

    def apply(case: Case) -> None:
        for path, value in of.items():
            *way, last = path.split("__")
            target: object = case
            for part in way:
                target = getattr(target, part)
            setattr(target, last, value)

    return apply


ANY: dict[str, Callable[[Case], None]] = {
    "nothing was decided before": change(picture__memo=None),
    "it stands nowhere": change(picture__standing=None),
    "a change is on its way to it": change(picture__is_wanted=True),
    "its person asked before": change(picture__memo_medium=Medium.PERSON),
    "it re-authorises": change(arrival__medium=Medium.REAUTHORISED, picture__memo_medium=Medium.REAUTHORISED),
    "another session": change(arrival__session_id="S2"),
    "another access device": change(arrival__access_device=BARN),
    "another address of the access device": change(arrival__source="10.0.0.2"),
    "another spelling": change(arrival__spelled="y"),
    "it is on its way": change(standing__wanted=State.HELD),
    "another address": change(arrival__framed_ip="10.0.0.6"),
    "staff barred it": change(picture__barred_since=T0),
    "its typing is barred": change(picture__typing_barred_until=T0 + 60),
}
INSIDE: dict[str, Callable[[Case], None]] = {
    "its seat is taken": change(admission__has_seat=False),
    "it is in by another admission": change(standing__admission=AdmissionId(2)),
    "the time is over": change(now=ENDS),
    "the data is over": change(use__octets=2 * 10**9),
    "its code was withdrawn": change(use__withdrawn_at=T0 + 1),
    "it was given time": change(use__given_seconds=60),
    "it was at the door before": lambda case: setattr(
        case.picture, "memo", decide(case.arrival, Picture(HOUSE, case.standing), T0)
    ),
}
AT_DOOR: dict[str, Callable[[Case], None]] = {
    "it was refused for what ended with it": lambda case: setattr(
        case.picture,
        "memo",
        replace(case.picture.memo, reason=Reason.CODE_WITHDRAWN),  # type: ignore[type-var]
    ),
    "limits were looked at, which it has no more": lambda case: setattr(
        case.picture,
        "memo",
        replace(case.picture.memo, left=decide(*inside_before()).left),  # type: ignore[type-var]
    ),
    "it was let in before": lambda case: setattr(
        case.picture,
        "memo",
        replace(case.picture.memo, answer=Answer.ADMIT),  # type: ignore[type-var]
    ),
}


def inside_before() -> tuple[Arrival, Picture, float]:
    case = Case(inside=True)
    return case.arrival, case.picture, T0


@pytest.mark.parametrize("what", [*ANY, *INSIDE])
def test_what_makes_a_difference_inside_is_asked_anew(what: str) -> None:
    case = Case(inside=True)
    (ANY | INSIDE)[what](case)
    assert case.again() is None


@pytest.mark.parametrize("what", [*ANY, *AT_DOOR])
def test_what_makes_a_difference_at_the_door_is_asked_anew(what: str) -> None:
    case = Case(inside=False)
    (ANY | AT_DOOR)[what](case)
    assert case.again() is None


def test_an_address_that_is_not_said_makes_none() -> None:
    case = Case(inside=True)
    case.arrival.framed_ip = None
    assert case.again() is not None


def test_it_says_the_same_or_nothing_whatever_is_combined() -> None:
    reached = [0, 0]

    @given(
        inside=st.booleans(),
        reason=st.sampled_from([None, Reason.TIME_USED_UP, Reason.LOGGED_OUT]),
        octets=st.one_of(st.just(0), st.integers(0, 3 * 10**9)),
        later=st.one_of(st.integers(0, 60), st.integers(0, 10 * 3600)),
        changes=st.sets(st.sampled_from([*ANY, *INSIDE]), max_size=2).flatmap(
            lambda drawn: st.sampled_from([set(), set(), drawn])
        ),
    )
    def check(inside: bool, reason: Reason | None, octets: int, later: int, changes: set[str]) -> None:
        case = Case(inside=inside, reason=reason)
        case.now = T0 + later
        for what in changes:
            (ANY | INSIDE)[what](case)
        case.use.octets += octets
        again = case.again()
        reached[again is not None] += 1
        assert again is None or same(again, decide(case.arrival, case.picture, case.now))

    check()
    assert reached[1] > reached[0] / 2  # else it would pass by saying nothing
