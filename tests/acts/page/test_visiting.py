"""How a browser comes to a visit, and what a neighbour on the same air can make of another guest's."""

import itertools

import pytest

from lauschen.acts.desk.helping import let_try_again
from lauschen.acts.page import visiting
from lauschen.acts.page.visiting import ADDRESS, LOOK, VISITS_EACH, OtherDevice, TooManyVisits
from lauschen.acts.staying.reports import Event
from lauschen.core.config.dialect import Arrives
from lauschen.core.decide.arrival import Medium
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.errors import NotThere
from lauschen.core.ids import Mac
from lauschen.core.limits.tries import BARRED_S, DEVICE_TRIES
from lauschen.core.words.codes import make_code
from lauschen.core.words.tokens import PortalToken
from lauschen.store import visits
from lauschen.store.upkeep.keeping import KEPT, forget
from tests.place import GARDEN, OTHER, PHONE, WEST, Place

HERS, HIS = "10.0.0.7", "10.0.0.8"


def count(place: Place, table: str = "visit") -> int:
    return int(place.conn.execute(f"SELECT count(*) FROM {table}").fetchone()[0])


def join(place: Place, address: str | None, mac: int = PHONE, session: str = "S1") -> None:
    place.ask(mac, session)  # type: ignore[arg-type]
    place.report(Event.START, mac, session, framed_ip=address)  # type: ignore[arg-type]


def by_address(place: Place, source: str, name: str = "short") -> str:
    with place.tx() as tx:
        real = visiting.open_by_address(tx, None, source)
    place.visits[name] = real, source
    found = visits.find_visit(place.conn, real, place.now)
    assert found is not None
    return found.proof


def may_only_look(place: Place, name: str) -> bool:
    found = visits.find_visit(place.conn, place.visits[name][0], place.now)
    assert found is not None
    return visiting.may_only_look(found, place.standing())


def appended(place: Place, source: str, name: str = "claim") -> None:
    dialect = place.config.access_devices[WEST].dialect
    with place.tx() as tx:
        place.visits[name] = visiting.open_appended(tx, PHONE, dialect, None, source), source


def test_opening_a_token_again_finds_the_same_visit_and_writes_nothing(place: Place) -> None:
    place.ask()
    first = place.open_page(going="http://a.example/")
    changes = place.conn.total_changes
    assert place.open_page(going="http://a.example/") == first
    assert place.conn.total_changes == changes
    assert place.open_page(going="http://b.example/") == first
    found = visits.find_visit(place.conn, first, place.now)
    assert found is not None
    assert found.going == "http://b.example/"
    assert place.open_page(visit="elsewhere", source=HIS) != first
    assert count(place) == 2


def test_a_device_has_three_visits_from_one_source_and_untouched_ones_give_way(place: Place) -> None:
    place.ask()
    names = []
    for number in range(VISITS_EACH + 2):
        place.now += 1  # another answer at the door, so another token
        names.append(place.open_page(visit=f"v{number}"))
    living = [name for name in names if visits.find_visit(place.conn, name, place.now)]
    assert living == names[-VISITS_EACH:]


def test_every_visit_counts_for_the_source_that_opened_it(place: Place) -> None:
    place.set_dialect(arrives=Arrives.PLAIN)
    join(place, HERS)
    by_address(place, HERS)
    appended(place, "10.0.0.9")
    sources = place.conn.execute("SELECT source FROM visit ORDER BY source").fetchall()
    assert sources == [(HERS,), ("10.0.0.9",)]


def test_visits_that_were_used_to_guess_do_not_give_way(place: Place) -> None:
    place.ask()
    for number in range(VISITS_EACH):
        place.now += 1
        place.open_page(visit=f"v{number}")
        place.try_code(make_code(number), f"v{number}")
    place.now += 1
    with pytest.raises(TooManyVisits):
        place.open_page(visit="one more")
    place.open_page(visit="elsewhere", source=HIS)  # another source is another matter
    place.now += 1300
    place.open_page(visit="later")


def test_a_token_is_no_good_from_an_address_that_is_another_devices(place: Place) -> None:
    join(place, HERS)
    join(place, HIS, OTHER, "T1")
    with pytest.raises(OtherDevice):
        place.open_page(source=HIS)
    place.open_page(source=HERS)
    place.open_page(visit="unknown", source="10.0.0.99")  # an unknown address contradicts nothing
    code = place.issue()[0]
    with pytest.raises(OtherDevice):
        place.try_code(code, source=HIS)
    assert place.try_code(code).reason is Reason.ADMITTED
    real, _ = place.visits["visit-1"]
    place.visits["stolen"] = real, HIS
    with pytest.raises(OtherDevice):
        place.log_out("stolen")


def test_an_address_is_only_believed_for_fifteen_minutes_and_while_its_device_is_there(place: Place) -> None:
    join(place, HIS, OTHER, "T1")
    place.ask()
    place.now += 890
    with pytest.raises(OtherDevice):
        place.open_page(source=HIS)
    place.now += 20
    place.open_page(source=HIS)
    place.report(Event.INTERIM, OTHER, "T1", session_time=910, framed_ip=HIS)
    with pytest.raises(OtherDevice):
        place.open_page(source=HIS)
    place.report(Event.STOP, OTHER, "T1", session_time=911, framed_ip=HIS)
    place.open_page(source=HIS)


def test_an_appended_claim_from_another_devices_address_neither(place: Place) -> None:
    join(place, HERS)
    join(place, HIS, OTHER, "T1")
    with pytest.raises(OtherDevice):
        appended(place, HIS)
    appended(place, HERS)


def test_a_visit_that_did_not_let_the_device_in_may_only_look(place: Place) -> None:
    place.let_in(place.issue()[0])
    admission = place.standing().admission
    place.open_page(visit="neighbour", source=HIS)
    appended(place, HIS)
    for visit in ("neighbour", "claim"):
        assert place.try_code(place.issue()[0], visit).reason is Reason.IN_BY_OTHER
        with pytest.raises(NotThere):
            place.log_out(visit)
    assert (place.standing().admission, place.standing().going, place.wish()) == (admission, None, None)
    assert count(place, "admission") == 1


def test_also_while_the_device_is_on_its_way_in(place: Place) -> None:
    place.ask()
    place.open_page()
    place.open_page(visit="neighbour", source=HIS)
    place.try_code(place.issue()[0])
    assert place.standing().going is State.INSIDE
    assert place.try_code(place.issue()[0], "neighbour").reason is Reason.IN_BY_OTHER
    assert count(place, "admission") == 1


def test_who_types_the_code_that_it_is_in_by_has_the_rights_of_the_one_that_logged_in(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    admission = place.standing().admission
    place.open_page(visit="second browser", source=HERS)
    assert place.try_code(code, "second browser").reason is Reason.ADMITTED
    assert (place.standing().admission, place.wish()) == (admission, None)  # nothing new began
    place.log_out("second browser")
    assert place.standing().reason is Reason.LOGGED_OUT


def test_a_wrong_code_of_a_visit_that_only_looks_is_a_guess_too(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.open_page(visit="neighbour", source=HIS)
    for number in range(5):
        assert place.try_code(make_code(number), "neighbour").reason is Reason.CODE_UNKNOWN
    assert place.try_code(place.issue()[0], "neighbour").reason is Reason.BARRED_BY_TRIES


def test_the_short_address_lets_in_only_where_guests_arrive_no_other_way(place: Place) -> None:
    join(place, HERS)
    with pytest.raises(NotThere):
        by_address(place, HERS)  # at the door, and this dialect hands out addresses
    assert count(place) == 0
    place.set_dialect(arrives=Arrives.PLAIN)
    assert by_address(place, HERS) == ADDRESS
    assert place.try_code(place.issue()[0], "short").reason is Reason.ADMITTED


def test_nor_for_either_of_two_devices_with_one_address(place: Place) -> None:
    place.set_dialect(arrives=Arrives.PLAIN)
    for number in range(2):
        join(place, "10.0.0.9", PHONE + number, f"S{number}")
    with pytest.raises(NotThere):
        by_address(place, "10.0.0.9")
    place.report(Event.STOP, session="S1", mac=Mac(PHONE + 1), session_time=60)
    by_address(place, "10.0.0.9")  # the other one has left


def test_nor_while_a_device_without_a_known_address_is_at_the_door(place: Place) -> None:
    place.set_dialect(arrives=Arrives.PLAIN)
    join(place, HERS)
    join(place, None, OTHER, "T1")
    with pytest.raises(NotThere):
        by_address(place, HERS)
    place.report(Event.INTERIM, OTHER, "T1", session_time=1, framed_ip=HIS)
    assert by_address(place, HERS) == ADDRESS


def test_elsewhere_it_shows_the_stay_and_logs_out_once_the_code_was_typed(place: Place) -> None:
    code = place.issue()[0]
    place.let_in(code)
    place.report(Event.INTERIM, session_time=1, framed_ip=HERS)
    assert by_address(place, HERS) == LOOK
    assert place.try_code(place.issue()[0], "short").reason is Reason.IN_BY_OTHER
    with pytest.raises(NotThere):
        place.log_out("short")
    assert may_only_look(place, "short")
    assert place.try_code(code, "short").reason is Reason.ADMITTED
    assert not may_only_look(place, "short")
    place.log_out("short")
    place.ask(medium=Medium.REAUTHORISED)
    assert place.standing().state is State.AT_DOOR
    # The address may be another device's by now: what came to look lets nobody in.
    with pytest.raises(NotThere):
        place.try_code(place.issue()[0], "short")


def test_a_visit_that_logged_in_lives_as_long_as_its_admission(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.open_page(visit="looker", source=HIS)
    place.now += 4 * 3600
    real = {name: place.visits[name][0] for name in ("visit-1", "looker")}
    with place.tx() as tx:
        kept = next(one for one in KEPT if one.table == "visit")
        forget(tx.conn, kept, place.now, 0, 100)
    assert visits.find_visit(place.conn, real["looker"], place.now) is None
    assert visits.find_visit(place.conn, real["visit-1"], place.now) is not None
    place.log_out()
    place.now += visits.AFTER_END_S - 1
    assert visits.find_visit(place.conn, real["visit-1"], place.now) is not None  # to read how it ended
    place.now += 2
    assert visits.find_visit(place.conn, real["visit-1"], place.now) is None


def test_a_claim_that_is_over_begins_anew_under_the_same_name(place: Place) -> None:
    place.ask()
    appended(place, HIS)
    first = place.visits["claim"]
    place.now += visiting.VISIT_S + 1
    place.ask()
    appended(place, HIS)
    assert place.visits["claim"] == first
    assert visits.find_visit(place.conn, first[0], place.now) is not None


def test_one_device_has_so_many_guesses_from_all_its_addresses_together(place: Place) -> None:
    """A token says which device it is; where that is only claimed, each visit counts for itself."""
    code = place.issue()[0]
    place.ask()
    guesses = itertools.count()
    for number in range(8):
        place.open_page(visit=f"v{number}", source=f"10.0.9.{number}")
        for _ in range(4):
            last = place.try_code(make_code(next(guesses)), f"v{number}")
    assert count(place, "wrong_try") == DEVICE_TRIES
    assert last.reason is Reason.BARRED_BY_TRIES  # type: ignore[union-attr]
    place.open_page(visit="new", source="10.0.9.99")  # a new address is no fresh start
    assert place.try_code(code, "new").reason is Reason.BARRED_BY_TRIES  # type: ignore[union-attr]
    with place.tx() as tx:
        let_try_again(tx, PHONE, GARDEN)
    assert place.try_code(code, "new").reason is Reason.ADMITTED  # type: ignore[union-attr]


def test_where_the_device_is_only_claimed_each_visit_counts_for_itself(place: Place) -> None:
    place.ask()
    guesses = itertools.count()
    for number in range(4):
        appended(place, f"10.0.9.{number}")
        for _ in range(5):
            tried = place.try_code(make_code(next(guesses)), "claim")
            assert tried.reason is Reason.CODE_UNKNOWN  # type: ignore[union-attr]
    assert count(place, "wrong_try") == 20


def test_an_overheard_token_is_good_for_some_guesses_and_puts_nobody_out(place: Place) -> None:
    """The typing for her device is barred for ten minutes, or until the desk lifts that; who is in stays in."""
    place.ask()
    token = PortalToken(PHONE, WEST, GARDEN, int(place.now) + 2400)
    place.open_page(source=HERS)
    guesses = itertools.count()
    for number in range(12):
        source = f"10.0.9.{number}"
        with place.tx() as tx:
            place.visits["thief"] = visiting.open_by_token(tx, token, None, source), source
        for _ in range(20):
            place.try_code(make_code(next(guesses)), "thief")
    # Twelve sources: after the first tries the others were not even looked up.
    assert count(place, "wrong_try") == DEVICE_TRIES
    assert place.standing().state is State.AT_DOOR
    assert place.try_code(place.issue()[0]).reason is Reason.BARRED_BY_TRIES
    with place.tx() as tx:
        let_try_again(tx, PHONE, GARDEN)
    place.now += BARRED_S
    assert place.try_code(place.issue()[0]).reason is Reason.ADMITTED
