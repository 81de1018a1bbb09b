"""What is decided again without being asked anew is what would be decided, or it is asked anew."""

from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.decide import decide, decide_again
from lauschen.core.decision import Answer
from lauschen.core.ids import AccessDeviceId, AdmissionId, CredentialId, Mac
from lauschen.core.limits import Use
from lauschen.core.picture import (
    AdmissionFacts,
    Arrival,
    CredentialFacts,
    Medium,
    Picture,
    Reason,
    Standing,
    State,
)
from tests.core.test_decide import GARDEN, HOUSE, PLAN, T0, VISITOR

MAC, WEST, BARN = Mac(0x020000AABB01), AccessDeviceId(1), AccessDeviceId(2)


def standing(reason: Reason | None, ends: float | None, admission: AdmissionId | None) -> Standing:
    return Standing(
        MAC, GARDEN, State.INSIDE if admission else State.AT_DOOR, T0, None, reason, None, WEST, "S1", "x",
        "10.0.0.1", VISITOR, None, T0, None, None, admission, ends, None, T0, "", 0,
    )  # fmt: skip


def asked(session: str = "S1", device: AccessDeviceId = WEST, source: str = "10.0.0.1") -> Arrival:
    return Arrival(
        Medium.ASKED, MAC, device, b"Hollerau Garden", spelled="x", session_id=session, source=source
    )


facts = st.fixed_dictionaries(
    {
        "inside": st.booleans(),
        "octets": st.integers(0, 3 * 10**9),
        "more": st.integers(0, 3 * 10**9),
        "later": st.integers(0, 10 * 3600),
        "seat": st.booleans(),
        "reason": st.sampled_from([None, Reason.TIME_USED_UP, Reason.LOGGED_OUT]),
        "barred": st.sampled_from([None, T0 - 5.0]),
        "typing": st.sampled_from([None, T0 + 60.0]),
        "withdrawn": st.sampled_from([None, T0 + 30.0]),
        "arrival": st.sampled_from([asked(), asked("S2"), asked(device=BARN), asked(source="10.0.0.2")]),
    }
)


@given(facts)
def test_it_says_the_same_or_nothing(fact: dict[str, object]) -> None:
    use = Use(T0 - 60, T0 - 60, fact["octets"])  # type: ignore[arg-type]
    admission = AdmissionFacts(
        AdmissionId(1), CredentialFacts(CredentialId(5), PLAN, use), bool(fact["seat"]), "t"
    )
    inside = bool(fact["inside"])
    picture = Picture(HOUSE, barred_since=fact["barred"], typing_barred_until=fact["typing"])  # type: ignore[arg-type]
    picture.admission = admission if inside else None
    before = decide(asked(), picture, T0)
    ends = before.left.until if before.left is not None else None
    picture.standing = standing(fact["reason"], ends, AdmissionId(1) if inside else None)  # type: ignore[arg-type]
    before = decide(asked(), picture, T0)
    picture.memo, picture.memo_medium = before, Medium.ASKED
    use.octets += int(str(fact["more"]))
    use.withdrawn_at = fact["withdrawn"]  # type: ignore[assignment]
    now = T0 + int(str(fact["later"]))
    arrival: Arrival = fact["arrival"]  # type: ignore[assignment]
    again = decide_again(arrival, picture, now)
    if again is None:
        return
    anew = decide(arrival, picture, now)
    assert (again.answer, again.reason, again.role, again.rule, again.left) == (
        anew.answer, anew.reason, anew.role, anew.rule, anew.left,
    )  # fmt: skip


def test_a_reason_that_ended_something_is_said_once() -> None:
    use = Use(T0 - 60, T0 - 60, withdrawn_at=T0 - 1)
    admission = AdmissionFacts(AdmissionId(1), CredentialFacts(CredentialId(5), PLAN, use), True, "t")
    picture = Picture(HOUSE, standing=standing(None, None, None), admission=admission)
    picture.memo, picture.memo_medium = decide(asked(), picture, T0), Medium.ASKED
    assert picture.memo.reason is Reason.CODE_WITHDRAWN
    picture.admission = None  # as placing leaves it
    assert decide_again(asked(), picture, T0 + 1) is None


def test_the_usual_cases_are_decided_again() -> None:
    """Else the test above could pass by saying nothing."""
    at_door = Picture(HOUSE, standing=standing(None, None, None))
    at_door.memo, at_door.memo_medium = decide(asked(), at_door, T0), Medium.ASKED
    found = decide_again(asked(), at_door, T0 + 5)
    assert found is not None
    assert found.answer is Answer.DOOR
    of_person = asked()
    of_person.medium = Medium.PERSON
    assert decide_again(of_person, at_door, T0 + 5) is None  # a row of its own in the log
    use = Use(T0 - 60, T0 - 60)
    admission = AdmissionFacts(AdmissionId(1), CredentialFacts(CredentialId(5), PLAN, use), True, "t")
    inside = Picture(HOUSE, standing=standing(None, T0 - 60 + 8 * 3600, AdmissionId(1)), admission=admission)
    inside.memo, inside.memo_medium = decide(asked(), inside, T0), Medium.ASKED
    found = decide_again(asked(), inside, T0 + 5)
    assert found is not None
    assert found.left is not None
    assert found.left.seconds == 8 * 3600 - 65
