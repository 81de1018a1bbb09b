"""Guest passes: for a person, until a moment, on so many devices, by a code that was proposed or chosen."""

import pytest

from lauschen.acts.desk.helping import give_time
from lauschen.acts.staying.sweep import OVER_GRACE_S, Sweeper
from lauschen.core.decide.arrival import Medium
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid
from lauschen.core.ids import Mac
from lauschen.core.limits.terms import Terms
from lauschen.core.limits.tries import TRIES
from lauschen.store import batches, credentials
from tests.ensemble import DAY, HALF_HOUR, Ensemble
from tests.place import OTHER, PHONE, Place

THIRD = Mac(0x020000AABB77)


@pytest.fixture
def ensemble(place: Place) -> Ensemble:
    return Ensemble(place)


def test_a_proposed_code_lets_a_party_in_and_no_more_than_it_says(ensemble: Ensemble) -> None:
    batch, code = ensemble.issue_pass(terms=Terms(devices=2))
    for mac in (PHONE, OTHER):
        ensemble.ask(mac)
        assert ensemble.type_code(code.lower(), mac) is Reason.ADMITTED
        assert ensemble.ask(mac, Medium.REAUTHORISED).answer is Answer.ADMIT
    ensemble.ask(THIRD)
    assert ensemble.type_code(code, THIRD) is Reason.DEVICES_FULL
    found = batches.get_batch(ensemble.place.conn, batch)
    assert (found.said.label, found.way, found.size, found.used) == ("Ines Harwood", "guest_pass", 1, 1)


@pytest.mark.parametrize("typed", ["silver otter 42", "SILVER-OTTER-42", "silverotter42", "Silver Otter ٤٢"])
def test_a_chosen_code_is_found_however_it_is_spelled(ensemble: Ensemble, typed: str) -> None:
    assert ensemble.issue_pass(code="Silver otter 42")[1] == "Silver otter 42"
    ensemble.ask()
    assert ensemble.type_code(typed) is Reason.ADMITTED


def test_until_its_moment_it_is_good_and_then_holds_who_is_in(ensemble: Ensemble) -> None:
    until = ensemble.place.now + HALF_HOUR
    _, code = ensemble.issue_pass(terms=Terms(valid_until=until))
    ensemble.ask()
    assert ensemble.type_code(code) is Reason.ADMITTED
    decision = ensemble.ask(medium=Medium.REAUTHORISED)
    assert (decision.good_until, decision.left and decision.left.seconds) == (until, HALF_HOUR)
    ensemble.place.now = until - 1
    assert ensemble.ask().answer is Answer.ADMIT
    ensemble.place.now = until + OVER_GRACE_S + 1
    with ensemble.place.tx() as tx:
        Sweeper().sweep(tx)
    assert ensemble.held()
    assert ensemble.ask().reason is Reason.DATE_OVER
    ensemble.ask(OTHER)
    assert ensemble.type_code(code, OTHER) is Reason.DATE_OVER


def test_time_given_to_a_pass_moves_its_last_moment_and_lets_the_held_one_in_again(
    ensemble: Ensemble,
) -> None:
    place = ensemble.place
    until = place.now + HALF_HOUR
    batch, code = ensemble.issue_pass(terms=Terms(valid_until=until))
    ensemble.ask()
    assert ensemble.type_code(code) is Reason.ADMITTED
    (issued,) = credentials.all_issued_of(place.conn, place.keys, batch)
    with place.tx() as tx:
        give_time(tx, issued.id, 600)
    assert ensemble.ask(medium=Medium.REAUTHORISED).good_until == until + 600
    place.now = until + 2000
    assert ensemble.ask().reason is Reason.DATE_OVER
    with place.tx() as tx:
        give_time(tx, issued.id, 600)
    again = ensemble.ask(medium=Medium.REAUTHORISED)
    assert (again.answer, again.good_until) == (Answer.ADMIT, place.now + 600)


def test_before_its_first_moment_it_lets_nobody_in_and_is_no_wrong_try(ensemble: Ensemble) -> None:
    begins = ensemble.place.now + DAY
    _, code = ensemble.issue_pass(terms=Terms(valid_from=begins))
    ensemble.ask()
    assert ensemble.type_code(code) is Reason.NOT_YET
    assert ensemble.place.conn.execute("SELECT count(*) FROM wrong_try").fetchone() == (0,)
    ensemble.place.now = begins
    assert ensemble.type_code(code) is Reason.ADMITTED


def test_a_pass_is_good_only_where_passes_are_offered(ensemble: Ensemble) -> None:
    place = ensemble.place
    _, code = ensemble.issue_pass()
    place.ask()
    place.open_page()
    tried = place.try_code(code)
    assert getattr(tried, "reason", None) is Reason.NOT_OFFERED
    voucher = place.issue()[0]
    ensemble.ask()
    assert ensemble.type_code(voucher) is Reason.NOT_OFFERED


def test_wrong_words_count_as_wrong_codes(ensemble: Ensemble) -> None:
    ensemble.ask()
    reasons = [ensemble.type_code(f"silver otter {n}") for n in range(TRIES + 1)]
    assert reasons == [Reason.CODE_UNKNOWN] * TRIES + [Reason.BARRED_BY_TRIES]


@pytest.mark.parametrize("by_chap", [False, True])
def test_a_person_gets_in_by_radius_with_a_chosen_code(ensemble: Ensemble, by_chap: bool) -> None:
    ensemble.issue_pass(code="silver otter 42")
    place = ensemble.place

    def ask(name: str, password: str) -> Reason:
        return ensemble.ask_person(name, password, by_chap=by_chap)

    assert ask("silver otter 42", "silver otter 42") is Reason.ADMITTED
    assert ask("silver otter 42", "silver otter 42") is Reason.ADMITTED  # again, and nothing new begins
    assert place.conn.execute("SELECT count(*) FROM admission").fetchone() == (1,)
    wrong = Reason.CHAP_PASSWORD if by_chap else Reason.CODE_UNKNOWN
    assert ask("silver otter 42", "silver otter 43") is wrong


@pytest.mark.parametrize(
    ("name", "code", "fault"),
    [
        ("", None, "name_missing"),
        ("  ", None, "name_missing"),
        ("Ines", "abc12", "code_length"),
        ("Ines", "......", "code_length"),
        ("Ines", "x" * 41, "code_length"),
        ("Ines Harwood", "ines-harwood", "code_is_name"),
        ("Ines", "483921", "code_easy"),
        ("Ines", "aaaaaaaa", "code_easy"),
    ],
)
def test_what_no_pass_can_be_is_said_and_leaves_nothing(
    ensemble: Ensemble, name: str, code: str | None, fault: str
) -> None:
    with pytest.raises(Invalid, match=fault):
        ensemble.issue_pass(name=name, code=code)
    for table in ("batch", "credential", "finder"):
        assert ensemble.place.conn.execute(f"SELECT count(*) FROM {table}").fetchone() == (0,)


def test_two_desks_cannot_choose_the_same_code(ensemble: Ensemble) -> None:
    ensemble.issue_pass(code="silver otter 42")
    with pytest.raises(Invalid, match="code_taken"):
        ensemble.issue_pass(name="Jonas Field", code="Silver-Otter-42")
    assert ensemble.place.conn.execute("SELECT count(*) FROM batch").fetchone() == (1,)


@pytest.mark.parametrize(("begins", "ends"), [(None, 0.0), (None, -1.0), (100.0, 100.0), (200.0, 100.0)])
def test_a_pass_that_nobody_could_use_is_not_issued(
    ensemble: Ensemble, begins: float | None, ends: float
) -> None:
    now = ensemble.place.now
    with pytest.raises(Invalid, match="until"):
        ensemble.issue_pass(terms=Terms(valid_from=begins and now + begins, valid_until=now + ends))


def test_a_chosen_code_that_a_voucher_has_is_taken(ensemble: Ensemble) -> None:
    code = ensemble.place.issue()[0]
    for text in (code, f"{code[:5]}-{code[5:]}".lower()):
        with pytest.raises(Invalid, match="code_taken"):
            ensemble.issue_pass(code=text)
