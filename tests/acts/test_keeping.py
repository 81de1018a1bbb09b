"""What is kept for how long, and that all of it goes after that."""

from dataclasses import replace

from lauschen.acts.desk import helping as staff_acts
from lauschen.acts.keeping import SLICE, Keeper
from lauschen.acts.staying.reports import Event
from lauschen.acts.staying.sweep import Sweeper
from lauschen.core.decide.standing import State
from lauschen.core.ids import Mac
from lauschen.store import devices
from lauschen.store.upkeep.keeping import DAY_S, KEPT
from tests.place import GARDEN, OTHER, PHONE, Place

TABLES = ("decision", "event", "visit", "address", "stay", "placement", "admission", "standing", "device")


def counts(place: Place) -> dict[str, int]:
    """Of what concerns devices."""
    found = {
        t: int(place.conn.execute(f"SELECT count(*) FROM {t} WHERE mac IS NOT NULL").fetchone()[0])
        for t in TABLES
    }
    return {table: count for table, count in found.items() if count}


def acts(place: Place) -> int:
    return int(place.conn.execute("SELECT count(*) FROM event WHERE actor = 'person'").fetchone()[0])


def keep(place: Place, days: float = 0.0) -> None:
    """So many days later, once through all tables."""
    place.now += days * DAY_S
    keeper = Keeper()
    for _ in range(3 * len(keeper._tables)):
        with place.tx() as tx:
            keeper.step(tx)


def visit_and_leave(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.now += 60
    place.report(Event.INTERIM, session_time=60, octets_out=1000, framed_ip="10.0.0.9")
    place.log_out()
    place.report(Event.STOP, session_time=61, framed_ip="10.0.0.9")


def test_each_thing_goes_in_its_time(place: Place) -> None:
    visit_and_leave(place)
    assert set(counts(place)) == set(TABLES)
    keep(place, 1.9)
    assert set(counts(place)) == set(TABLES)
    keep(place, 0.3)
    assert set(TABLES) - set(counts(place)) == {"visit"}
    keep(place, 27.7)  # 29.9
    assert "decision" in counts(place)
    keep(place, 0.3)
    assert set(TABLES) - set(counts(place)) == {"visit", "decision"}
    keep(place, 59.7)  # 89.9
    assert "standing" in counts(place)
    keep(place, 0.3)
    assert set(counts(place)) == {"event", "address", "stay", "placement", "admission", "device"}
    keep(place, 89.7)  # 179.9
    assert set(counts(place)) == {"event", "address", "stay", "placement", "admission", "device"}
    keep(place, 0.3)
    assert counts(place) == {}
    assert place.conn.execute("SELECT count(*) FROM credential").fetchone() == (1,)
    keep(place, 549.7)  # 729.9
    assert acts(place) == 1
    keep(place, 0.3)
    assert acts(place) == 0


def test_what_goes_on_is_not_old(place: Place) -> None:
    """A stay that never ended, and the visit that began it; others of the same age behind it do go."""
    place.let_in(place.issue()[0])
    place.let_in(place.issue()[0], OTHER, "T1", "visit-2")
    place.report(Event.STOP, OTHER, "T1", session_time=1)
    keep(place, 200)
    assert counts(place)["stay"] == 1
    assert counts(place)["visit"] == 1
    assert place.standing().state == "inside"


def test_a_device_that_may_come_back_by_its_code_is_remembered(place: Place) -> None:
    plan = next(iter(place.config.plans.values()))
    forever = replace(plan, seconds=None)
    place.config = replace(place.config, plans={**place.config.plans, plan.id: forever})
    code = place.issue()[0]
    place.let_in(code)
    place.report(Event.STOP)
    keep(place, 200)
    assert place.standing().admission is not None
    assert place.ask(session="S9")[0].answer == "admit"
    place.report(Event.STOP, session="S9")
    with place.tx() as tx:
        staff_acts.withdraw(tx, place.voucher(code))
    keep(place, 100)
    assert "standing" not in counts(place)


def test_one_whose_time_ended_while_it_was_away_is_not(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.report(Event.STOP)
    keep(place, 91)
    assert "standing" not in counts(place)
    assert place.conn.execute("SELECT count(*) FROM admission WHERE ended IS NULL").fetchone() == (0,)
    keep(place, 190)
    assert counts(place) == {}


def test_a_barred_device_is_remembered(place: Place) -> None:
    place.ask()
    with place.tx() as tx:
        staff_acts.bar(tx, PHONE, GARDEN)
    place.now += 3000
    with place.tx() as tx:
        Sweeper().sweep(tx)
    keep(place, 400)
    assert counts(place) == {"device": 1}


def test_it_goes_in_slices_and_says_when_there_is_more(place: Place) -> None:
    for number in range(SLICE + 20):
        place.ask(Mac(PHONE + number), f"S{number}")
        place.report(Event.START, Mac(PHONE + number), f"S{number}")
        place.report(Event.STOP, Mac(PHONE + number), f"S{number}", session_time=1)
    place.now += 400 * DAY_S
    keeper = Keeper()
    changes, more = place.conn.total_changes, []
    for _ in range(40):
        with place.tx() as tx:
            more.append(keeper.step(tx))
        # A slice is of one table; the log is two, and counts what it forgets.
        assert place.conn.total_changes - changes <= 2 * SLICE + 2
        changes = place.conn.total_changes
    assert more.count(True) >= 3
    assert counts(place) == {}


def test_ids_are_not_given_again_after_everything_was_forgotten(place: Place) -> None:
    """A visit or a stay that still names one would mean another guest's."""
    visit_and_leave(place)
    last = {
        t: place.conn.execute(f"SELECT max(id) FROM {t}").fetchone()[0]
        for t in ("stay", "admission", "placement")
    }
    keep(place, 200)
    keep(place, 0)
    assert counts(place) == {}
    visit_and_leave(place)
    for table, before in last.items():
        assert place.conn.execute(f"SELECT min(id) FROM {table}").fetchone()[0] > before, table


def test_the_packet_road_forgets_with_it_whom_it_kept_in_memory(place: Place) -> None:
    place.ask()
    place.now += 3000
    with place.tx() as tx:
        Sweeper().sweep(tx)
    place.ask()
    place.now += 3000
    with place.tx() as tx:
        Sweeper().sweep(tx)
    assert place.standing().state == "left"
    keeper = Keeper()
    place.now += 100 * DAY_S
    place.memory.keep(PHONE, GARDEN, devices.load_picture(place.conn, place.config, PHONE, GARDEN)[0])
    for _ in range(2 * len(KEPT)):
        place.run(keeper.step)
    assert place.memory.find(PHONE, GARDEN) is None
    place.ask()
    assert place.standing().state == "at_door"


def test_of_whoever_walked_by_nothing_is_kept_after_a_week(place: Place) -> None:
    for number in range(3):
        mac = Mac(PHONE + number)
        place.ask(mac, f"S{number}")
        place.report(Event.START, mac, f"S{number}")
        place.report(Event.STOP, mac, f"S{number}", framed_ip="10.0.0.9")
    barred, here = Mac(PHONE + 1), Mac(PHONE + 2)
    with place.tx() as tx:
        staff_acts.bar(tx, barred, GARDEN)
    place.report(Event.START, here, "S9")
    keep(place, 6.9)
    tables = ("device", "standing", "stay", "address", "wanted")
    assert all(PHONE in macs_in(place, table) for table in tables)
    keep(place, 0.2)
    for table in tables:
        assert PHONE not in macs_in(place, table), table
    assert macs_in(place, "device") == {barred, here}
    place.ask(PHONE, "S10")  # it is new again
    assert place.standing().state is State.AT_DOOR


def test_whoever_was_let_in_once_is_no_stranger(place: Place) -> None:
    visit_and_leave(place)
    keep(place, 30)
    assert PHONE in macs_in(place, "stay")


def macs_in(place: Place, table: str) -> set[Mac]:
    return {mac for (mac,) in place.conn.execute(f"SELECT mac FROM {table}")}
