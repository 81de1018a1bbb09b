"""Let in always: devices by MAC, wired ports, access devices; by name, with a role of their own, until let go."""

from collections.abc import Callable
from dataclasses import replace

import pytest

from lauschen.acts.config.changes import remove_access_device, remove_role
from lauschen.acts.config.plans import save_plan
from lauschen.acts.config.trusted import remove_trusted, save_trusted
from lauschen.acts.config.ways import offer_ways
from lauschen.acts.desk.helping import bar
from lauschen.acts.staying.reports import Event
from lauschen.acts.staying.sweep import OVER_GRACE_S, Sweeper
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import Mac, PlanId, RoleId, TrustedId
from lauschen.core.limits.hours import Hours
from lauschen.core.limits.plan import Plan
from lauschen.core.ways.always import Always, Trusted
from lauschen.core.ways.voucher import Voucher
from lauschen.demo.site import SSID
from lauschen.road.tx import Tx
from tests.place import BARN, DAY_VISIT, GARDEN, OTHER, PHONE, WEST, Place

STUDENT = RoleId(4)
VISITOR = RoleId(2)


def configure(place: Place, change: Callable[[Tx], object]) -> object:
    with place.tx() as tx:
        made = change(tx)
        tx.reconfigure()
    place.config = tx.config
    return made


@pytest.fixture
def always(place: Place) -> Place:
    """The garden takes vouchers, and whoever is let in always under a plan without an end."""
    plan = configure(place, lambda tx: save_plan(tx, Plan(PlanId(0), "House", None, None, None, 1, None)))
    assert isinstance(plan, int)
    configure(place, lambda tx: offer_ways(tx, GARDEN, [Voucher(), Always(PlanId(plan))]))
    return place


def trust(place: Place, mac: Mac | None = PHONE, role: RoleId | None = STUDENT, **more: object) -> TrustedId:
    one = Trusted(TrustedId(0), "Harp tuner", role, mac, **more)  # type: ignore[arg-type]
    made = configure(place, lambda tx: save_trusted(tx, one))
    assert isinstance(made, int)
    return TrustedId(made)


def sweep(place: Place) -> None:
    place.now += OVER_GRACE_S
    with place.tx() as tx:
        Sweeper().sweep(tx)


def at_port(place: Place, port: str | None, mac: Mac = PHONE) -> Decision:
    arrival = Arrival(Medium.ASKED, mac, WEST, ssid=SSID.encode(), spelled="x", session_id="S1", port_id=port)
    return place.answer(arrival)[0]


def test_a_trusted_device_is_in_at_its_first_request_and_where_its_role_says(always: Place) -> None:
    trust(always)
    decision, picture = always.ask()
    assert (decision.answer, decision.role, decision.good_until) == (Answer.ADMIT, STUDENT, None)
    assert picture.admission is not None
    assert always.standing().state is State.INSIDE
    assert always.ask(OTHER, "T1")[0].answer is Answer.DOOR
    again, _ = always.ask()
    assert (again.answer, again.role) == (Answer.ADMIT, STUDENT)
    assert always.conn.execute("SELECT count(*) FROM admission").fetchone() == (1,)


def test_without_a_role_of_its_own_it_is_placed_by_the_rules(always: Place) -> None:
    trust(always, role=None)
    assert always.ask()[0].reason is Reason.NO_RULE


def test_who_waits_at_the_door_is_let_in_once_it_is_on_the_list(always: Place) -> None:
    always.ask()
    always.report(Event.START)
    trust(always)
    sweep(always)
    assert always.standing().going is State.INSIDE
    assert always.ask(medium=Medium.REAUTHORISED)[0].role == STUDENT


def test_a_device_that_is_not_trusted_is_looked_at_once_and_left(always: Place) -> None:
    always.ask()
    always.conn.execute("UPDATE standing SET reconsider_at = ?", (always.now,))
    sweep(always)
    standing = always.standing()
    assert (standing.state, standing.going, standing.reconsider_at) == (State.AT_DOOR, None, None)


def test_a_role_that_is_changed_reaches_who_is_inside_and_letting_go_ends_it(always: Place) -> None:
    one = trust(always)
    always.ask()
    always.report(Event.START)
    configure(always, lambda tx: save_trusted(tx, Trusted(one, "Tuner", VISITOR, PHONE)))
    sweep(always)
    assert always.ask(medium=Medium.REAUTHORISED)[0].role == VISITOR
    configure(always, lambda tx: remove_trusted(tx, one))
    assert always.standing().going is State.AT_DOOR
    assert always.ask(medium=Medium.REAUTHORISED)[0].answer is Answer.DOOR
    with pytest.raises(NotThere), always.tx() as tx:
        remove_trusted(tx, one)


def test_it_is_let_in_again_when_it_is_taken_up_again(always: Place) -> None:
    one = trust(always)
    always.ask()
    configure(always, lambda tx: remove_trusted(tx, one))
    always.ask()
    trust(always)
    assert always.ask()[0].answer is Answer.ADMIT


def test_a_bar_by_staff_is_stronger_and_wrong_codes_are_not(always: Place) -> None:
    trust(always)
    always.ask()
    with always.tx() as tx:
        tx.conn.execute("UPDATE device SET typing_barred_until = ?", (always.now + 600,))
        tx.memory.forget_all()
    assert always.ask()[0].answer is Answer.ADMIT
    with always.tx() as tx:
        bar(tx, PHONE, GARDEN)
    assert always.ask()[0].reason is Reason.BARRED_BY_STAFF


def test_it_replaces_what_the_device_was_in_by(always: Place) -> None:
    always.let_in(always.issue()[0])
    trust(always)
    always.ask()
    ways = always.conn.execute(
        "SELECT c.way, a.ended IS NULL FROM admission a JOIN allowance w ON w.id = a.allowance"
        " JOIN credential c ON c.id = w.credential ORDER BY a.id"
    ).fetchall()
    assert ways == [("voucher", 0), ("always", 1)]


def test_where_a_network_does_not_take_it_nobody_is_let_in_by_it(place: Place) -> None:
    trust(place)
    assert place.ask()[0].reason is Reason.NEEDS_CODE


def test_while_it_is_switched_off_nobody_new_is_let_in_by_it(always: Place) -> None:
    (plan,) = [way.plan for way in always.config.networks[GARDEN].ways if isinstance(way, Always)]
    configure(always, lambda tx: offer_ways(tx, GARDEN, [Always(plan, is_off=True)]))
    trust(always)
    assert always.ask()[0].reason is Reason.NEEDS_CODE


def test_whatever_is_behind_a_trusted_port_is_in_and_elsewhere_it_is_asked(always: Place) -> None:
    trust(always, mac=None, access_device=WEST, port="ge-0/0/7")
    assert at_port(always, "ge-0/0/7").role == STUDENT
    assert at_port(always, "ge-0/0/7", OTHER).role == STUDENT
    assert at_port(always, "ge-0/0/8", Mac(PHONE + 9)).answer is Answer.DOOR
    moved = at_port(always, "ge-0/0/8")  # the same device, plugged in elsewhere
    assert (moved.answer, moved.reason) == (Answer.DOOR, Reason.NEEDS_CODE)
    assert always.standing().admission is None
    assert at_port(always, "ge-0/0/7").answer is Answer.ADMIT


def test_all_of_an_access_device_can_be_trusted_and_a_device_comes_before_its_port(always: Place) -> None:
    trust(always, mac=None, access_device=BARN, role=VISITOR)
    assert always.ask(at=BARN)[0].role == VISITOR
    assert always.ask(OTHER, "T1")[0].answer is Answer.DOOR
    trust(always)
    assert always.ask(at=BARN)[0].role == STUDENT


@pytest.mark.parametrize(
    ("one", "code"),
    [
        (Trusted(TrustedId(0), " ", None, PHONE), "trusted_name"),
        (Trusted(TrustedId(0), "x" * 61, None, PHONE), "trusted_name"),
        (Trusted(TrustedId(0), "All", None, Mac(0xFFFFFFFFFFFF)), "trusted_mac"),
        (Trusted(TrustedId(0), "Group", None, Mac(0x01005E000001)), "trusted_mac"),
        (Trusted(TrustedId(0), "Door", RoleId(1), PHONE), "rule_role"),
        (Trusted(TrustedId(0), "Gone", RoleId(99), PHONE), "rule_role"),
        (Trusted(TrustedId(0), "Nothing", None), "access_device"),
        (Trusted(TrustedId(0), "Port", None, None, WEST, "p" * 254), "trusted_port"),
    ],
)
def test_what_cannot_be_trusted_names_its_field(always: Place, one: Trusted, code: str) -> None:
    with pytest.raises(Invalid) as refused, always.tx() as tx:
        save_trusted(tx, one)
    assert refused.value.code == code


def test_the_same_twice_is_refused(always: Place) -> None:
    trust(always)
    with pytest.raises(Invalid):
        trust(always)


def test_a_plan_that_is_used_up_is_none_for_always(always: Place) -> None:
    with pytest.raises(Invalid) as refused, always.tx() as tx:
        offer_ways(tx, GARDEN, [Always(DAY_VISIT)])
    assert refused.value.code == "way_plan_ends"


def test_what_the_list_needs_is_not_removed(always: Place) -> None:
    trust(always, mac=None, access_device=BARN, role=STUDENT)
    for remove in (lambda tx: remove_access_device(tx, BARN), lambda tx: remove_role(tx, STUDENT)):
        with pytest.raises(Invalid), always.tx() as tx:
            remove(tx)


def test_a_trust_that_is_closed_now_takes_nothing_else_away(always: Place) -> None:
    code = always.issue()[0]
    always.let_in(code)
    (plan,) = [way.plan for way in always.config.networks[GARDEN].ways if isinstance(way, Always)]
    never = Hours(always.config.zone, ((),) * 7)
    trust(always)
    closed_plan = replace(always.config.plans[plan], hours=never)
    configure(always, lambda tx: save_plan(tx, closed_plan))
    assert always.ask()[0].answer is Answer.ADMIT  # by its voucher
    configure(always, lambda tx: save_plan(tx, replace(closed_plan, hours=None)))
    ways = [Voucher(), Always(plan, hours=never)]
    configure(always, lambda tx: offer_ways(tx, GARDEN, ways))
    assert always.ask()[0].answer is Answer.ADMIT
    assert always.conn.execute("SELECT count(*) FROM admission").fetchone() == (1,)


def test_a_trusted_device_is_never_forgotten(always: Place) -> None:
    (plan,) = [way.plan for way in always.config.networks[GARDEN].ways if isinstance(way, Always)]
    configure(always, lambda tx: offer_ways(tx, GARDEN, [Always(plan, remember_minutes=0)]))
    trust(always)
    always.ask()
    always.report(Event.START)
    always.report(Event.STOP, session_time=100)
    always.now += 86_400
    assert always.ask(session="S2")[0].answer is Answer.ADMIT
