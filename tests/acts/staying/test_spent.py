"""Six devices by one code: what one of them uses up is used up for all, from the report on that showed it."""

import pytest

from lauschen.acts.mass.slices import do_slice
from lauschen.acts.staying.reports import Event
from lauschen.core.decide.arrival import Medium
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.ids import Mac
from lauschen.portal.facts import load_facts
from lauschen.portal.views import visit_page
from lauschen.road import slices
from lauschen.store import visits
from lauschen.store.visits import visit_hash
from tests.place import POSTCARD, Place

ALL = 5 * 10**6
PARTY = [Mac(0x020000AACC01 + number) for number in range(6)]


@pytest.fixture
def party(place: Place) -> Place:
    """All of them are inside by a postcard for six."""
    place.conn.execute("UPDATE plan SET devices = 6 WHERE id = ?", (POSTCARD,))
    place.reload()
    code = place.issue(plan=POSTCARD)[0]
    for number, mac in enumerate(PARTY):
        place.let_in(code, mac, f"S{number}", f"visit-{number}")
    place.now += 60
    for number, mac in enumerate(PARTY):
        place.report(Event.INTERIM, mac, f"S{number}", session_time=60, octets_out=1000)
    assert {place.standing(mac).state for mac in PARTY} == {State.INSIDE}
    return place


def use_up(place: Place) -> None:
    place.now += 60
    place.report(Event.INTERIM, PARTY[2], "S2", session_time=120, octets_out=ALL)


def test_the_others_are_told_to_go_by_the_report_itself(party: Place) -> None:
    use_up(party)
    for mac in PARTY:
        standing = party.standing(mac)
        assert (standing.going, standing.reason, standing.admission) == (
            State.HELD,
            Reason.DATA_USED_UP,
            None,
        )
        assert party.wish(mac) is not None
    assert party.conn.execute("SELECT count(DISTINCT data_out_at) FROM allowance").fetchone() == (1,)


def test_before_their_turn_comes_every_answer_says_used_up(
    party: Place, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(slices, "SLICE_S", -1.0)  # one in each slice
    use_up(party)
    waiting = [mac for mac in PARTY if party.standing(mac).going is None]
    assert len(waiting) == 4
    last = waiting[-1]
    number = PARTY.index(last)
    real, _ = party.visits[f"visit-{number}"]
    visit = visits.find_visit(party.conn, real, party.now)
    assert visit is not None
    facts = load_facts(party.conn, party.keys, party.config, visit, real, party.now)
    assert facts is not None
    page = visit_page(facts, "en", visit_hash(real).hex())
    assert page.heading == page.words["held_title"]
    assert "data" in page.notes[0]
    decision, _ = party.ask(last, f"S{number}", medium=Medium.REAUTHORISED)
    assert (decision.answer, decision.reason) == (Answer.DOOR, Reason.DATA_USED_UP)
    while party.run(do_slice):
        pass
    assert {party.standing(mac).wanted for mac in PARTY} == {State.HELD}


def test_one_that_left_and_comes_back_is_held(party: Place) -> None:
    party.report(Event.STOP, PARTY[4], "S4", session_time=70, octets_out=1000)
    use_up(party)
    assert party.standing(PARTY[4]).state is State.LEFT
    decision, _ = party.ask(PARTY[4], "T4")
    assert (decision.answer, decision.reason) == (Answer.DOOR, Reason.DATA_USED_UP)
