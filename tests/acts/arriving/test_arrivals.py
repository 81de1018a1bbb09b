"""A device's arrival moves it, opens or ends what it must, and is written down."""

import json

import pytest

from lauschen.acts.arriving.arrivals import answer_arrival
from lauschen.acts.desk import helping as staff_acts
from lauschen.acts.page import trying as page_acts
from lauschen.acts.staying import reports as accounting
from lauschen.acts.staying.reports import Event
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.errors import Invalid
from lauschen.core.ways.offers.code import Code
from lauschen.core.words.codes import make_code
from lauschen.demo.site import SSID
from lauschen.road.tx import Tx
from lauschen.store import admissions, log
from lauschen.store.config.settings import load_config
from tests.place import GARDEN, OTHER, PHONE, WEST, Place


def test_a_new_device_is_at_the_door(place: Place) -> None:
    decision, _ = place.ask()
    assert (decision.answer, place.standing().state) == (Answer.DOOR, State.AT_DOOR)
    assert place.config.roles[decision.role or 0].vlan == 310  # type: ignore[index]


def test_a_foreign_ssid_is_refused_and_leaves_no_device(place: Place) -> None:
    with place.tx() as tx:
        decision, _ = answer_arrival(tx, Arrival(Medium.ASKED, PHONE, WEST, ssid=b"Elsewhere"))  # type: ignore[arg-type]
    assert decision.reason is Reason.NO_NETWORK
    assert place.conn.execute("SELECT count(*) FROM device").fetchone() == (0,)
    assert len(log.log_before(place.conn, None, 10)) == 1


def test_the_whole_way_in_keeps_the_vlan_and_confirms_what_was_wanted(place: Place) -> None:
    code = place.issue()[0]
    decision = place.let_in(code)
    standing = place.standing()
    assert (decision.answer, standing.state, standing.going) == (Answer.ADMIT, State.INSIDE, None)
    assert place.wish() is None
    assert place.conn.execute("SELECT role, ended FROM placement").fetchall() == [(decision.role, None)]


def test_until_it_was_asked_again_it_is_only_on_its_way_in(place: Place) -> None:
    code = place.issue()[0]
    place.ask()
    place.open_page()
    place.try_code(code)
    standing = place.standing()
    assert (standing.state, standing.going) == (State.AT_DOOR, State.INSIDE)
    wish = place.wish()
    assert wish is not None
    assert (wish.what, wish.session_id, place.wakes) == ("in", "S1", 1)


def test_the_same_answer_within_a_minute_raises_a_counter(place: Place) -> None:
    for _ in range(3):
        place.ask()
        place.now += 19
    rows = [r for r in log.log_before(place.conn, None, 10) if isinstance(r, log.DecisionRow)]
    # The first says "never heard before" but is the same answer.
    assert [r.repeats for r in rows] == [2]
    place.now += 60
    place.ask()
    assert len(log.log_before(place.conn, None, 10)) == 2


def test_repeats_inside_one_group_are_counted_too(place: Place) -> None:
    with place.tx() as tx:
        for _ in range(3):
            answer_arrival(tx, Arrival(Medium.ASKED, PHONE, WEST, ssid=SSID.encode()))  # type: ignore[arg-type]
    rows = [r for r in log.log_before(place.conn, None, 10) if isinstance(r, log.DecisionRow)]
    assert [r.repeats for r in rows] == [2]


def test_who_walked_away_comes_back_without_the_page(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.report(Event.STOP, session_time=60)
    assert place.standing().state is State.LEFT
    place.now += 3600
    decision, _ = place.ask(session="S2")
    assert decision.answer is Answer.ADMIT
    assert decision.left is not None
    assert decision.left.seconds == 7 * 3600


def test_a_limit_that_ended_holds_until_another_code(place: Place) -> None:
    first, second = place.issue(2)
    place.let_in(first)
    place.now += 8 * 3600
    decision, _ = place.ask(session="S2")
    assert (decision.reason, place.standing().state) == (Reason.TIME_USED_UP, State.HELD)
    place.report(Event.START, session="S2")
    place.report(Event.STOP, session="S2")
    place.now += 86_400
    place.ask(session="S3")
    assert place.standing().state is State.HELD
    place.open_page(visit="v2")
    assert place.try_code(second, "v2").reason is Reason.ADMITTED
    place.ask(session="S3")
    assert place.standing().state is State.INSIDE


def test_a_seat_taken_by_another_device_while_away_keeps_the_first_at_the_door(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    place.report(Event.STOP)
    place.let_in(code, OTHER, "T1", "visit-2")
    decision, _ = place.ask(session="S2")
    assert (decision.reason, place.standing().state) == (Reason.DEVICES_FULL, State.AT_DOOR)
    place.report(Event.STOP, OTHER, "T1")
    assert place.ask(session="S2")[0].answer is Answer.ADMIT
    assert admissions.seats_taken(place.conn, place.voucher(code), OTHER) == 1


def test_a_barred_device_sees_the_door_and_is_barred(place: Place) -> None:
    place.let_in(place.issue()[0])
    with place.tx() as tx:
        staff_acts.bar(tx, PHONE, GARDEN)
    assert (place.standing().state, place.standing().going) == (State.INSIDE, State.BARRED)
    decision, _ = place.ask(session="S2")
    assert (decision.answer, decision.reason) == (Answer.DOOR, Reason.BARRED_BY_STAFF)
    assert (place.standing().state, place.standing().going) == (State.BARRED, None)


def test_facts_in_memory_are_those_of_the_database(place: Place) -> None:
    """The same story with and without memory, interleaved, gives the same answers and the same rows."""
    first, second = place.issue(2)

    def both() -> tuple[object, ...]:
        kept = place.ask()[0].mark
        place.memory.forget_all()
        return kept, place.ask()[0].mark

    assert len(set(both())) == 1
    place.open_page()
    place.try_code(first)
    assert len(set(both())) == 1
    place.report(Event.START)
    place.now += 60
    place.report(Event.INTERIM, session_time=60, octets_out=1_500_000_000)
    assert len(set(both())) == 1
    place.now += 60
    place.ask()  # kept in memory: what is charged now must reach it
    place.report(Event.INTERIM, session_time=120, octets_out=1_999_999_999)
    kept = place.ask()[0]
    assert kept.left is not None
    assert kept.left.octets == 1
    place.report(Event.INTERIM, session_time=121, octets_out=2_000_000_000)
    decision, _ = place.ask()
    assert (decision.reason, place.standing().state) == (Reason.DATA_USED_UP, State.HELD)
    with place.tx() as tx:
        staff_acts.bar(tx, PHONE, GARDEN)
    assert len(set(both())) == 1
    with place.tx() as tx:
        staff_acts.let_try_again(tx, PHONE, GARDEN)
    place.open_page(visit="v2")
    place.try_code(second, "v2")
    assert set(both()) == {place.ask()[0].mark}


def test_what_one_device_uses_counts_at_once_for_the_other_one_of_the_same_code(place: Place) -> None:
    place.conn.execute("UPDATE plan SET devices = 2")
    place.config = load_config(place.conn, place.keys)
    code = place.issue()[0]
    place.let_in(code)
    place.let_in(code, OTHER, "T1", "visit-2")
    place.ask()
    place.ask(OTHER, "T1")
    place.now += 60
    place.report(Event.INTERIM, session_time=60, octets_out=600_000_000)
    remains = place.ask(OTHER, "T1")[0].left
    assert remains is not None
    assert remains.octets == 1_400_000_000


def test_repeats_are_counted_across_acts_and_groups(place: Place) -> None:
    place.ask()
    place.ask()
    place.open_page()  # an act between: memory is forgotten, nothing is lost
    place.ask()
    rows = [r for r in log.log_before(place.conn, None, 10) if isinstance(r, log.DecisionRow)]
    assert [r.repeats for r in rows] == [2]


def test_a_refused_act_takes_no_earlier_decision_of_its_group_along(place: Place) -> None:
    place.ask()
    place.ask()  # one repeat, so that the next decision writes what waits
    place.open_page()

    def try_and_refuse(tx: Tx) -> None:
        with tx.inner():
            page_acts.try_offer(tx, "visit-1", Code("", make_code(5)), "127.77.1.1")
            raise Invalid("no", field="x", mend="y")

    with place.tx(is_act=False) as tx:
        answer_arrival(tx, Arrival(Medium.ASKED, OTHER, WEST, ssid=SSID.encode()))
        with pytest.raises(Invalid):
            try_and_refuse(tx)
    macs = [row.mac for row in log.log_before(place.conn, None, 10) if isinstance(row, log.DecisionRow)]
    assert macs == [OTHER, PHONE]


def test_what_a_group_heard_before_a_report_is_not_lost_by_it(place: Place) -> None:
    place.ask()
    again = Arrival(Medium.ASKED, PHONE, WEST, ssid=SSID.encode(), spelled=f"{PHONE:012X}", session_id="S1")
    with place.tx(is_act=False) as tx:
        answer_arrival(tx, again)
        start = accounting.Report(Event.START, WEST, "west", 0, PHONE, SSID.encode(), "S1")
        accounting.take_report(tx, start)
        answer_arrival(tx, again)
    assert place.standing().repeats == 2


def test_a_decision_keeps_what_it_was_decided_by_so_that_it_can_be_decided_again(place: Place) -> None:
    arrival = Arrival(
        Medium.ASKED, PHONE, WEST, ssid="Höllerau".encode(), nas_identifier="west", port_type=19, source="::1"
    )
    with place.tx(is_act=False) as tx:
        answer_arrival(tx, arrival)
    code = place.issue()[0]
    place.let_in(code)
    kept = [
        (version, json.loads(hints))
        for version, hints in place.conn.execute("SELECT house, hints FROM decision ORDER BY id")
    ]
    version = place.config.version
    heard = {"ssid": "HÃ¶llerau", "nas_identifier": "west", "port_type": 19, "source": "::1"}
    assert kept[0] == (version, heard)
    assert kept[1] == (version, {"ssid": SSID})
    assert (version, {"offer": "code"}) in kept
