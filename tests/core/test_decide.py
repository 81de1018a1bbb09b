"""The decision: each step can end it, and the trace says where and why."""

import dataclasses
from zoneinfo import ZoneInfo

import pytest

from lauschen.core.decide import decide
from lauschen.core.decision import Answer, Step
from lauschen.core.house import GuestNetwork, Hint, House, Match, Plan, Role, Rule, WayIn
from lauschen.core.ids import (
    AccessDeviceId,
    AdmissionId,
    CredentialId,
    Mac,
    NetworkId,
    PlanId,
    RoleId,
    RuleId,
)
from lauschen.core.limits import Use
from lauschen.core.picture import AdmissionFacts, Arrival, CredentialFacts, Medium, Picture, Reason

T0 = 1_780_000_000.0
DOOR, VISITOR, GARDEN, PLAN = RoleId(1), RoleId(2), NetworkId(1), PlanId(1)
HOUSE = House(
    "Hollerau",
    ZoneInfo("Europe/Vienna"),
    "http://welcome.hollerau.example",
    "slip.hollerau.example",
    {
        DOOR: Role(DOOR, "Doorstep", 310, "doorstep", True),
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
    {},
)
RUNNING = CredentialFacts(CredentialId(5), PLAN, Use(T0 - 60, T0 - 60))


def asked(ssid: bytes | None = b"Hollerau Garden", refusal: Reason | None = None) -> Arrival:
    return Arrival(Medium.ASKED, Mac(0x020000AABB01), AccessDeviceId(1), ssid=ssid, refusal=refusal)


def typed() -> Arrival:
    return Arrival(Medium.PAGE, Mac(0x020000AABB01), AccessDeviceId(1), network=GARDEN)


def admitted(facts: CredentialFacts = RUNNING, seats_taken: int = 0) -> Picture:
    admission = AdmissionFacts(AdmissionId(1), facts, seats_taken == 0, "abc")
    return Picture(HOUSE, admission=admission, seats_taken=seats_taken)


def offering(facts: CredentialFacts | None, **more: object) -> Picture:
    return dataclasses.replace(Picture(HOUSE, offers_code=True, offered=facts), **more)  # type: ignore[arg-type]


def used(**changes: object) -> CredentialFacts:
    return CredentialFacts(CredentialId(5), PLAN, dataclasses.replace(RUNNING.use, **changes))  # type: ignore[arg-type]


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
    decision = decide(asked(), dataclasses.replace(admitted(), house=house), T0)
    assert (decision.answer, decision.reason) == (Answer.DOOR, Reason.NO_RULE)
