"""The decision: each step can end it, and the trace says where and why."""

import dataclasses
from zoneinfo import ZoneInfo

import pytest

from lauschen.core.config.access_device import AccessDevice
from lauschen.core.config.config import Config
from lauschen.core.config.network import GuestNetwork, Hint, Match
from lauschen.core.config.role import Role
from lauschen.core.config.rule import Rule
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.grant import Grant
from lauschen.core.decide.picture import AdmissionFacts, Picture
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.decide.steps import decide
from lauschen.core.decide.trace import Step
from lauschen.core.ids import (
    AccessDeviceId,
    AdmissionId,
    AllowanceId,
    CredentialId,
    DialectId,
    Mac,
    NetworkId,
    PlanId,
    RoleId,
    RuleId,
)
from lauschen.core.limits.plan import Plan
from lauschen.core.limits.use import Use
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.offers.code import Code

T0 = 1_780_000_000.0
DOOR, VISITOR, GARDEN, PLAN = RoleId(1), RoleId(2), NetworkId(1), PlanId(1)
HOUSE = Config(
    "Hollerau",
    ZoneInfo("Europe/Vienna"),
    "http://welcome.hollerau.example",
    "slip.hollerau.example",
    {
        DOOR: Role(DOOR, "Before login", 310, "doorstep", True),
        VISITOR: Role(VISITOR, "Visitor", 310, "visitor", False),
    },
    {PLAN: Plan(PLAN, "Day visit", 8 * 3600, None, 2 * 10**9, 1, 90)},
    {GARDEN: GuestNetwork(GARDEN, "Garden", DOOR, Hint(Match.EXACT, b"Hollerau Garden"))},
    (
        Rule(RuleId(1), 1, NetworkId(9), WayIn.VOUCHER, DOOR),
        Rule(RuleId(2), 2, GARDEN, WayIn.VOUCHER, VISITOR),
        Rule(RuleId(3), 3, None, None, DOOR),
    ),
    {},
    {
        device: AccessDevice(device, name, "10.0.0.1", b"", DialectId(1), serves=frozenset({GARDEN}))
        for device, name in ((AccessDeviceId(1), "West"), (AccessDeviceId(2), "Barn"))
    },
)


def grant(number: int, use: Use) -> Grant:
    return Grant(WayIn.VOUCHER, PLAN, use, CredentialId(number), AllowanceId(number))


RUNNING = grant(5, Use(T0 - 60, T0 - 60))


def asked(ssid: bytes | None = b"Hollerau Garden", refusal: Reason | None = None) -> Arrival:
    return Arrival(Medium.ASKED, Mac(0x020000AABB01), AccessDeviceId(1), ssid=ssid, refusal=refusal)


def typed() -> Arrival:
    return Arrival(
        Medium.PAGE, Mac(0x020000AABB01), AccessDeviceId(1), network=GARDEN, offer=Code("2" * 10, "2" * 10)
    )


def admitted(facts: Grant = RUNNING, seats_taken: int = 0) -> Picture:
    admission = AdmissionFacts(AdmissionId(1), facts, seats_taken == 0, 0.0, None, "abc")
    return Picture(HOUSE, admission=admission, seats_taken=seats_taken)


def offering(facts: Grant | None, **more: object) -> Picture:
    fault = None if facts else Reason.CODE_UNKNOWN
    return dataclasses.replace(Picture(HOUSE, offered=facts, offer_fault=fault), **more)  # type: ignore[arg-type]


def used(**changes: object) -> Grant:
    return grant(5, dataclasses.replace(RUNNING.use, **changes))  # type: ignore[arg-type]


OTHER = grant(6, Use(T0 - 60, T0 - 60))


def in_by(facts: Grant, offered: Grant | None) -> Picture:
    """A code is typed in a visit that did not let the device in."""
    return offering(
        offered, only_same=True, admission=AdmissionFacts(AdmissionId(1), facts, True, 0.0, None, "abc")
    )


def held(**more: object) -> Picture:
    standing = Standing(
        Mac(1), GARDEN, State.HELD, T0, None, Reason.DATA_USED_UP, T0, AccessDeviceId(1), None, "", "", DOOR, None,
        T0, None, None, None, None, None, T0, "", 0,
    )  # fmt: skip
    return dataclasses.replace(Picture(HOUSE, standing=standing), **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("arrival", "picture", "answer", "reason", "role"),
    [
        (asked(ssid=None), Picture(HOUSE), Answer.REFUSE, Reason.NO_NETWORK, None),
        (asked(ssid=b"Elsewhere"), Picture(HOUSE), Answer.REFUSE, Reason.NO_NETWORK, None),
        (asked(ssid=b"hollerau garden"), Picture(HOUSE), Answer.REFUSE, Reason.NO_NETWORK, None),
        (asked(refusal=Reason.EAP), Picture(HOUSE), Answer.REFUSE, Reason.EAP, None),
        (asked(), Picture(HOUSE), Answer.DOOR, Reason.NEEDS_CODE, DOOR),
        (asked(), Picture(HOUSE, barred_since=T0), Answer.DOOR, Reason.BARRED_BY_STAFF, DOOR),
        (asked(), Picture(HOUSE, typing_barred_until=T0 + 9), Answer.DOOR, Reason.BARRED_BY_TRIES, DOOR),
        (asked(), admitted(), Answer.ADMIT, Reason.ADMITTED, VISITOR),
        (asked(), admitted(used(octets=2 * 10**9)), Answer.DOOR, Reason.DATA_USED_UP, DOOR),
        (asked(), admitted(used(first_used=T0 - 8 * 3600)), Answer.DOOR, Reason.TIME_USED_UP, DOOR),
        (asked(), admitted(used(withdrawn_at=T0 - 1)), Answer.DOOR, Reason.CODE_WITHDRAWN, DOOR),
        (asked(), admitted(seats_taken=1), Answer.DOOR, Reason.DEVICES_FULL, DOOR),
        (typed(), offering(RUNNING), Answer.ADMIT, Reason.ADMITTED, VISITOR),
        (typed(), offering(None), Answer.REFUSE, Reason.CODE_UNKNOWN, None),
        (typed(), offering(RUNNING, seats_taken=1), Answer.REFUSE, Reason.DEVICES_FULL, None),
        (typed(), offering(RUNNING, typing_barred_until=T0 + 9), Answer.REFUSE, Reason.BARRED_BY_TRIES, None),
        (typed(), offering(RUNNING, barred_since=T0), Answer.REFUSE, Reason.BARRED_BY_STAFF, None),
        (typed(), offering(RUNNING, typing_barred_until=T0), Answer.ADMIT, Reason.ADMITTED, VISITOR),
        (asked(), Picture(HOUSE, typing_barred_until=T0), Answer.DOOR, Reason.NEEDS_CODE, DOOR),
        (asked(), held(typing_barred_until=T0 + 9), Answer.DOOR, Reason.DATA_USED_UP, DOOR),
        (asked(), held(barred_since=T0), Answer.DOOR, Reason.BARRED_BY_STAFF, DOOR),
        (typed(), offering(RUNNING, only_same=True), Answer.REFUSE, Reason.IN_BY_OTHER, None),
        (typed(), in_by(RUNNING, offered=OTHER), Answer.REFUSE, Reason.IN_BY_OTHER, None),
        (typed(), in_by(RUNNING, offered=RUNNING), Answer.ADMIT, Reason.ADMITTED, VISITOR),
        (typed(), in_by(RUNNING, offered=None), Answer.REFUSE, Reason.CODE_UNKNOWN, None),
        (
            typed(),
            offering(used(first_used=None, issued_at=T0 - 91 * 86400)),
            Answer.REFUSE,
            Reason.CODE_EXPIRED,
            None,
        ),
    ],
)
def test_table(
    arrival: Arrival, picture: Picture, answer: Answer, reason: Reason, role: RoleId | None
) -> None:
    decision = decide(arrival, picture, T0)
    assert (decision.answer, decision.reason, decision.role) == (answer, reason, role)
    is_ours = reason not in (Reason.NO_NETWORK, Reason.EAP)
    assert decision.network == (GARDEN if is_ours else None)
    # Whatever a limit has to do with is said with what is left.
    of_limits = (
        Reason.DATA_USED_UP,
        Reason.TIME_USED_UP,
        Reason.CODE_EXPIRED,
        Reason.DEVICES_FULL,
        Reason.ADMITTED,
    )
    has_credential = picture.admission is not None or picture.offered is not None
    assert (decision.left is not None) == (reason in of_limits and has_credential)


def test_a_bar_by_tries_never_throws_out_who_is_in() -> None:
    picture = dataclasses.replace(admitted(), typing_barred_until=T0 + 600)
    assert decide(asked(), picture, T0).answer is Answer.ADMIT


def test_first_matching_rule_wins_and_the_trace_says_how_many_were_passed_over() -> None:
    decision = decide(asked(), admitted(), T0)
    assert decision.rule == 2
    assert [line[0] for line in decision.trace] == list(Step)
    assert decision.trace[-1] == (Step.PLACEMENT, "rule", 2, 2, VISITOR, 1)
    assert decision.left is not None
    assert decision.left.until == T0 - 60 + 8 * 3600


def test_without_any_rule_the_guest_stays_at_the_door() -> None:
    house = dataclasses.replace(HOUSE, rules=())
    decision = decide(asked(), dataclasses.replace(admitted(), config=house), T0)
    assert (decision.answer, decision.reason) == (Answer.DOOR, Reason.NO_RULE)
    assert (decision.network, decision.role) == (GARDEN, DOOR)
    assert decision.trace[-1] == (Step.PLACEMENT, "no_rule", 0)


def said(decision: Decision) -> list[tuple[object, ...]]:
    """Its trace without the facts that a line does not have."""
    return [tuple(fact for fact in line if fact is not None) for line in decision.trace]


SEEN = (Step.NETWORK, "ssid", GARDEN), (Step.DEVICE, "new", 1, Medium.ASKED)
AT_PAGE = (Step.NETWORK, "token", GARDEN), (Step.DEVICE, "new", 1, Medium.PAGE)
FREE, DOORSTEP = (Step.BARS, "none"), (Step.PLACEMENT, "door", DOOR)
UNTIL = T0 - 60 + 8 * 3600


@pytest.mark.parametrize(
    ("arrival", "picture", "trace"),
    [
        (asked(ssid=None), Picture(HOUSE), [(Step.NETWORK, "no_ssid")]),
        (asked(ssid=b"x" * 50), Picture(HOUSE), [(Step.NETWORK, "foreign_ssid", "x" * 40)]),
        (asked(ssid=b"\xff"), Picture(HOUSE), [(Step.NETWORK, "foreign_ssid", "\ufffd")]),
        (asked(refusal=Reason.EAP), Picture(HOUSE), [SEEN[0]]),
        (asked(), Picture(HOUSE), [*SEEN, FREE, (Step.CREDENTIAL, "needs_code"), DOORSTEP]),
        (asked(), Picture(HOUSE, barred_since=T0), [*SEEN, (Step.BARS, "staff", T0), DOORSTEP]),
        (
            asked(),
            Picture(HOUSE, typing_barred_until=T0 + 9),
            [*SEEN, (Step.BARS, "tries", T0 + 9), DOORSTEP],
        ),
        (typed(), offering(None), [*AT_PAGE, FREE, (Step.CREDENTIAL, "code_unknown")]),
        (typed(), in_by(RUNNING, offered=OTHER), [*AT_PAGE, FREE, (Step.CREDENTIAL, "in_by_other")]),
        (
            asked(),
            admitted(used(withdrawn_at=T0 - 1)),
            [*SEEN, FREE, (Step.CREDENTIAL, "withdrawn", 5, T0 - 1, WayIn.VOUCHER), DOORSTEP],
        ),
        (
            asked(),
            admitted(used(octets=2 * 10**9)),
            [
                *SEEN,
                FREE,
                (Step.CREDENTIAL, "admitted", 5, WayIn.VOUCHER),
                (Step.LIMITS, "data", PLAN, 8 * 3600 - 60, UNTIL, 0, "over"),
                DOORSTEP,
            ],
        ),
        (
            typed(),
            offering(RUNNING, seats_taken=1),
            [
                *AT_PAGE,
                FREE,
                (Step.CREDENTIAL, "offered", 5, WayIn.VOUCHER),
                (Step.LIMITS, "devices", PLAN, 1, 1),
            ],
        ),
        (
            typed(),
            offering(RUNNING),
            [
                *AT_PAGE,
                FREE,
                (Step.CREDENTIAL, "offered", 5, WayIn.VOUCHER),
                (Step.LIMITS, "time", PLAN, 8 * 3600 - 60, UNTIL, 2 * 10**9, "left"),
                (Step.PLACEMENT, "rule", 2, 2, VISITOR, 1),
            ],
        ),
    ],
)
def test_the_trace_says_what_each_step_looked_at(
    arrival: Arrival, picture: Picture, trace: list[tuple[object, ...]]
) -> None:
    assert said(decide(arrival, picture, T0)) == trace


def test_an_access_device_that_does_not_serve_the_network_is_refused_before_anything_else() -> None:
    for medium in (Medium.ASKED, Medium.REAUTHORISED, Medium.PERSON, Medium.POSTED, Medium.PAGE):
        arrival = dataclasses.replace(asked(), medium=medium, access_device=AccessDeviceId(3))
        decision = decide(arrival, Picture(HOUSE, barred_since=T0), T0)
        assert (decision.answer, decision.reason, decision.role) == (Answer.REFUSE, Reason.NOT_SERVED, None)
        assert said(decision)[-1] == (Step.NETWORK, "not_served", GARDEN)
    arrival = dataclasses.replace(asked(), medium=Medium.CHANGED, access_device=AccessDeviceId(3))
    assert decide(arrival, Picture(HOUSE), T0).reason is Reason.NEEDS_CODE


def test_every_hint_of_a_request_counts() -> None:
    hinted = GuestNetwork(
        GARDEN, "Lab", DOOR, nas_identifier=Hint(Match.EXACT, b"nas"), port_id=Hint(Match.EXACT, b"port"),
        port_type=15, access_device=AccessDeviceId(1),
    )  # fmt: skip
    house = dataclasses.replace(HOUSE, networks={GARDEN: hinted})
    arrival = dataclasses.replace(asked(ssid=None), nas_identifier="nas", port_id="port", port_type=15)
    decision = decide(arrival, Picture(house), T0)
    assert (decision.reason, said(decision)[0]) == (Reason.NEEDS_CODE, (Step.NETWORK, "hints", GARDEN))
    for other in (
        {"nas_identifier": "x"}, {"port_id": "x"}, {"port_type": 19}, {"access_device": AccessDeviceId(2)},
    ):  # fmt: skip
        changed = dataclasses.replace(arrival, **other)  # type: ignore[arg-type]
        assert decide(changed, Picture(house), T0).reason is Reason.NO_NETWORK


def test_a_known_device_on_a_network_that_is_gone_or_where_it_is_changed() -> None:
    known = held()
    changed = Arrival(Medium.CHANGED, Mac(0x020000AABB01), AccessDeviceId(1), network=GARDEN)
    trace = said(decide(changed, known, T0))
    assert trace[:2] == [(Step.NETWORK, "there", GARDEN), (Step.DEVICE, "known", 1, Medium.CHANGED)]
    gone = Arrival(Medium.PAGE, Mac(0x000000AABB01), AccessDeviceId(1), network=NetworkId(9))
    decision = decide(gone, known, T0)
    assert (decision.reason, said(decision)) == (Reason.NO_NETWORK, [(Step.NETWORK, "gone", 9)])
