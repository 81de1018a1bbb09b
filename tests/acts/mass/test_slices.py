"""Work on many devices goes in slices: what comes between two of them is not taken for old."""

from collections.abc import Iterator
from dataclasses import replace

import pytest

from lauschen.acts.config.pauses import pause_network
from lauschen.acts.config.plans import save_plan
from lauschen.acts.desk import helping, reaching
from lauschen.acts.desk.pausing import pause, resume
from lauschen.acts.desk.undoing import restore
from lauschen.acts.mass import intents as mass
from lauschen.acts.mass.slices import do_slice
from lauschen.acts.moving.moves import end_stay
from lauschen.acts.staying import everybody
from lauschen.acts.staying.reconsidering import reconsider
from lauschen.acts.staying.reports import Event
from lauschen.core.decide.decision import Decision
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.ids import CredentialId, Mac
from lauschen.road import slices
from lauschen.road.slices import AGAIN_S
from lauschen.road.tx import Tx
from lauschen.store import stays
from lauschen.store.moving import intents
from tests.place import DAY_VISIT, GARDEN, PHONE, WEST, Place

MANY = 6


@pytest.fixture(autouse=True)
def one_at_a_time(monkeypatch: pytest.MonkeyPatch) -> None:
    """Each slice has time for a single item."""
    monkeypatch.setattr(slices, "SLICE_S", 0.0)


@pytest.fixture
def code(place: Place) -> str:
    """A code by which many devices are inside."""
    place.conn.execute("UPDATE plan SET devices = ?", (MANY,))
    place.reload()
    code = place.issue()[0]
    for number in range(MANY):
        place.let_in(code, mac(number), f"S{number}", f"v{number}")
    return code


def mac(number: int) -> Mac:
    return Mac(PHONE + number)


def going(place: Place) -> list[State | None]:
    return [place.standing(mac(number)).going for number in range(MANY)]


def states(place: Place) -> list[State]:
    return [place.standing(mac(number)).state for number in range(MANY)]


def slice_(place: Place) -> bool:
    return place.run(do_slice)


def do_all(place: Place) -> None:
    while slice_(place):
        pass
    assert place.conn.execute("SELECT count(*) FROM intent").fetchone() == (0,)
    assert place.conn.execute("SELECT count(*) FROM intent_progress").fetchone() == (0,)


def withdraw(place: Place, credential: CredentialId) -> bool:
    return place.run(lambda tx: helping.withdraw(tx, credential))


AT_DOOR, INSIDE, LEFT, HELD = State.AT_DOOR, State.INSIDE, State.LEFT, State.HELD


def test_a_code_of_many_is_withdrawn_at_once_and_reaches_its_devices_in_slices(
    place: Place, code: str
) -> None:
    assert withdraw(place, place.voucher(code))
    assert going(place) == [AT_DOOR] + [None] * (MANY - 1)
    assert place.grant(code).use.withdrawn_at == place.now  # type: ignore[union-attr]
    slice_(place)
    assert going(place) == [AT_DOOR] * 2 + [None] * (MANY - 2)
    do_all(place)
    assert going(place) == [AT_DOOR] * MANY


def test_a_restart_goes_on_where_it_stopped(place: Place, code: str) -> None:
    withdraw(place, place.voucher(code))
    place.restart()
    do_all(place)
    assert going(place) == [AT_DOOR] * MANY


def test_what_is_taken_back_between_two_slices_sends_nobody_else_out(place: Place, code: str) -> None:
    credential = place.voucher(code)
    withdraw(place, credential)
    slice_(place)
    place.run(lambda tx: restore(tx, credential))
    do_all(place)
    assert going(place) == [None] * MANY
    assert states(place) == [INSIDE] * MANY


def test_a_second_withdrawal_between_slices_reaches_those_who_were_let_in_again(
    place: Place, code: str
) -> None:
    credential = place.voucher(code)
    withdraw(place, credential)
    assert not withdraw(place, credential)  # it was, before; what is under way goes on
    slice_(place)
    place.run(lambda tx: restore(tx, credential))
    assert withdraw(place, credential)
    do_all(place)
    assert going(place) == [AT_DOOR] * MANY


def test_a_pause_that_is_resumed_between_slices_holds_nobody(place: Place, code: str) -> None:
    credential = place.voucher(code)
    place.run(lambda tx: pause(tx, credential))
    assert going(place).count(HELD) == 1
    place.run(lambda tx: resume(tx, credential))
    do_all(place)
    assert going(place) == [None] * MANY


def test_time_given_while_a_pause_is_under_way_lets_nobody_stay(place: Place, code: str) -> None:
    credential = place.voucher(code)
    place.run(lambda tx: pause(tx, credential))
    place.run(lambda tx: helping.give_time(tx, credential, 3600))
    do_all(place)
    assert going(place) == [HELD] * MANY


def test_time_that_is_given_reaches_all(place: Place, code: str) -> None:
    credential = place.voucher(code)
    before = place.standing(mac(MANY - 1)).reconsider_at
    place.run(lambda tx: helping.give_time(tx, credential, 3600))
    do_all(place)
    ends = {place.standing(mac(number)).reconsider_at for number in range(MANY)}
    assert before is not None
    assert ends == {before + 3600}


def test_one_that_raises_is_tried_again_and_keeps_no_other(
    place: Place, code: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    def ill(tx: Tx, standing: Standing, reason: Reason) -> None:
        if standing.mac == mac(2):
            raise KeyError("bug")
        end_stay(tx, standing, reason)

    with monkeypatch.context() as patched:
        patched.setattr(reaching, "end_stay", ill)
        withdraw(place, place.voucher(code))
        while slice_(place):
            pass
    assert going(place) == [AT_DOOR, AT_DOOR, None] + [AT_DOOR] * (MANY - 3)
    assert place.faults.kinds["mass"].reason.startswith("02-00-00-AA-BB-03: ")
    place.now += AGAIN_S
    do_all(place)
    assert going(place) == [AT_DOOR] * MANY


@pytest.fixture
def restarting(place: Place, code: str) -> Iterator[Place]:
    """The access point of many stays said that it began anew; one of them is closed so far."""
    place.now += 60
    place.report(Event.ON, mac=None, session="")
    assert place.memory.restarting == {WEST}
    assert states(place) == [LEFT] + [INSIDE] * (MANY - 1)
    place.now += 1
    yield place
    assert place.memory.restarting == frozenset()


def closed(place: Place) -> list[int]:
    rows = place.conn.execute(
        "SELECT mac FROM stay WHERE end_cause = 'device_restarted' ORDER BY mac"
    ).fetchall()
    return [row[0] - PHONE for row in rows]


def test_an_access_device_that_restarts_closes_its_stays_in_slices(restarting: Place) -> None:
    restarting.restart()
    restarting.memory.restarting = intents.restarting(restarting.conn)
    do_all(restarting)
    assert states(restarting) == [LEFT] * MANY
    assert closed(restarting) == list(range(MANY))
    said = restarting.conn.execute("SELECT facts FROM event WHERE kind = 'device_on'").fetchall()
    assert said == [(f'{{"closed": {MANY}}}',)]


@pytest.mark.parametrize("session", ["S4", "T4"])
def test_a_device_that_is_back_between_two_slices_stays(restarting: Place, session: str) -> None:
    restarting.ask(mac(4), session)
    restarting.report(Event.START, mac(4), session)
    do_all(restarting)
    assert states(restarting) == [LEFT] * 4 + [INSIDE, LEFT]
    open_ones = [stay.started for stay in stays.stays_of(restarting.conn, mac(4), 9) if stay.ended is None]
    assert open_ones == [restarting.now]
    assert closed(restarting) == list(range(MANY))


def test_a_device_that_asked_and_did_not_begin_yet_is_not_put_out(restarting: Place) -> None:
    restarting.ask(mac(4), "S4")
    do_all(restarting)
    assert states(restarting) == [LEFT] * 4 + [INSIDE, LEFT]


@pytest.mark.parametrize("session", ["S4", "T4"])
def test_one_that_begins_without_asking_is_closed_first(restarting: Place, session: str) -> None:
    """Its access point remembered the answer: what it had before is over, and it is back."""
    restarting.report(Event.START, mac(4), session)
    assert closed(restarting) == [0, 4]
    do_all(restarting)
    assert states(restarting) == [LEFT] * 4 + [INSIDE, LEFT]


def test_a_late_report_between_two_slices_is_counted_and_opens_nothing(restarting: Place) -> None:
    restarting.report(Event.INTERIM, mac(4), "S4", session_time=60, octets_out=700)
    do_all(restarting)
    assert closed(restarting) == list(range(MANY))
    (stay,) = stays.stays_of(restarting.conn, mac(4), 9)
    assert stay.octets_out.total == 700


def test_everybody_by_a_plan_is_looked_at_again_once_it_changed(place: Place, code: str) -> None:
    """Walked in slices; one that raises is tried again, and a restart goes on."""
    shorter = replace(place.config.plans[DAY_VISIT], seconds=60, devices=MANY)
    place.now += 120

    def save(tx: Tx) -> None:
        save_plan(tx, shorter)
        tx.reconfigure()

    place.run(save)
    place.reload()
    assert going(place) == [None] * MANY  # nothing before the change is in force
    slice_(place)
    assert going(place) == [HELD] + [None] * (MANY - 1)
    place.restart()
    do_all(place)
    assert going(place) == [HELD] * MANY


def test_one_that_raises_on_a_walk_is_tried_again(
    place: Place, code: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    def ill(tx: Tx, standing: Standing) -> Decision:
        if standing.mac == mac(2):
            raise KeyError("bug")
        return reconsider(tx, standing)

    with monkeypatch.context() as patched:
        patched.setattr(everybody, "reconsider", ill)
        place.run(lambda tx: pause_network(tx, GARDEN, until=None, why="", ends_stays=True))
        place.reload()
        while slice_(place):
            pass
    assert going(place) == [AT_DOOR, AT_DOOR, None] + [AT_DOOR] * (MANY - 3)
    place.now += AGAIN_S
    do_all(place)
    assert going(place) == [AT_DOOR] * MANY


def test_a_walk_gets_past_a_device_on_many_networks(
    place: Place, code: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """More than are read at once: it is looked at whole, and the walk goes on behind it."""
    monkeypatch.setattr(mass, "WALKED_AT_ONCE", 1)
    place.run(lambda tx: pause_network(tx, GARDEN, until=None, why="", ends_stays=True))
    place.reload()
    for _ in range(2 * MANY):
        slice_(place)
    assert going(place) == [AT_DOOR] * MANY
